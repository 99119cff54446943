import type { Change, ChangeOutcome, ChangesReceived } from '#core/contract/reports'
import { checkNumber, sameContent } from '#core/report/cell'
import { stateAfter, type ReportState } from '#core/report/state'
import type { Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { recheck } from '../discrepancies/recheck'
import { conflict } from '../http/refusal'
import { REPORT_COLUMNS, reportPlace, stateOf, type ReportPlace, type ReportRow } from './place'
import { moveReport } from './move'
import { storedCell, writeCell } from './write-cell'

/** The report's row; an awaited report gets one with its first change. */
async function rowOf(sql: Sql, place: ReportPlace, access: Access): Promise<ReportRow> {
  if (place.report) return place.report
  const [row] = await sql.query<ReportRow>(
    `INSERT INTO report (round, unit, edition, state) VALUES ($1, $2, $3, 'draft') RETURNING ${REPORT_COLUMNS}`,
    [place.round.id, place.unit.code, place.ready.edition.number])
  await sql.query('INSERT INTO report_event (report, at, person, from_state, to_state) VALUES ($1, $2, $3, $4, $5)',
    [row!.id, nowText(), access.id, 'awaited', 'draft'])
  return row!
}

/** One change against what stands there. Pure of the report's state: that was settled before. */
async function applyOne(sql: Sql, place: ReportPlace, report: ReportRow, access: Access, change: Change, origin: string): Promise<ChangeOutcome> {
  const { id, cell } = change
  const [known] = await sql.query<{ report: number }>('SELECT report FROM cell_event WHERE id = $1', [id])
  const here = await storedCell(sql, report.id, cell)
  if (known) return { id, cell, outcome: 'alreadyHad', version: here.version }
  const definition = place.ready.cellByKey.get(cell)
  const refused = (code: string, message: string): ChangeOutcome => ({ id, cell, outcome: 'refused', version: here.version, code, message })
  if (!definition) return refused('cell-unknown', `This edition has no cell ${cell}.`)
  if (change.content.kind === 'value') {
    const checked = checkNumber(change.content.value, definition.item.number)
    if (!checked.ok) return refused(checked.problems[0]!.code, checked.problems[0]!.message)
  }
  if (change.base !== here.version) {
    if (sameContent(here.content, change.content)) return { id, cell, outcome: 'alreadyHad', version: here.version }
    const [last] = await sql.query<{ by: string; at: string }>(
      `SELECT coalesce(p.display_name, '') AS by, e.at FROM cell_event e LEFT JOIN person p ON p.id = e.person
       WHERE e.report = $1 AND e.cell = $2 ORDER BY e.seq DESC LIMIT 1`, [report.id, cell])
    return { id, cell, outcome: 'conflict', version: here.version, theirs: { content: here.content, by: last?.by ?? '', at: last?.at ?? nowText() } }
  }
  const version = here.version + 1
  await writeCell(sql, {
    id, report: report.id, cell, old: here.content, content: change.content, version,
    at: nowText(), person: access.id, origin, why: change.why ?? null,
  })
  return { id, cell, outcome: 'received', version }
}

/**
 * Keeps a list of changes of one report. Each change has its own outcome: one that is refused or in conflict does
 * not hold the others up. A report that the district already has can only be changed with a reason, is looked at
 * again, and its doubts are found anew.
 * @throws Refusal 409 `round-not-open`, `round-closed`, 422 `why-missing`.
 */
export async function applyChanges(access: Access, roundId: string, unit: string, origin: string, changes: readonly Change[]): Promise<ChangesReceived> {
  const sql = await database()
  return sql.transaction(async (tx) => {
    const place = await reportPlace(tx, access, roundId, unit, true)
    const { round } = place
    if (now() < Date.parse(round.opensAt)) throw conflict('round-not-open', 'This round has not opened yet.')
    if (now() >= Date.parse(round.closesAt)) throw conflict('round-closed', 'This round is closed to facilities. Ask the district office.')
    const before: ReportState = stateOf(place.report)
    const received = before === 'sent' || before === 'accepted'
    if (received && changes.some(change => !change.why?.trim())) {
      throw conflict('why-missing', 'The district has this report already. Say why the value changes.')
    }
    const report = await rowOf(tx, place, access)
    const outcomes: ChangeOutcome[] = []
    for (const change of changes) outcomes.push(await applyOne(tx, place, report, access, change, origin))
    let state = stateOf(report)
    if (received && outcomes.some(({ outcome }) => outcome === 'received')) {
      state = stateAfter(before, 'change')!
      await moveReport(tx, report, state, access.id, changes[0]!.why ?? null)
      await recheck(tx, { ...place, report }, access.id)
    }
    return { state, receivedAt: nowText(), outcomes }
  })
}
