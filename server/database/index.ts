import { resolve } from 'node:path'
import { logError } from '../log'
import { openDatabase, type Database } from './database'
import { MIGRATIONS } from './migrations'

export type { Database, Parameter, Sql } from './database'

let opened: Promise<Database> | undefined

/** Opens the installation's database once; `LANTERN_DATA` names its folder. */
export function database(): Promise<Database> {
  const folder = process.env.LANTERN_DATA || '.data/lantern'
  opened ??= openDatabase(folder === 'memory:' ? folder : resolve(folder), MIGRATIONS, (reason) => {
    // Two writers would destroy the database: end before the next write, without closing anything.
    logError('Another process took the database folder; this one ends', reason)
    process.exit(1)
  })
  return opened
}

/** Closes the database when it was opened, so that the last writes are on disk. */
export async function closeDatabase(): Promise<void> {
  if (!opened) return
  const closing = opened
  opened = undefined
  await (await closing).close()
}
