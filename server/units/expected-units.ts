import { branchPath } from '../access/access'
import type { Sql } from '../database'

/** A unit that a round expects, as it was in the round's period. */
export interface ExpectedUnit {
  code: string
  name: string
  /** The path at the end of the period, or on the unit's last day in it. */
  path: string[]
  zone: string
  zoneName: string
}

/**
 * The condition that an assignment `a` is of a unit (an alias with code, level and path) on some day from the
 * first to
 * the last: by level, by branch, by group, or the unit itself. The same as core's `expectedUnits`, for
 * queries.
 */
export const assigned = (unit: string, first: string, last: string): string =>
  `a.from_day <= ${last} AND (a.to_day IS NULL OR a.to_day > ${first})
    AND (a.level IS NULL OR a.level = ${unit}.level)
    AND (a.branch IS NULL OR a.branch = ANY(${unit}.path))
    AND (a.unit IS NULL OR a.unit = ${unit}.code)
    AND (a.unit_group IS NULL OR EXISTS (SELECT 1 FROM unit_group_member m
      WHERE m.unit_group = a.unit_group AND m.unit = ${unit}.code AND m.from_day <= ${last} AND (m.to_day IS NULL OR m.to_day > ${first})))`

/**
 * The units that a round expects within a branch: those that the dataset is assigned to and that were open on
 * any
 * day of the period. A unit that moved or closed in the period counts where it was last.
 */
export async function expectedUnits(
  sql: Pick<Sql, 'query'>,
  round: { dataset: string; firstDay: string; lastDay: string },
  branch: string | null,
): Promise<ExpectedUnit[]> {
  return sql.query<ExpectedUnit>(
    `WITH in_period AS (
       SELECT DISTINCT ON (s.unit) s.unit AS code, s.name, s.path, s.parent, u.level
       FROM unit_span s JOIN unit u ON u.code = s.unit
       WHERE s.from_day <= $3 AND (s.to_day IS NULL OR s.to_day > $2)
       ORDER BY s.unit, s.from_day DESC)
     SELECT e.code, e.name, e.path, z.unit AS zone, z.name AS "zoneName"
     FROM in_period e
     -- A unit at the top has nothing above it and stands for itself.
     JOIN LATERAL (SELECT unit, name FROM unit_span p WHERE p.unit = coalesce(e.parent, e.code) AND p.from_day <= $3 ORDER BY p.from_day DESC LIMIT 1) z ON true
     WHERE e.path @> $4::text[]
       AND EXISTS (SELECT 1 FROM assignment a WHERE a.dataset = $1 AND ${assigned('e', '$2', '$3')})
     ORDER BY z.name, e.name`,
    [round.dataset, round.firstDay, round.lastDay, branchPath(branch)],
  )
}
