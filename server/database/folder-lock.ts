import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** Thrown when another process has the database folder open. */
export class FolderInUse extends Error {
  constructor(folder: string, readonly pid: number) {
    super(`The database folder ${folder} is in use by process ${pid}. Stop that process first, or choose another folder with LANTERN_DATA.`)
  }
}

function isRunning(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  }
  catch (error) {
    // EPERM: it runs, and belongs to somebody else.
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}

/**
 * Takes the lock file of a database folder: only one process may open it. A lock whose process is gone is stale and
 * is taken over.
 * @returns a function that gives the lock back.
 * @throws FolderInUse
 */
export function lockFolder(folder: string): () => void {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const file = join(folder, 'lantern.lock')
  for (let attempt = 0; attempt < 3; attempt++) {
    try {
      writeFileSync(file, `${process.pid}\n`, { flag: 'wx' })
      return () => rmSync(file, { force: true })
    }
    catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error
    }
    const pid = Number.parseInt(readFileSync(file, 'utf8'), 10)
    if (Number.isInteger(pid) && pid !== process.pid && isRunning(pid)) throw new FolderInUse(folder, pid)
    rmSync(file, { force: true })
  }
  throw new Error(`The lock file ${file} could not be taken.`)
}
