import type { Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { KIN } from './fold-known'

/**
 * The facilities that something about some cases is written for: of those cases, of those merged with them,
 * those that see them, and those of the cases that belong to any of these, because their rules may read their
 * parent.
 */
async function unitsOfCases(sql: Pick<Sql, 'query'>, ids: readonly string[]): Promise<string[]> {
  // As lists: joined, the planner expects so many kin that it reads every case of the installation.
  const rows = await sql.query<{ unit: string }>(
    `${KIN}
     SELECT unnest(c.unit || c.shared_with) AS unit FROM case_record c WHERE c.id = ANY(ARRAY(SELECT id FROM kin))
     UNION SELECT c.unit FROM case_record c WHERE c.parent = ANY(ARRAY(SELECT id FROM kin))`,
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
