import type { Today } from '#core/contract/rounds'
import { branchPath, type Access } from '../access/access'
import type { Sql } from '../database'
import { roundRef, roundsById } from '../rounds/round'

/** How many are told. */
const MOST = 6

type Act = Today['lastActs'][number]
type Row = Omit<Act, 'unit' | 'round'> & { round: string; code: string; name: string }

/**
 * What a person did last, the latest first: about each report and each discrepancy only the last thing. Each part
 * reads by its own index (person, at) and a bounded number of rows.
 */
export async function lastActs(sql: Pick<Sql, 'query'>, access: Access): Promise<Act[]> {
  const read = MOST * 5
  const rows = await sql.query<Row>(
    `WITH acts AS (
       (SELECT e.at, e.to_state AS act, e.report, NULL::uuid AS discrepancy, NULL::text AS round, NULL::text AS unit
        FROM report_event e WHERE e.person = $1 AND e.to_state IN ('accepted', 'sentBack') ORDER BY e.at DESC LIMIT ${read})
       UNION ALL
       (SELECT e.at, e.act, d.report, e.discrepancy, NULL, NULL
        FROM discrepancy_event e JOIN discrepancy d ON d.id = e.discrepancy
        WHERE e.person = $1 AND e.act IN ('asked', 'settled', 'reopened') ORDER BY e.at DESC LIMIT ${read})
       UNION ALL
       (SELECT n.asked_at, 'reminded', NULL, NULL, n.round, n.unit
        FROM nudge n WHERE n.asked_by = $1 ORDER BY n.asked_at DESC LIMIT ${read})),
     placed AS (
       SELECT a.at, a.act, a.discrepancy, coalesce(a.round, p.round) AS round, coalesce(a.unit, p.unit) AS unit
       FROM acts a LEFT JOIN report p ON p.id = a.report),
     newest AS (
       SELECT DISTINCT ON (round, unit, discrepancy) * FROM placed WHERE round IS NOT NULL
       ORDER BY round, unit, discrepancy, at DESC)
     SELECT n.at, n.act, n.discrepancy, n.round, u.code, u.name FROM newest n JOIN unit_latest u ON u.code = n.unit
     WHERE u.path @> $2::text[] ORDER BY n.at DESC, u.code LIMIT ${MOST}`,
    [access.id, branchPath(access.branch)],
  )
  const rounds = await roundsById(
    sql,
    rows.map(({ round }) => round),
  )
  return rows.map(({ round, code, name, ...act }) => ({
    ...act,
    unit: { code, name },
    round: roundRef(rounds.get(round)!),
  }))
}
