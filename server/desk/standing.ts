import { createHash } from 'node:crypto'
import type { Access } from '../access/access'
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

/**
 * Stands for what a person sees, as 16 hexadecimal digits: with another place, or other datasets and registers, it is
 * another. A device forgets then what others filled, and hears everything anew.
 */
export const viewOf = ({
  branch,
  ownOnly,
  sharing,
}: Pick<Access, 'branch' | 'ownOnly' | 'sharing'>): string =>
  createHash('sha256')
    .update(JSON.stringify([branch, ownOnly, sharing]))
    .digest('hex')
    .slice(0, 16)
