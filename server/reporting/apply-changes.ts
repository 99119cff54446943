import type { DeskOutcome } from '#core/contract/desk'
import { isReceived } from '#core/report/state'
import type { Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { conflict } from '../refusal'
import type { CellAsked, ChangeOrigin } from '../reports/apply-cells'
import { knownChanges } from '../reports/known-cells'
import { REPORT_COLUMNS, lockedPlace, stateOf, type ReportPlace, type ReportRow } from '../reports/place'
import { answerNotOffered } from '../reports/services'
import { mustBeOpen } from '../rounds/closing'
import { placeReports } from '../units/latest'

/** The report's row; an awaited report gets one with its first change. */
export async function beginReport(sql: Sql, place: ReportPlace, access: Access): Promise<ReportRow> {
  if (place.report) return place.report
  const [row] = await sql.query<ReportRow>(
    `INSERT INTO report (round, unit, edition, state) VALUES ($1, $2, $3, 'draft') RETURNING ${REPORT_COLUMNS}`,
    [place.round.id, place.unit.code, place.ready.edition.number],
  )
  await sql.query(
    'INSERT INTO report_event (report, at, person, from_state, to_state) VALUES ($1, $2, $3, $4, $5)',
    [row!.id, nowText(), access.id, 'awaited', 'draft'],
  )
  await placeReports(sql, 'p.id = $1', [row!.id])
  await answerNotOffered(sql, place.round, place.unit.code, row!.id, place.ready.cells, access.id)
  return row!
}

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
  return changeReport(tx, { ...place, report: await beginReport(tx, place, access) }, access, changes, where)
}

/** Did all of these come before? What is only sent again, after the report was sent, needs no reason. */
async function allKnown(sql: Sql, changes: readonly CellAsked[]): Promise<boolean> {
  const ids = changes.map(({ id }) => id)
  const known = await knownChanges(sql, ids)
  return ids.every(id => known.has(id))
}
