import { createHash } from 'node:crypto'
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
} from 'node:fs'
import { dirname, join, relative, sep } from 'node:path'
import { PassThrough, Readable } from 'node:stream'
import { finished, pipeline } from 'node:stream/promises'
import { openPromise, type Entry } from 'yauzl'
import { ZipFile } from 'yazl'
import { syncPath } from '../database/durable-files'

/** The backup cannot be used. The message says what is wrong with it. Nothing was changed. */
export class CannotRestore extends Error {}

/** What a backup says of itself, as `backup.json`, the last of the files in it. */
export interface BackupManifest {
  format: 'eastward-lantern-backup'
  version: 1
  id: string
  at: string
  /** A copy of the engine's folder, or an export of all tables as JSON lines (decision 57). */
  content: 'folder' | 'tables'
  /** The last migration of the database. */
  migration: number
  files: { name: string; bytes: number; sha256: string }[]
}

const MANIFEST = 'backup.json'
/** Readable by who made it only: names, answers and the hashes of passwords are in it. */
const OWN_FOLDER = 0o700
const OWN_FILE = 0o600

/** Everything in a folder, by its path from there with slashes; folders end with one. */
function* pathsIn(folder: string, from = folder): Generator<string> {
  for (const one of readdirSync(folder, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
    const path = join(folder, one.name)
    const name = relative(from, path).split(sep).join('/')
    if (one.isDirectory()) {
      yield `${name}/`
      yield* pathsIn(path, from)
    } else yield name
  }
}

/**
 * Packs a folder into one file: a zip with the SHA-256 of each file in its manifest. The file gets its name when
 * it is complete and on the disk.
 *
 * @param about what the manifest says besides the files
 */
export async function packFolder(
  folder: string,
  file: string,
  about: Omit<BackupManifest, 'format' | 'version' | 'files'>,
): Promise<void> {
  const files: BackupManifest['files'] = []
  const zip = new ZipFile()
  for (const name of pathsIn(folder)) {
    if (name.endsWith('/')) {
      zip.addEmptyDirectory(name)
      continue
    }
    zip.addReadStreamLazy(name, { compressionLevel: 1 }, done => {
      const hash = createHash('sha256')
      let bytes = 0
      const through = new PassThrough()
      through.on('data', (part: Buffer) => {
        hash.update(part)
        bytes += part.length
      })
      through.on('end', () => files.push({ name, bytes, sha256: hash.digest('hex') }))
      pipeline(createReadStream(join(folder, name)), through).catch((error: Error) =>
        zip.emit('error', error),
      )
      done(null, through)
    })
  }
  // Asked for when all others are written: it knows them.
  zip.addReadStreamLazy(MANIFEST, { compress: false }, done => {
    const manifest: BackupManifest = { format: 'eastward-lantern-backup', version: 1, ...about, files }
    done(null, Readable.from([Buffer.from(JSON.stringify(manifest, null, 2))]))
  })
  zip.end()
  const unfinished = `${file}.unfinished`
  const out = createWriteStream(unfinished, { mode: OWN_FILE })
  zip.on('error', error => out.destroy(error as Error))
  zip.outputStream.pipe(out)
  try {
    await finished(out)
  } catch (error) {
    rmSync(unfinished, { force: true })
    throw error
  }
  syncPath(unfinished)
  renameSync(unfinished, file)
  syncPath(dirname(file))
}

/** Writes one file of a backup. @returns its SHA-256 */
async function writeEntry(content: Readable, path: string): Promise<string> {
  mkdirSync(dirname(path), { recursive: true, mode: OWN_FOLDER })
  const hash = createHash('sha256')
  content.on('data', (part: Buffer) => hash.update(part))
  await pipeline(content, createWriteStream(path, { mode: OWN_FILE }))
  return hash.digest('hex')
}

const textOf = async (content: Readable): Promise<string> => {
  const parts: Buffer[] = []
  for await (const part of content) parts.push(part as Buffer)
  return Buffer.concat(parts).toString('utf8')
}

/**
 * Unpacks a backup into a new folder, and checks every file of it.
 *
 * @throws CannotRestore when it is none, was cut or changed: the folder is removed then
 */
export async function unpackBackup(file: string, folder: string): Promise<BackupManifest> {
  if (!existsSync(file)) throw new CannotRestore(`There is no file ${file}.`)
  const damaged = (why: string) =>
    new CannotRestore(`${file} was cut or changed: ${why.replace(/\.$/, '')}. Nothing was changed.`)
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true, mode: OWN_FOLDER })
  try {
    const zip = await openPromise(file, { validateEntrySizes: true }).catch((error: Error) => {
      throw damaged(error.message)
    })
    const sums = new Map<string, string>()
    let manifest: BackupManifest | null = null
    try {
      // The library refuses names that lead out of the folder.
      for await (const entry of zip.eachEntry() as AsyncIterable<Entry>) {
        if (entry.fileName.endsWith('/')) {
          mkdirSync(join(folder, entry.fileName), { recursive: true, mode: OWN_FOLDER })
          continue
        }
        const content = await zip.openReadStreamPromise(entry)
        if (entry.fileName === MANIFEST) manifest = JSON.parse(await textOf(content)) as BackupManifest
        else sums.set(entry.fileName, await writeEntry(content, join(folder, entry.fileName)))
      }
    } catch (error) {
      throw damaged(error instanceof Error ? error.message : String(error))
    }
    if (manifest?.format !== 'eastward-lantern-backup' || manifest.version !== 1)
      throw new CannotRestore(`${file} is no backup that this version can read.`)
    const wrong = manifest.files.find(({ name, sha256 }) => sums.get(name) !== sha256)
    if (wrong) throw damaged(`${wrong.name} is not what it was`)
    if (manifest.files.length !== sums.size) throw damaged('it holds files that nobody put there')
    return manifest
  } catch (error) {
    rmSync(folder, { recursive: true, force: true })
    throw error
  }
}
