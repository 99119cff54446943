import { branchPattern } from '../access/access'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'

/** A unit that a round expects, as it was in the round's period. */
export interface ExpectedUnit {
  code: string
  name: string
  /** The path at the end of the period, or on the unit's last day in it. */
  path: string
  zone: string
  zoneName: string
}

/**
 * The units that a round expects within a branch: those that the dataset is assigned to and that were open on any
 * day of the period. A unit that moved or closed in the period counts where it was last.
 */
export async function expectedUnits(sql: Pick<Sql, 'query'>, round: Round, branch: string | null): Promise<ExpectedUnit[]> {
  return sql.query<ExpectedUnit>(
    `WITH in_period AS (
       SELECT DISTINCT ON (s.unit) s.unit AS code, s.name, s.path, s.parent, u.level
       FROM unit_span s JOIN unit u ON u.code = s.unit
       WHERE s.from_day <= $3 AND (s.to_day IS NULL OR s.to_day > $2)
       ORDER BY s.unit, s.from_day DESC)
     SELECT e.code, e.name, e.path::text AS path, z.unit AS zone, z.name AS "zoneName"
     FROM in_period e
     JOIN LATERAL (SELECT unit, name FROM unit_span p WHERE p.unit = e.parent AND p.from_day <= $3 ORDER BY p.from_day DESC LIMIT 1) z ON true
     WHERE e.path ~ $4::lquery
       AND EXISTS (SELECT 1 FROM assignment a
         WHERE a.dataset = $1 AND a.level = e.level AND e.path ~ ('*.' || a.branch || '.*')::lquery
           AND a.from_day <= $3 AND (a.to_day IS NULL OR a.to_day > $2))
     ORDER BY z.name, e.name`,
    [round.dataset, round.firstDay, round.lastDay, branchPattern(branch)])
}
