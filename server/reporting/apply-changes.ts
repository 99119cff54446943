import type { DeskOutcome } from '#core/contract/desk'
import { isReceived } from '#core/report/state'
import type { Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { conflict } from '../refusal'
import type { CellAsked, ChangeOrigin } from '../reports/apply-cells'
import { knownChanges } from '../reports/known-cells'
import {
  REPORT_COLUMNS,
  lockedPlace,
  placeKey,
  reportKey,
  stateOf,
  type BegunPlace,
  type ReportPlace,
  type ReportRow,
} from '../reports/place'
import { answerNotOffered } from '../reports/services'
import { mustBeOpen } from '../rounds/closing'
import { placeReports } from '../units/latest'

/** Some places with their reports' rows, in their order; an awaited report gets one with its first change. */
export async function beginReports(
  sql: Sql,
  places: readonly ReportPlace[],
  access: Access,
): Promise<BegunPlace[]> {
  const awaited = places.filter(({ report }) => !report)
  if (!awaited.length) return places as BegunPlace[]
  const rows = await sql.query<ReportRow>(
    `INSERT INTO report (round, unit, edition, state)
     SELECT round, unit, edition, 'draft' FROM unnest($1::text[], $2::text[], $3::int[]) AS g (round, unit, edition)
     RETURNING ${REPORT_COLUMNS}`,
    [
      awaited.map(({ round }) => round.id),
      awaited.map(({ unit }) => unit.code),
      awaited.map(({ ready }) => ready.edition.number),
    ],
  )
  const ids = rows.map(({ id }) => id)
  await sql.query(
    `INSERT INTO report_event (report, at, person, from_state, to_state)
     SELECT report, $2, $3, 'awaited', 'draft' FROM unnest($1::bigint[]) AS report`,
    [ids, nowText(), access.id],
  )
  await placeReports(sql, 'p.id = ANY($1::bigint[])', [ids])
  const begun = new Map(rows.map(row => [reportKey(row), row]))
  const all = places.map(place => ({ ...place, report: place.report ?? begun.get(placeKey(place))! }))
  await answerNotOffered(
    sql,
    all.filter((_, at) => !places[at]!.report),
    access.id,
  )
  return all
}

/** The same of one. */
export const beginReport = async (sql: Sql, place: ReportPlace, access: Access): Promise<BegunPlace> =>
  (await beginReports(sql, [place], access))[0]!

/**
 * Applies a facility's changes of one report, in the transaction of the caller. Each change has its own
 * outcome: if one is refused or in conflict, the others are still applied. A report that the district has can
 * only be changed with a reason.
 * @throws Refusal 409 `round-not-open`, `round-closed`, `why-missing`.
 */
export async function applyChanges(
  tx: Sql,
  access: Access,
  roundId: string,
  unit: string,
  changes: readonly CellAsked[],
  where: ChangeOrigin,
): Promise<DeskOutcome[]> {
  const place = await lockedPlace(tx, access, roundId, unit)
  mustBeOpen(place.round)
  const needsWhy = isReceived(stateOf(place.report)) && changes.some(({ why }) => !why?.trim())
  if (needsWhy && !(await allKnown(tx, changes)))
    throw conflict('why-missing', 'The district has this report already. Say why the value changes.')
  return changeReport(tx, await beginReport(tx, place, access), access, changes, where)
}

/** Did all of these come before? What is only sent again, after the report was sent, needs no reason. */
async function allKnown(sql: Sql, changes: readonly CellAsked[]): Promise<boolean> {
  const ids = changes.map(({ id }) => id)
  const known = await knownChanges(sql, ids)
  return ids.every(id => known.has(id))
}
