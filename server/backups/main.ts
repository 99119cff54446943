import { existsSync, readFileSync, statSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { closeDatabase, database, dataFolder } from '../database'
import { backupsOf } from '../database/data-folder'
import { FolderInUse } from '../database/folder-lock'
import { CannotMove } from '../moving/tables'
import { announceBackup, CannotAnnounce } from './announce'
import { makeBackup } from './backup'
import { CannotRestore } from './pack'
import { restoreFolder, restoreServer } from './restore'

/**
 * `npm run backup`, `npm run restore -- <file>`: of the installation of LANTERN_DATA or DATABASE_URL.
 * `npm run backup -- --began <instant>` makes none, and notes one that the tools of the server have made.
 */
const [act, file, instant = ''] = process.argv.slice(2)
const say = (sentence: string) => process.stdout.write(`${sentence}\n`)
const megabytes = (bytes: number) => `${(bytes / 1_000_000).toFixed(1)} MB`

/** How long a running server may take for a backup that it is asked for. */
const LONGEST_MS = 30 * 60_000
const LOOK_MS = 500

/** Asks the server that has the folder open, and waits for its backup. @throws CannotRestore where it cannot be asked */
async function askServer(data: string): Promise<string> {
  const holder = join(data, 'in-use.json')
  const { pid } = existsSync(holder)
    ? (JSON.parse(readFileSync(holder, 'utf8')) as { pid?: number })
    : { pid: undefined }
  const cannot = new CannotRestore(
    `The server of ${data} cannot be asked from here. Ask for a backup under Jobs, or run this beside the server.`,
  )
  if (!pid) throw cannot
  const before = new Set(backupsOf(data))
  try {
    process.kill(pid, 'SIGUSR2')
  } catch {
    // It runs in another container, or as somebody else.
    throw cannot
  }
  for (let waited = 0; waited < LONGEST_MS; waited += LOOK_MS) {
    await setTimeout(LOOK_MS)
    const [made] = backupsOf(data).filter(one => !before.has(one))
    if (made) return made
  }
  throw new CannotRestore('The server made no backup. Its log says why.')
}

async function backUp(): Promise<void> {
  const own = await makeBackup(dataFolder()).catch((error: unknown) => {
    if (error instanceof FolderInUse) return null
    throw error
  })
  if (own) {
    await closeDatabase()
    say(`The backup is ${own.place} (${megabytes(own.bytes)}).`)
    return
  }
  const place = await askServer(resolve(dataFolder()))
  say(`The server made the backup ${place} (${megabytes(statSync(place).size)}).`)
}

async function announce(began: string): Promise<void> {
  try {
    const noted = await announceBackup(await database(), began)
    say(`Noted: devices give up what was confirmed to them before ${noted}.`)
  } finally {
    await closeDatabase()
  }
}

async function restore(from: string): Promise<void> {
  if (process.env.DATABASE_URL) {
    await restoreServer(from, process.env.DATABASE_URL, join(tmpdir(), `lantern-restore-${process.pid}`))
    say(`The backup ${from} is in place.`)
  } else {
    const aside = await restoreFolder(from, dataFolder())
    if (aside) say(`The database that was there is kept as ${aside}`)
    say(`The backup ${from} is in place.`)
  }
  say('Start the server: devices will send again what came after it.')
}

try {
  if (act === 'backup' && file === '--began') await announce(instant)
  else if (act === 'backup') await backUp()
  else if (act === 'restore' && file) await restore(resolve(file))
  else
    throw new CannotRestore('Name the backup: npm run restore -- /srv/lantern/backups/2026-11-09T104500Z.zip')
} catch (error) {
  if (![CannotRestore, CannotMove, CannotAnnounce, FolderInUse].some(kind => error instanceof kind))
    throw error
  process.stderr.write(`${(error as Error).message}\n`)
  process.exitCode = 1
}
