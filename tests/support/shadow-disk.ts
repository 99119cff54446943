import fs from 'node:fs'
import { syncBuiltinESMExports } from 'node:module'
import { dirname, join } from 'node:path'

/** A sector is written whole or not at all; a page of the database is sixteen of them. */
const SECTOR = 512

interface Write {
  position: number
  data: Buffer
}
interface File {
  synced: Buffer
  writes: (Write | { size: number })[]
}
type NameChange =
  | { kind: 'put'; path: string; file: File }
  | { kind: 'remove'; path: string }
  | { kind: 'rename'; from: string; to: string }
  | { kind: 'folder'; path: string }

/** The calls that are listened to. */
const LISTENED = [
  'openSync',
  'closeSync',
  'writeSync',
  'writeFileSync',
  'ftruncateSync',
  'truncateSync',
  'fsyncSync',
  'fsync',
  'renameSync',
  'unlinkSync',
  'mkdirSync',
] as const

/**
 * What a power cut would leave of a folder. It listens to every call that this process makes to the file
 * system, and knows of each file what was synced and what was only written.
 *
 * The model: what was synced is there. Of what was written since, any sector may be there or not. Changes of
 * names go into a journal that keeps their order (as in ext4 and XFS); a sync brings the journal up to its
 * moment to the disk.
 */
export class ShadowDisk {
  private readonly files = new Map<string, File>()
  private readonly opened = new Map<number, File>()
  private readonly names: NameChange[] = []
  private durableNames = 0
  private readonly originals = { ...fs }
  private readonly start = new Map<string, File>()
  private readonly startFolders: string[] = []

  /** Begins to listen. Everything that is in the folder now counts as synced. */
  constructor(private readonly root: string) {
    for (const entry of fs.readdirSync(root, { recursive: true, withFileTypes: true })) {
      const path = join(entry.parentPath, entry.name)
      if (entry.isDirectory()) this.startFolders.push(path)
      else if (entry.isFile()) this.start.set(path, { synced: fs.readFileSync(path), writes: [] })
    }
    for (const [path, file] of this.start) this.files.set(path, file)
    this.listen()
  }

  private isMine = (path: unknown): path is string => typeof path === 'string' && path.startsWith(this.root)

  private note(change: NameChange): void {
    this.names.push(change)
  }

  private listen(): void {
    const real = this.originals
    const patched = fs as unknown as Record<string, unknown>
    patched.openSync = (path: string, flags: string | number, ...rest: []) => {
      const isNew = this.isMine(path) && !real.existsSync(path)
      const handle = real.openSync(path, flags, ...rest)
      if (!this.isMine(path) || real.fstatSync(handle).isDirectory()) {
        // The sync of a folder makes its names durable.
        if (this.isMine(path)) this.opened.set(handle, { synced: Buffer.alloc(0), writes: [] })
        return handle
      }
      if (isNew) this.put(path)
      const file = this.files.get(path)!
      const truncates = typeof flags === 'number' ? flags & fs.constants.O_TRUNC : flags.startsWith('w')
      if (truncates && !isNew) file.writes.push({ size: 0 })
      this.opened.set(handle, file)
      return handle
    }
    patched.closeSync = (handle: number) => {
      this.opened.delete(handle)
      real.closeSync(handle)
    }
    patched.writeSync = (
      handle: number,
      buffer: Uint8Array,
      offset: number,
      length: number,
      position: number,
    ) => {
      const written = real.writeSync(handle, buffer, offset, length, position)
      this.opened
        .get(handle)
        ?.writes.push({ position, data: Buffer.from(buffer.subarray(offset, offset + written)) })
      return written
    }
    patched.writeFileSync = (path: string, data: string | Uint8Array, ...rest: []) => {
      const isNew = this.isMine(path) && !real.existsSync(path)
      real.writeFileSync(path, data, ...rest)
      if (!this.isMine(path)) return
      if (isNew) this.put(path)
      this.files.get(path)!.writes.push({ size: 0 }, { position: 0, data: Buffer.from(data as Uint8Array) })
    }
    patched.ftruncateSync = (handle: number, size: number) => {
      real.ftruncateSync(handle, size)
      this.opened.get(handle)?.writes.push({ size })
    }
    patched.truncateSync = (path: string, size: number) => {
      real.truncateSync(path, size)
      this.files.get(path)?.writes.push({ size })
    }
    patched.fsyncSync = (handle: number) => {
      real.fsyncSync(handle)
      this.synced(this.opened.get(handle), this.opened.get(handle)?.writes.length ?? 0, this.names.length)
    }
    patched.fsync = (handle: number, done: (error: Error | null) => void) => {
      const file = this.opened.get(handle)
      const [writes, names] = [file?.writes.length ?? 0, this.names.length]
      real.fsync(handle, error => {
        if (!error) this.synced(file, writes, names)
        done(error)
      })
    }
    patched.renameSync = (from: string, to: string) => {
      real.renameSync(from, to)
      if (!this.isMine(from)) return
      this.files.set(to, this.files.get(from)!)
      this.files.delete(from)
      this.note({ kind: 'rename', from, to })
    }
    patched.unlinkSync = (path: string) => {
      real.unlinkSync(path)
      if (!this.isMine(path)) return
      this.files.delete(path)
      this.note({ kind: 'remove', path })
    }
    patched.mkdirSync = (path: string, ...rest: []) => {
      const made = real.mkdirSync(path, ...rest)
      if (this.isMine(path)) this.note({ kind: 'folder', path })
      return made
    }
    syncBuiltinESMExports()
  }

