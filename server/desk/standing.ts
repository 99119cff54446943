import type { Sql } from '../database'

/**
 * Which life of the database this is, and what of it is in a backup: devices keep what they sent until then.
 *
 * `incarnation` counts from 1 and grows each time the installation is put back from a backup.
 */
export async function standing(
  sql: Pick<Sql, 'query'>,
): Promise<{ incarnation: number; backedUpTo: string | null }> {
  const [row] = await sql.query<{ incarnation: number; backedUpTo: string | null }>(
    `SELECT (SELECT max(number) FROM incarnation) AS incarnation, (SELECT max(at) FROM backup) AS "backedUpTo"`,
  )
  return row!
}
