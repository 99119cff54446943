import { existsSync, mkdirSync, readFileSync, readlinkSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import lockfile from 'proper-lockfile'

/** Thrown when another process has the database folder open. */
export class FolderInUse extends Error {
  constructor(folder: string) {
    super(
      `The database folder ${folder} is in use by another process. Stop that process first, or choose another folder with LANTERN_DATA.`,
    )
  }
}

/** A holder that has not shown itself for this long is dead. */
const STALE_MS = 10_000
const HEARTBEAT_MS = 2_000

/**
 * The heartbeat has a thread of its own: work that stops the event loop for seconds must not look like a
 * death. It is a text because the build puts all code into files whose names nobody knows beforehand.
 */
const HEARTBEAT = `
const { parentPort, workerData } = require('node:worker_threads')
const lockfile = require(workerData.library)
const { folder, options } = workerData
lockfile.lock(folder, { ...options, onCompromised: error => parentPort.postMessage({ lost: error.message }) }).then(
  (release) => {
    parentPort.postMessage({ locked: true })
    parentPort.once('message', () => release().catch(() => null).then(() => parentPort.postMessage({ released: true })))
  },
  error => parentPort.postMessage({ failed: error.code || 'ERROR', message: error.message }),
)`

type Message = { locked: true } | { released: true } | { lost: string } | { failed: string; message: string }

/** Who holds the lock, so that the death of a process of the same machine is noticed at once. */
interface Holder {
  boot: string
  namespace: string
  pid: number
  started: string
}

/**
 * The start of a process in clock ticks: tells two processes with one number apart. Empty when there is no
 * such process.
 */
function startOf(pid: number): string {
  try {
    return readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')[19]!
  } catch {
    // No such process.
    return ''
  }
}

function thisProcess(): Holder | null {
  try {
    return {
      boot: readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim(),
      namespace: readlinkSync('/proc/self/ns/pid'),
      pid: process.pid,
      started: startOf(process.pid),
    }
  } catch {
    // Not Linux: the heartbeat alone decides.
    return null
  }
}

/**
 * What is known of the holder of the lock. A process number says something only within one run of one kernel
 * and one container; everywhere else its state is unknown, and the heartbeat decides.
 */
function holderState(file: string): 'dead' | 'alive' | 'unknown' {
  const own = thisProcess()
  if (!own || !existsSync(file)) return 'unknown'
  let holder: Partial<Holder> | null
  try {
    holder = JSON.parse(readFileSync(file, 'utf8')) as Partial<Holder> | null
  } catch {
    // Cut off by a power cut: the heartbeat decides.
    return 'unknown'
  }
  const isComparable = holder?.boot === own.boot && holder.namespace === own.namespace && Boolean(holder.pid)
  if (!isComparable) return 'unknown'
  return startOf(holder!.pid!) === holder!.started ? 'alive' : 'dead'
}

/**
 * Locks the folder of a database for this process. The lock shows a heartbeat in the folder itself, so that
 * it means the same in every container and on every machine that shares the folder.
 *
 * @param onLost called when another process took the lock: this one must not write any more
 * @returns gives the lock back
 * @throws FolderInUse when the holder is alive; a dead one's lock is taken over, at the latest after 12
 *   seconds
 */
export async function lockFolder(
  folder: string,
  onLost: (reason: string) => void = () => {},
): Promise<() => Promise<void>> {
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  const lock = join(folder, 'in-use.lock')
  const holderFile = join(folder, 'in-use.json')
  const options = { lockfilePath: lock, stale: STALE_MS, update: HEARTBEAT_MS, realpath: false, retries: 0 }
  const state = holderState(holderFile)
  if (state === 'alive' && (await lockfile.check(folder, options))) throw new FolderInUse(folder)
  const takesOver = state === 'dead'
  if (takesOver) rmSync(lock, { recursive: true, force: true })

  // From where the process was started: the build puts this code into a file that does not know its own place
  // yet.
  const library = createRequire(process.argv[1] ?? join(process.cwd(), 'index.js')).resolve('proper-lockfile')
  const attempt = () =>
    new Promise<{ worker: Worker; answer: Message }>((resolve, reject) => {
      const worker = new Worker(HEARTBEAT, { eval: true, workerData: { library, folder, options } })
      worker.once('message', (answer: Message) => resolve({ worker, answer }))
      worker.once('error', reject)
    })
  let { worker, answer } = await attempt()
  // A lock that nobody refreshes is a dead holder's: wait until that is certain.
  for (
    const end = performance.now() + STALE_MS + HEARTBEAT_MS;
    'failed' in answer && performance.now() < end;
  ) {
    await worker.terminate()
    if (answer.failed !== 'ELOCKED')
      throw new Error(`The folder ${folder} cannot be locked: ${answer.message}`)
    await new Promise(resolve => {
      setTimeout(resolve, 500)
    })
    ;({ worker, answer } = await attempt())
  }
  if ('failed' in answer) {
    await worker.terminate()
    throw new FolderInUse(folder)
  }
  const own = JSON.stringify(thisProcess())
  writeFileSync(holderFile, own)
  if (takesOver) {
    // Two that start at once may both have removed the dead holder's lock. The one that wrote last has it.
    await new Promise(resolve => {
      setTimeout(resolve, 200)
    })
    if (readFileSync(holderFile, 'utf8') !== own) {
      await worker.terminate()
      throw new FolderInUse(folder)
    }
  }
  worker.unref()
  worker.on('message', (message: Message) => {
    if ('lost' in message) onLost(message.lost)
  })
  return async () => {
    worker.ref()
    await new Promise<void>(resolve => {
      worker.on('message', (message: Message) => {
        if ('released' in message) resolve()
      })
      worker.postMessage('release')
    })
    await worker.terminate()
    rmSync(holderFile, { force: true })
  }
}
