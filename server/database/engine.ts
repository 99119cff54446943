import { cpSync, existsSync, mkdirSync, openAsBlob, rmSync } from 'node:fs'
import { cp } from 'node:fs/promises'
import { join } from 'node:path'
import { PGlite, type PGliteOptions } from '@electric-sql/pglite'
import { ltree } from '@electric-sql/pglite/contrib/ltree'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { createEngineFolder, inspectFolder } from './data-folder'
import { inTurns } from './database'
import { DurableFiles, syncFolder } from './durable-files'
import { PARSERS } from './parsers'
import { preparedStatements } from './prepared'

/**
 * Memory for pages of tables, in megabytes. What is not there comes from the operating system's own cache, so
 * little is lost: a district fits, and a small machine keeps a hundred megabytes.
 */
const BUFFERS_MB = 48

/**
 * How PostgreSQL is started: as PGlite does, but with `fsync` on (without `-F`). Of the ways to sync the log
 * only `fsync` reaches our file layer. Checkpoints come from us alone: a single process has no checkpointer.
 */
const START = [
  ...PGlite.defaultStartParams.filter(word => word !== '-F'),
  '-c',
  'wal_sync_method=fsync',
  '-c',
  'wal_keep_size=64',
  '-c',
  `shared_buffers=${Number(process.env.LANTERN_BUFFERS_MB) || BUFFERS_MB}MB`,
]

/** What is said to the engine most, and changes no table: the statements that it has read stay as they are. */
const KEEPS_TABLES = /^(BEGIN|COMMIT|ROLLBACK|SAVEPOINT|RELEASE|CHECKPOINT)\b/

/** `ltree` is there for the first migrations only: paths are lists of codes since migration 9. */
export const ENGINE_OPTIONS: PGliteOptions = { extensions: { ltree, pg_trgm }, parsers: PARSERS }

/**
 * The database engine with one connection. The caller makes sure that statements of two transactions do not
 * mix. In production it runs in a thread of its own (see engine-client.ts), so that no statement holds the
 * event loop of the server.
 */
export interface Engine {
  /**
   * Statements are done in the order in which they are asked, as on a server: of those that are asked at once, none
   * comes behind the end of its transaction because another one before it failed.
   */
  query(text: string, params: readonly unknown[]): Promise<object[]>
  /** Several statements without parameters. */
  exec(text: string): Promise<void>
  /** Returns when everything that is committed would survive a power cut. */
  sync(): Promise<void>
  /** Copies the folder of the engine while it is used. The caller has made a checkpoint just before. */
  copyTo(folder: string): Promise<void>
  close(): Promise<void>
}

/**
 * Copies the engine's folder while it is in use. The control file comes first: it names the checkpoint at
 * which the copy begins. The log comes last: replayed from there, it makes the other files whole, though they
 * were copied one after the other. PostgreSQL writes the first change of each page after a checkpoint whole
 * into its log.
 */
async function copyFiles(from: string, to: string): Promise<void> {
  rmSync(to, { recursive: true, force: true })
  mkdirSync(join(to, 'global'), { recursive: true, mode: 0o700 })
  cpSync(join(from, 'global', 'pg_control'), join(to, 'global', 'pg_control'))
  const isCopied = (path: string) =>
    !path.startsWith(join(from, 'pg_wal')) && !path.endsWith('pg_control') && !path.endsWith('postmaster.pid')
  // A file of a table that is dropped meanwhile is gone: the log drops it in the copy too.
  await cp(from, to, { recursive: true, filter: path => isCopied(path) && existsSync(path) })
  await cp(join(from, 'pg_wal'), join(to, 'pg_wal'), { recursive: true })
  syncFolder(to)
}

/**
 * A database in memory begins empty, or as a dump that `LANTERN_MEMORY_START` names: making its tables takes ten
 * times as long as reading them, and each file of tests begins with one.
 */
async function inMemoryOptions(): Promise<PGliteOptions> {
  const dump = process.env.LANTERN_MEMORY_START
  return dump ? { ...ENGINE_OPTIONS, loadDataDir: await openAsBlob(dump) } : ENGINE_OPTIONS
}

/**
 * Starts the engine on a folder (which it makes when there is none), or a passing one with `memory:`.
 * @throws FolderDamaged
 */
export async function startEngine(data: string): Promise<Engine> {
  const inMemory = data === 'memory:'
  const folder = join(data, 'postgres')
  if (!inMemory && inspectFolder(data) === 'empty') {
    await createEngineFolder(data, async made =>
      (await PGlite.create(`file://${made}`, ENGINE_OPTIONS)).close(),
    )
  }
  const files = inMemory ? null : new DurableFiles(folder)
  const pg = await (files
    ? PGlite.create({ ...ENGINE_OPTIONS, fs: files, startParams: START })
    : PGlite.create('memory://', await inMemoryOptions()))
  await pg.exec("SET TIME ZONE 'UTC'")
  const statements = preparedStatements(pg)
  const inTurn = inTurns()
  return {
    query: (text, params) => inTurn(() => statements.query(text, params)),
    exec: text =>
      inTurn(async () => {
        await pg.exec(text)
        if (!KEEPS_TABLES.test(text)) await statements.forget()
      }),
    sync: () => files?.sync() ?? Promise.resolve(),
    copyTo(to) {
      if (!files) throw new Error('A database in memory cannot be copied.')
      return copyFiles(folder, to)
    },
    close: () => pg.close(),
  }
}
