import { resolve } from 'node:path'
import { log, logError } from '../log'
import { openDatabase, type Database } from './database'
import { noticeRestore } from './incarnation'
import { MIGRATIONS } from './migrations'

export type { Database, Parameter, Sql } from './database'

/** The folder of this installation, or `memory:`. */
export function dataFolder(): string {
  const folder = process.env.LANTERN_DATA || '.data/lantern'
  return folder === 'memory:' ? folder : resolve(folder)
}

async function open(folder: string): Promise<Database> {
  const sql = await openDatabase(folder, MIGRATIONS, reason => {
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

let opened: Promise<Database> | undefined

/** Opens the installation's database once; `LANTERN_DATA` names its folder. */
export function database(): Promise<Database> {
  opened ??= open(dataFolder())
  return opened
}

/** Closes the database when it was opened, so that the last writes are on disk. */
export async function closeDatabase(): Promise<void> {
  if (!opened) return
  const closing = opened
  opened = undefined
  await (await closing).close()
}
