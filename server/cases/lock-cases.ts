import type { Sql } from '../database'
import { lockFacilities } from '../database/locks'

/**
 * The facilities that something about some cases is written for: of those cases, of those merged with them,
 * those that see them, and those of the cases that belong to any of these, because their rules may read their
 * parent.
 */
async function unitsOfCases(sql: Pick<Sql, 'query'>, ids: readonly string[]): Promise<string[]> {
  const rows = await sql.query<{ unit: string }>(
    `WITH RECURSIVE kin (id) AS (
       SELECT id FROM unnest($1::uuid[]) AS given (id)
       UNION SELECT x.id FROM kin CROSS JOIN LATERAL (
         SELECT merged_into AS id FROM case_record WHERE id = kin.id AND merged_into IS NOT NULL
         UNION ALL SELECT id FROM case_record WHERE merged_into = kin.id) x)
     SELECT unnest(c.unit || c.shared_with) AS unit FROM case_record c JOIN kin ON c.id = kin.id
     UNION SELECT c.unit FROM case_record c JOIN kin ON c.parent = kin.id`,
    [ids],
  )
  return rows.map(({ unit }) => unit)
}

/**
 * Alone with the facilities of some cases, and with others. A case may be moved or merged while one waits:
 * then its other facilities are taken, too.
 * @param units what is written about besides
 */
export async function lockCases(
  sql: Sql,
  ids: readonly string[],
  units: readonly string[] = [],
): Promise<void> {
  const held = new Set<string>()
  for (;;) {
    const needed = [...units, ...(ids.length ? await unitsOfCases(sql, ids) : [])].filter(
      unit => !held.has(unit),
    )
    if (!needed.length) return
    await lockFacilities(sql, needed)
    for (const unit of needed) held.add(unit)
  }
}
