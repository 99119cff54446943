import { resolve } from 'node:path'
import { log, logError } from '../log'
import type { Database, EmbeddedDatabase } from './database'
import { openEmbedded } from './embedded'
import { noticeRestore } from './incarnation'
import { MIGRATIONS } from './migrations'
import { openPostgres } from './postgres'

export type { Database, EmbeddedDatabase, Parameter, Sql } from './database'
export { DatabaseAway } from './server-errors'

/** The folder of this installation, or `memory:`. */
export function dataFolder(): string {
  const folder = process.env.LANTERN_DATA || '.data/lantern'
  return folder === 'memory:' ? folder : resolve(folder)
}

async function openFolder(folder: string): Promise<EmbeddedDatabase> {
  const sql = await openEmbedded(folder, MIGRATIONS, reason => {
    // Two writers would destroy the database: end before the next write, without closing anything.
    logError('Another process took the database folder; this one ends', reason)
    process.exit(1)
  })
  const restoredFrom = folder === 'memory:' ? null : await noticeRestore(folder, sql)
  if (restoredFrom)
    log(
      `This database was put back from the backup of ${restoredFrom}. Devices will send again what came after it.`,
    )
  return sql
}

/** Opens a database by its place: an address of a PostgreSQL server, a folder, or `memory:`. */
export const openAt = (place: string): Promise<Database> =>
  /^postgres(ql)?:/.test(place)
    ? openPostgres(place, MIGRATIONS)
    : openFolder(place === 'memory:' ? place : resolve(place))

let opened: Promise<Database> | undefined

/**
 * Opens the installation's database once: on the PostgreSQL server that `DATABASE_URL` names, else in the
 * folder that `LANTERN_DATA` names.
 */
export function database(): Promise<Database> {
  opened ??= openAt(process.env.DATABASE_URL || dataFolder())
  return opened
}

/** The database where its files are ours to look after, else null. */
export async function embeddedDatabase(): Promise<EmbeddedDatabase | null> {
  const sql = await database()
  return sql.engine === 'embedded' ? (sql as EmbeddedDatabase) : null
}

/** Closes the database when it was opened, so that the last writes are on disk. */
export async function closeDatabase(): Promise<void> {
  if (!opened) return
  const closing = opened
  opened = undefined
  await (await closing).close()
}