  private put(path: string): void {
    const file: File = { synced: Buffer.alloc(0), writes: [] }
    this.files.set(path, file)
    this.note({ kind: 'put', path, file })
  }

  /**
   * A sync ended: what had been written to the file before it began is on the disk, and all names up to then.
   */
  private synced(file: File | undefined, writes: number, names: number): void {
    this.durableNames = Math.max(this.durableNames, names)
    if (!file || !writes) return
    file.synced = this.apply(file.synced, file.writes.slice(0, writes), () => true)
    file.writes.splice(0, writes)
  }

  private apply(from: Buffer, writes: File['writes'], survives: () => boolean): Buffer {
    let content = Buffer.from(from)
    const grow = (size: number) => {
      if (size > content.length) content = Buffer.concat([content, Buffer.alloc(size - content.length)])
    }
    for (const write of writes) {
      if ('size' in write) {
        if (!survives()) continue
        grow(write.size)
        content = content.subarray(0, write.size)
        continue
      }
      for (let at = 0; at < write.data.length;) {
        const end = Math.min(write.data.length, at + SECTOR - ((write.position + at) % SECTOR))
        if (survives()) {
          grow(write.position + end)
          write.data.copy(content, write.position + at, at, end)
        }
        at = end
      }
    }
    return content
  }

  /**
   * Writes what a power cut at this moment could leave.
   *
   * @param random from 0 to 1, for what was written and not synced
   * @param share how much of it survives: 0 nothing, 1 everything
   */
  cutPower(to: string, random: () => number, share: number): void {
    const real = this.originals
    const names = new Map(this.start)
    const folders = new Set(this.startFolders)
    const upTo = this.durableNames + Math.floor(random() * (this.names.length - this.durableNames + 1))
    for (const change of this.names.slice(0, upTo)) {
      if (change.kind === 'put') names.set(change.path, change.file)
      if (change.kind === 'remove') names.delete(change.path)
      if (change.kind === 'folder') folders.add(change.path)
      if (change.kind === 'rename') {
        names.set(change.to, names.get(change.from)!)
        names.delete(change.from)
      }
    }
    const placed = (path: string) => join(to, path.slice(this.root.length))
    real.rmSync(to, { recursive: true, force: true })
    real.mkdirSync(to, { recursive: true })
    for (const folder of folders) real.mkdirSync(placed(folder), { recursive: true, mode: 0o700 })
    for (const [path, file] of names) {
      real.mkdirSync(dirname(placed(path)), { recursive: true, mode: 0o700 })
      real.writeFileSync(
        placed(path),
        this.apply(file.synced, file.writes, () => random() < share),
      )
    }
  }

  /** Stops listening. */
  close(): void {
    for (const name of LISTENED) (fs as unknown as Record<string, unknown>)[name] = this.originals[name]
    syncBuiltinESMExports()
  }
}
