import type { DeskChange } from '#core/contract/desk'
import type { LateChange } from '#core/contract/reports'
import type { Sql } from '../database'

/** Changes of reports, which a round can be closed to. */
export type ReportChange = Exclude<DeskChange, { kind: 'entry' }>

/** For queries: a change that the officer has not decided about. */
export const OFFERED = 'outcome IS NULL'

/** What is offered to the officer of one report, in the order in which it arrived. */
export async function lateChangesOf(
  sql: Pick<Sql, 'query'>,
  round: string,
  unit: string,
): Promise<LateChange[]> {
  const rows = await sql.query<Omit<LateChange, 'cell' | 'content'> & { change: ReportChange }>(
    `SELECT l.id, l.change->>'kind' AS kind, l.change, p.display_name AS by, d.name AS device, l.made_at AS "madeAt", l.arrived_at AS "arrivedAt", l.problem
     FROM late_change l JOIN person p ON p.id = l.person JOIN device d ON d.id = l.device
     WHERE l.round = $1 AND l.unit = $2 AND ${OFFERED} ORDER BY l.seq LIMIT 500`,
    [round, unit],
  )
  return rows.map(({ change, ...row }) => ({
    ...row,
    cell: change.kind === 'cell' || change.kind === 'comment' ? change.cell : null,
    content: change.kind === 'cell' ? change.content : null,
  }))
}
