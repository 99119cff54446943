import type { DeskChange } from '#core/contract/desk'
import type { LateChange } from '#core/contract/reports'
import { groupBy } from '#core/group-by'
import type { Sql } from '../database'
import { placeKey, reportKey, type UnitInRound } from './place'

/** Changes of reports, which a round can be closed to. */
export type ReportChange = Exclude<DeskChange, { kind: 'entry' | 'caseAct' }>

/** For queries: a change that the officer has not decided about. */
export const OFFERED = 'outcome IS NULL'

/** So many of one report are shown. */
const MOST = 500

/** What is offered to the officer of some reports, of each in the order in which it arrived. */
export async function lateChangesOf(
  sql: Pick<Sql, 'query'>,
  places: readonly UnitInRound[],
): Promise<(place: UnitInRound) => LateChange[]> {
  const rows = await sql.query<
    Omit<LateChange, 'cell' | 'content'> & { round: string; unit: string; change: ReportChange }
  >(
    `SELECT l.round, l.unit, l.id, l.change->>'kind' AS kind, l.change, p.display_name AS by, d.name AS device, l.made_at AS "madeAt", l.arrived_at AS "arrivedAt", l.problem
     FROM unnest($1::text[], $2::text[]) AS w (round, unit) CROSS JOIN LATERAL (SELECT * FROM late_change c
       WHERE c.round = w.round AND c.unit = w.unit AND ${OFFERED} ORDER BY c.seq LIMIT ${MOST}) l
     JOIN person p ON p.id = l.person JOIN device d ON d.id = l.device ORDER BY l.seq`,
    [places.map(({ round }) => round.id), places.map(({ unit }) => unit.code)],
  )
  const byPlace = groupBy(rows, reportKey)
  return place =>
    (byPlace.get(placeKey(place)) ?? []).map(({ change, round: _, unit: __, ...row }) => ({
      ...row,
      cell: change.kind === 'cell' || change.kind === 'comment' ? change.cell : null,
      content: change.kind === 'cell' ? change.content : null,
    }))
}
