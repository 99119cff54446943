import { createHash } from 'node:crypto'
import type { Sql } from './database'

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

/**
 * Brings the tables up to date, one transaction for each migration, in the order of their numbers.
 * @param run runs statements; `transaction` runs several as one.
 * @returns the number of the last migration.
 * @throws NewerDatabase, ChangedMigration
 */
export async function migrate(
  migrations: readonly Migration[],
  transaction: <T>(work: (sql: Sql) => Promise<T>) => Promise<T>,
): Promise<number> {
  const done = await transaction(async sql => {
    await sql.script(`CREATE TABLE IF NOT EXISTS migration (
      number integer PRIMARY KEY, name text NOT NULL, checksum text NOT NULL, applied_at timestamptz NOT NULL DEFAULT now())`)
    return sql.query<{ number: number; name: string; checksum: string }>(
      'SELECT number, name, checksum FROM migration ORDER BY number',
    )
  })
  const newest = migrations.at(-1)?.number ?? 0
  for (const row of done) {
    const own = migrations.find(migration => migration.number === row.number)
    if (!own) {
      throw new NewerDatabase(
        `This database is from a newer version of Eastward Lantern (its migration ${row.number} “${row.name}”; this version knows up to ${newest}). Install that version, or open a copy from before.`,
      )
    }
    if (checksum(own.sql) !== row.checksum) {
      throw new ChangedMigration(
        `Migration ${row.number} “${row.name}” is not the one that made this database. A migration is never edited after it landed.`,
      )
    }
  }
  for (const migration of migrations.slice(done.length)) {
    await transaction(async sql => {
      await sql.script(migration.sql)
      await sql.query('INSERT INTO migration (number, name, checksum) VALUES ($1, $2, $3)', [
        migration.number,
        migration.name,
        checksum(migration.sql),
      ])
    })
  }
  return newest
}
