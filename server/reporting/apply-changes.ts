import type { Change, ChangeOutcome, ChangesReceived } from '#core/contract/reports'
import { stateAfter, type ReportState } from '#core/report/state'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { answerNotOffered } from '../reports/services'
import { recheck } from '../checks/recheck'
import { conflict } from '../refusal'
import { mustBeOpen } from '../rounds/closing'
import { moveReport } from '../reports/move'
import { REPORT_COLUMNS, reportPlace, stateOf, type ReportPlace, type ReportRow } from '../reports/place'
import { applyCells, type CellAsked } from '../reports/apply-cells'

/** The report's row; an awaited report gets one with its first change. */
async function rowOf(sql: Sql, place: ReportPlace, access: Access): Promise<ReportRow> {
  if (place.report) return place.report
  const [row] = await sql.query<ReportRow>(
    `INSERT INTO report (round, unit, edition, state) VALUES ($1, $2, $3, 'draft') RETURNING ${REPORT_COLUMNS}`,
    [place.round.id, place.unit.code, place.ready.edition.number],
  )
  await sql.query(
    'INSERT INTO report_event (report, at, person, from_state, to_state) VALUES ($1, $2, $3, $4, $5)',
    [row!.id, nowText(), access.id, 'awaited', 'draft'],
  )
  await answerNotOffered(sql, place.round, place.unit.code, row!.id, place.ready.cells, access.id)
  return row!
}

/**
 * Keeps a list of changes of one report. Each change has its own outcome: one that is refused or in conflict
 * does
 * not hold the others up. A report that the district already has can only be changed with a reason, is looked
 * at
 * again, and its doubts are found anew.
 * @throws Refusal 409 `round-not-open`, `round-closed`, 422 `why-missing`.
 */
export async function applyChanges(
  access: Access,
  roundId: string,
  unit: string,
  origin: string,
  changes: readonly Change[],
): Promise<ChangesReceived> {
  const sql = await database()
  return sql.transaction(async tx => {
    const { state, outcomes } = await keepChanges(tx, access, roundId, unit, changes, { origin })
    return { state, receivedAt: nowText(), outcomes }
  })
}

/** The same inside a transaction. */
export async function keepChanges(
  tx: Sql,
  access: Access,
  roundId: string,
  unit: string,
  changes: readonly CellAsked[],
  where: { origin: string; device?: string },
): Promise<{ state: ReportState; outcomes: ChangeOutcome[] }> {
  const place = await reportPlace(tx, access, roundId, unit, true)
  const { round } = place
  mustBeOpen(round)
  const before: ReportState = stateOf(place.report)
  const received = before === 'sent' || before === 'accepted'
  if (received && changes.some(change => !change.why?.trim()) && !(await allKnown(tx, changes))) {
    throw conflict('why-missing', 'The district has this report already. Say why the value changes.')
  }
  const report = await rowOf(tx, place, access)
  const outcomes = await applyCells(tx, place, report, access, changes, where)
  let state = stateOf(report)
  if (received && outcomes.some(({ outcome }) => outcome === 'received')) {
    state = stateAfter(before, 'change')!
    await moveReport(tx, report, state, access.id, changes[0]!.why ?? null)
    await recheck(tx, { ...place, report }, access.id)
  }
  return { state, outcomes }
}

/** Did all of these come before? What is only sent again, after the report was sent, needs no reason. */
async function allKnown(sql: Sql, changes: readonly CellAsked[]): Promise<boolean> {
  const ids = changes.map(({ id }) => id)
  const [row] = await sql.query<{ count: number }>(
    'SELECT (SELECT count(*) FROM cell_event WHERE id = ANY($1::uuid[])) + (SELECT count(*) FROM known_change WHERE id = ANY($1::uuid[])) AS count',
    [ids],
  )
  return row!.count >= new Set(ids).size
}
