import { createHash } from 'node:crypto'
import type { Sql } from './database'
import { lockMigrations } from './locks'

export interface Migration {
  number: number
  name: string
  sql: string
}

/** The folder was made by a newer version: opening it could harm what it holds. */
export class NewerDatabase extends Error {}

/** A migration that ran here is not the one that this version has: a landed migration was edited. */
export class ChangedMigration extends Error {}

const checksum = (sql: string) => createHash('sha256').update(sql.replaceAll('\r\n', '\n')).digest('hex')

type Done = { number: number; name: string; checksum: string }

/** @throws NewerDatabase, ChangedMigration when what ran here is not what this version has. */
function mustBeOurs(done: readonly Done[], migrations: readonly Migration[]): void {
  const newest = migrations.at(-1)?.number ?? 0
  for (const row of done) {
    const own = migrations.find(migration => migration.number === row.number)
    if (!own)
      throw new NewerDatabase(
        `This database is from a newer version of Eastward Lantern (its migration ${row.number} “${row.name}”; this version knows up to ${newest}). Install that version, or open a copy from before.`,
      )
    if (checksum(own.sql) !== row.checksum)
      throw new ChangedMigration(
        `Migration ${row.number} “${row.name}” is not the one that made this database. A migration is never edited after it landed.`,
      )
  }
}

/** The last migration that ran in a database; 0 for a new one. */
export async function migrationOf(sql: Pick<Sql, 'query'>): Promise<number> {
  const [table] = await sql.query<{ name: string | null }>("SELECT to_regclass('migration')::text AS name")
  if (!table?.name) return 0
  const [row] = await sql.query<{ number: number | null }>('SELECT max(number) AS number FROM migration')
  return row?.number ?? 0
}

/**
 * Runs the next migration, alone: of several processes that start at once the others wait, and find it done.
 * @returns false when there was none to run.
 */
async function runNext(sql: Sql, migrations: readonly Migration[]): Promise<boolean> {
  await lockMigrations(sql)
  await sql.script(`CREATE TABLE IF NOT EXISTS migration (
    number integer PRIMARY KEY, name text NOT NULL, checksum text NOT NULL, applied_at timestamptz NOT NULL DEFAULT now())`)
  const done = await sql.query<Done>('SELECT number, name, checksum FROM migration ORDER BY number')
  mustBeOurs(done, migrations)
  const next = migrations[done.length]
  if (!next) return false
  await sql.script(next.sql)
  await sql.query('INSERT INTO migration (number, name, checksum) VALUES ($1, $2, $3)', [
    next.number,
    next.name,
    checksum(next.sql),
  ])
  return true
}

/**
 * Brings the tables up to date, one transaction for each migration, in the order of their numbers.
 * @param transaction runs several statements as one.
 * @returns the number of the last migration.
 * @throws NewerDatabase, ChangedMigration
 */
export async function migrate(
  migrations: readonly Migration[],
  transaction: <T>(work: (sql: Sql) => Promise<T>) => Promise<T>,
): Promise<number> {
  while (await transaction(sql => runNext(sql, migrations)));
  return migrations.at(-1)?.number ?? 0
}
