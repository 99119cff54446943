import { cpSync, existsSync, mkdirSync, rmSync } from 'node:fs'
import { cp } from 'node:fs/promises'
import { join } from 'node:path'
import { PGlite, type PGliteOptions, type Transaction } from '@electric-sql/pglite'
import { ltree } from '@electric-sql/pglite/contrib/ltree'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { createEngineFolder, FolderDamaged, inspectFolder } from './data-folder'
import { DurableFiles, syncFolder } from './durable-files'
import { lockFolder } from './folder-lock'
import { migrate, type Migration } from './migrate'

/** What may stand behind a `$1`. Objects become JSON. */
export type Parameter = string | number | boolean | null | object

/** The statements that one piece of work may run. Rows come as objects by column name. */
export interface Sql {
  query<Row extends object>(text: string, params?: readonly Parameter[]): Promise<Row[]>
  /** Several statements without parameters: migrations only. */
  script(text: string): Promise<void>
  /** Runs a part of a transaction that is kept whole or not at all: when it throws, the rest of the transaction stands. */
  savepoint<T>(work: () => Promise<T>): Promise<T>
}

export interface Database extends Pick<Sql, 'query'> {
  /**
   * Runs work in one transaction: all of it is kept, or none of it. Returns when what was committed would survive a
   * power cut.
   */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** The number of the last migration. */
  readonly migration: number
  /** Writes all changes from the log into the tables' own files, so that the log does not grow without end. */
  checkpoint(): Promise<void>
  /** Copies the database into a folder, while it is used. The copy opens with everything committed before the call. */
  copyTo(folder: string): Promise<void>
  close(): Promise<void>
}

/**
 * How PostgreSQL is started: as PGlite does, but with `fsync` on (without `-F`). Of the ways to sync the log only
 * `fsync` reaches our file layer. Checkpoints come from {@link Database.checkpoint} alone: a single process has no
 * checkpointer.
 */
const START = [...PGlite.defaultStartParams.filter(word => word !== '-F'), '-c', 'wal_sync_method=fsync', '-c', 'wal_keep_size=64']

/** Keep timestamps as ISO text and days as plain days: `Date` objects would bring a clock's time zone into them. */
const PARSERS = {
  1082: (text: string) => text, // date
  1114: (text: string) => text, // timestamp
  1184: (text: string) => new Date(text).toISOString(), // timestamptz
  20: (text: string) => Number(text), // bigint: our counters stay far below 2^53
}
const OPTIONS: PGliteOptions = { extensions: { ltree, pg_trgm }, parsers: PARSERS }

let savepoints = 0

function sqlOf(runner: Pick<Transaction, 'query' | 'exec'>): Sql {
  return {
    async query<Row extends object>(text: string, params: readonly Parameter[] = []) {
      return (await runner.query<Row>(text, params as unknown[])).rows
    },
    async script(text) {
      await runner.exec(text)
    },
    async savepoint(work) {
      const name = `part_${++savepoints}`
      await runner.exec(`SAVEPOINT ${name}`)
      try {
        const result = await work()
        await runner.exec(`RELEASE SAVEPOINT ${name}`)
        return result
      }
      catch (error) {
        await runner.exec(`ROLLBACK TO SAVEPOINT ${name}; RELEASE SAVEPOINT ${name}`)
        throw error
      }
    },
  }
}

interface Engine { pg: PGlite; sync: () => Promise<void>; folder: string | null }

async function openEngine(data: string): Promise<Engine> {
  if (data === 'memory:') return { pg: await PGlite.create('memory://', OPTIONS), sync: () => Promise.resolve(), folder: null }
  const folder = join(data, 'postgres')
  if (inspectFolder(data) === 'empty') {
    await createEngineFolder(data, async made => (await PGlite.create(`file://${made}`, OPTIONS)).close())
  }
  const files = new DurableFiles(folder)
  try {
    return { pg: await PGlite.create({ ...OPTIONS, fs: files, startParams: START }), sync: () => files.sync(), folder }
  }
  catch (error) {
    throw new FolderDamaged(`The database in ${data} does not open: ${String(error)}. Stop here and keep a copy of the folder; then put back the newest backup with: npm run restore`)
  }
}

/**
 * Copies the engine's folder while it is in use. The control file comes first: it names the checkpoint at which the
 * copy begins. The log comes last: replayed from there, it makes the other files whole, though they were copied
 * one after the other. PostgreSQL writes the first change of each page after a checkpoint whole into its log.
 */
async function copyEngine(from: string, to: string): Promise<void> {
  rmSync(to, { recursive: true, force: true })
  mkdirSync(join(to, 'global'), { recursive: true, mode: 0o700 })
  cpSync(join(from, 'global', 'pg_control'), join(to, 'global', 'pg_control'))
  const kept = (path: string) => !path.startsWith(join(from, 'pg_wal')) && !path.endsWith('pg_control') && !path.endsWith('postmaster.pid')
  // A file of a table that is dropped meanwhile is gone: the log drops it in the copy too.
  await cp(from, to, { recursive: true, filter: path => kept(path) && existsSync(path) })
  await cp(join(from, 'pg_wal'), join(to, 'pg_wal'), { recursive: true })
  syncFolder(to)
}

/**
 * Opens the database of a folder, or a passing one with `memory:`, and brings its tables up to date.
 *
 * @param onLost called when another process took the folder: this one must end at once
 * @throws FolderInUse, FolderDamaged, NewerDatabase, ChangedMigration
 */
export async function openDatabase(data: string, migrations: readonly Migration[], onLost?: (reason: string) => void): Promise<Database> {
  const inMemory = data === 'memory:'
  if (!inMemory) inspectFolder(data)
  const unlock = inMemory ? () => Promise.resolve() : await lockFolder(data, onLost)
  try {
    const { pg, sync, folder } = await openEngine(data)
    await pg.exec('SET TIME ZONE \'UTC\'')
    // A read waits as well: what it saw may have been committed a moment ago, and not be on the disk yet.
    const query: Sql['query'] = async <Row extends object>(text: string, params: readonly Parameter[] = []) => {
      const { rows } = await pg.query<Row>(text, params as unknown[])
      await sync()
      return rows
    }
    const transaction = async <T>(work: (sql: Sql) => Promise<T>): Promise<T> => {
      const result = await (pg.transaction(tx => work(sqlOf(tx))) as Promise<T>)
      await sync()
      return result
    }
    const checkpoint = async () => { await pg.exec('CHECKPOINT') }
    const migration = await migrate(migrations, transaction).catch(async (error) => {
      await pg.close()
      throw error
    })
    return {
      query, transaction, migration, checkpoint,
      async copyTo(to) {
        if (!folder) throw new Error('A database in memory cannot be copied.')
        await checkpoint()
        await copyEngine(folder, to)
      },
      async close() {
        await pg.close()
        await unlock()
      },
    }
  }
  catch (error) {
    await unlock()
    throw error
  }
}
