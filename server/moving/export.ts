import { createHash } from 'node:crypto'
import { once } from 'node:events'
import {
  createReadStream,
  createWriteStream,
  existsSync,
  mkdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { finished } from 'node:stream/promises'
import { v7 as uuid } from 'uuid'
import { nowText } from '../clock'
import type { Database, Sql } from '../database'
import {
  CannotMove,
  continueNumbers,
  fillTables,
  fingerprint,
  movedTables,
  mustBeEmpty,
  numbersOf,
  rowsOf,
  tablesOf,
  type Numbers,
  type Table,
} from './tables'

/** What an export says of itself, as `manifest.json`. Beside it lies one file of JSON lines for each table. */
export interface Manifest {
  format: 'eastward-lantern-export'
  version: 1
  id: string
  madeAt: string
  /** The last migration of the database. */
  migration: number
  tables: (Table & { file: string; rows: number; sha256: string; fingerprint: string })[]
  numbers: Numbers[]
}

const MANIFEST = 'manifest.json'
/** Readable by who made it only: names, answers and the hashes of passwords are in it. */
const OWN_FOLDER = 0o700
const OWN_FILE = 0o600

/** Writes the rows of a table as JSON lines. */
async function writeTable(sql: Sql, table: Table, folder: string): Promise<Manifest['tables'][number]> {
  const file = `${table.name}.jsonl`
  const out = createWriteStream(join(folder, file), { mode: OWN_FILE })
  // An error that comes while nobody waits for the disk ends the wait at the end.
  const done = finished(out)
  done.catch(() => undefined)
  const hash = createHash('sha256')
  let rows = 0
  for await (const some of rowsOf(sql, table)) {
    const text = some.map(row => `${row}\n`).join('')
    hash.update(text)
    rows += some.length
    if (!out.write(text)) await Promise.race([once(out, 'drain'), done])
  }
  out.end()
  await done
  return { ...table, file, rows, sha256: hash.digest('hex'), fingerprint: await fingerprint(sql, table) }
}

/**
 * Writes everything that an installation has into a new folder, as text that any program reads. The folder gets
 * its name when it is complete.
 *
 * @param onProgress is told the name of a table and how many rows it has
 * @throws CannotMove when the folder is there already
 * @example await exportTo(await openAt('.data/lantern'), '/srv/lantern-2026-11-09')
 */
export async function exportTo(
  source: Database,
  folder: string,
  onProgress: (table: string, rows: number) => void = () => undefined,
): Promise<Manifest> {
  if (existsSync(folder)) throw new CannotMove(`${folder} is there already. Name a new folder.`)
  const unfinished = `${folder}.unfinished`
  rmSync(unfinished, { recursive: true, force: true })
  mkdirSync(unfinished, { recursive: true, mode: OWN_FOLDER })
  const manifest = await source.transaction(async from => {
    // One moment for all tables, while a server on PostgreSQL goes on.
    await from.script('SET TRANSACTION ISOLATION LEVEL REPEATABLE READ, READ ONLY')
    const tables: Manifest['tables'] = []
    for (const table of movedTables(await tablesOf(from))) {
      const written = await writeTable(from, table, unfinished)
      onProgress(written.name, written.rows)
      tables.push(written)
    }
    const about = { format: 'eastward-lantern-export', version: 1, id: uuid(), madeAt: nowText() } as const
    return { ...about, migration: source.migration, tables, numbers: await numbersOf(from) }
  })
  writeFileSync(join(unfinished, MANIFEST), JSON.stringify(manifest, null, 2), { mode: OWN_FILE })
  renameSync(unfinished, folder)
  return manifest
}

/** @throws CannotMove where there is no export, or one of another version */
function readManifest(folder: string, migration: number): Manifest {
  if (!existsSync(join(folder, MANIFEST)))
    throw new CannotMove(`${folder} is no export: there is no ${MANIFEST} in it.`)
  let manifest: Manifest
  try {
    manifest = JSON.parse(readFileSync(join(folder, MANIFEST), 'utf8')) as Manifest
  } catch {
    throw new CannotMove(`The ${MANIFEST} of ${folder} was cut or changed. Nothing was taken in.`)
  }
  if (manifest.format !== 'eastward-lantern-export' || manifest.version !== 1)
    throw new CannotMove(`${folder} is no export that this version can read.`)
  if (manifest.migration !== migration)
    throw new CannotMove(
      `This export is of another version of Eastward Lantern (migration ${manifest.migration}; here it is ${migration}). Take it in with that version, then update.`,
    )
  return manifest
}

/** Every file, before anything is written. @throws CannotMove where one was cut or changed */
async function mustBeWhole(folder: string, { tables }: Manifest): Promise<void> {
  for (const { file, sha256 } of tables) {
    const path = join(folder, file)
    const hash = createHash('sha256')
    if (existsSync(path)) for await (const part of createReadStream(path)) hash.update(part as Buffer)
    if (hash.digest('hex') !== sha256)
      throw new CannotMove(`${file} was cut or changed. Nothing was taken in.`)
  }
}

const LINES_AT_ONCE = 2000

async function* linesOf(path: string): AsyncGenerator<string[]> {
  let lines: string[] = []
  for await (const line of createInterface({ input: createReadStream(path), crlfDelay: Infinity })) {
    lines.push(line)
    if (lines.length === LINES_AT_ONCE) {
      yield lines
      lines = []
    }
  }
  if (lines.length) yield lines
}

/**
 * Fills an empty installation from an export: everything, or nothing. Devices notice, as after a backup that was
 * put back, and send again what came after the export.
 *
 * @throws CannotMove when the export is cut, changed or of another version, or the target is not empty
 */
export async function importFrom(
  folder: string,
  target: Database,
  onProgress: (table: string, rows: number) => void = () => undefined,
): Promise<void> {
  const manifest = readManifest(folder, target.migration)
  await mustBeWhole(folder, manifest)
  const tables = movedTables(await tablesOf(target))
  await mustBeEmpty(target, tables)
  const written = new Map(manifest.tables.map(table => [table.name, table]))
  await target.transaction(async to => {
    await fillTables(
      to,
      tables,
      ({ name }) => linesOf(join(folder, written.get(name)!.file)),
      ({ name }) => Promise.resolve(written.get(name)!.fingerprint),
      onProgress,
    )
    await continueNumbers(to, manifest.numbers)
    await to.query(
      'INSERT INTO incarnation (number, since, backup, backup_at) SELECT max(number) + 1, $1, $2, $3 FROM incarnation',
      [nowText(), manifest.id, manifest.madeAt],
    )
  })
}
