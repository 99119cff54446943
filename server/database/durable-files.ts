import { closeSync, fsync, fsyncSync, openSync, readdirSync } from 'node:fs'
import { join } from 'node:path'
import { promisify } from 'node:util'
import type { PGlite } from '@electric-sql/pglite'
import { NodeFS } from '@electric-sql/pglite/nodefs'

/** An open file as the engine's file layer (Emscripten's NODEFS) describes it. */
interface OpenFile {
  nfd: number
  node: object
}

/** The part of Emscripten's NODEFS that is replaced here. */
interface NodeFiles {
  realPath(node: object): string
  stream_ops: {
    fsync?(file: OpenFile): number
    write(file: OpenFile, buffer: Uint8Array, offset: number, length: number, position: number): number
  }
}
type EngineOptions = Parameters<NodeFS['init']>[1]

const LOG_FOLDER = '/pg_wal/'
const syncFile = promisify(fsync)

/** The disk did not write what it was given. Nothing that was confirmed after this can be trusted. */
export class DiskFailed extends Error {}

/**
 * The engine's files on a disk, written through to it. PGlite runs PostgreSQL with `fsync` on, but its file
 * layer has no `fsync`: this class gives it one.
 *
 * Files of the write-ahead log are synced by {@link sync}, outside the event loop, once for all commits that
 * wait. Every other file is synced at once, and no byte is written to one before the log that describes it is
 * on the disk: that is PostgreSQL's own rule, and what makes recovery after a power cut possible.
 */
export class DurableFiles extends NodeFS {
  /** Log files that were written since they were last synced: a descriptor of our own for each path. */
  private pending = new Map<string, number>()
  /** The descriptors that {@link running} syncs. */
  private syncing: number[] = []
  private running: Promise<void> | undefined
  private next: Promise<void> | undefined
  private failure: DiskFailed | undefined

  override async init(pg: PGlite, options: EngineOptions) {
    const started = await super.init(pg, options)
    started.emscriptenOpts.preRun!.push((engine: unknown) => {
      this.writeThrough((engine as { NODEFS: NodeFiles }).NODEFS)
    })
    return started
  }

  private writeThrough(files: NodeFiles): void {
    const { write } = files.stream_ops
    files.stream_ops.fsync = file => {
      const path = files.realPath(file.node)
      if (path.includes(LOG_FOLDER)) {
        // The engine may close its descriptor before the sync runs.
        if (!this.pending.has(path)) this.pending.set(path, openSync(path, 'r'))
      } else {
        this.syncLogNow()
        this.attempt(() => fsyncSync(file.nfd))
      }
      return 0
    }
    files.stream_ops.write = (file, ...rest) => {
      if (!files.realPath(file.node).includes(LOG_FOLDER)) this.syncLogNow()
      return write(file, ...rest)
    }
  }

  /**
   * Returns when everything that the engine has committed so far is on the disk.
   * @throws DiskFailed now and ever after, when the disk refused once: a second try would not bring the data
   *   back.
   */
  async sync(): Promise<void> {
    if (this.failure) throw this.failure
    if (!this.pending.size) return this.running
    if (!this.running) return this.start()
    // The running sync may have begun before the last commit: wait for the one after it, with everybody else.
    this.next ??= this.running.then(() => {
      this.next = undefined
      return this.start()
    })
    return this.next
  }

  private start(): Promise<void> {
    this.syncing = [...this.pending.values()]
    this.pending = new Map()
    this.running = Promise.all(this.syncing.map(file => syncFile(file)))
      .then(
        () => undefined,
        (error: unknown) => this.fail(error),
      )
      .finally(() => {
        this.syncing.forEach(closeSync)
        this.syncing = []
        this.running = undefined
      })
    return this.running
  }

  /** Syncs the log at once, also what a running sync has not finished. */
  private syncLogNow(): void {
    if (!this.pending.size && !this.syncing.length) return
    const own = [...this.pending.values()]
    this.pending = new Map()
    for (const file of [...own, ...this.syncing]) this.attempt(() => fsyncSync(file))
    own.forEach(closeSync)
  }

  private attempt(work: () => void): void {
    try {
      work()
    } catch (error) {
      this.fail(error)
    }
  }

  private fail(error: unknown): never {
    this.failure ??= new DiskFailed(`The disk did not store what was written to it: ${String(error)}`)
    throw this.failure
  }
}

/** Syncs one file, or the list of names in one folder. */
export function syncPath(path: string): void {
  const file = openSync(path, 'r')
  try {
    fsyncSync(file)
  } finally {
    closeSync(file)
  }
}

/** Syncs a folder with everything in it: after it was made or copied as a whole. */
export function syncFolder(folder: string): void {
  for (const entry of readdirSync(folder, { recursive: true, withFileTypes: true })) {
    if (entry.isFile() || entry.isDirectory()) syncPath(join(entry.parentPath, entry.name))
  }
  syncPath(folder)
}
