import { stateAfter, type ReportState } from '#core/report/state'
import { nowText } from '../clock'
import type { Sql } from '../database'
import type { ReportRow } from './place'
import { reportChanged } from './write-cells'

/** Notes in the history of a report that it moved. */
const noteMove = (
  sql: Sql,
  { id, state }: ReportRow,
  to: ReportState,
  { at, person, why }: { at: string; person: string; why: string | null },
): Promise<object[]> =>
  sql.query(
    'INSERT INTO report_event (report, at, person, from_state, to_state, why) VALUES ($1, $2, $3, $4, $5, $6)',
    [id, at, person, state, to, why],
  )

/**
 * Moves a report to a state and notes who did it and why. Coming in for the first time fixes when it was
 * received.
 */
export async function moveReport(
  sql: Sql,
  report: ReportRow,
  to: ReportState,
  person: string,
  why: string | null = null,
): Promise<void> {
  if (report.state === to) return
  const at = nowText()
  const arrives = to === 'sent' && report.state !== 'accepted'
  await sql.query(
    `UPDATE report SET state = $2,
       received_at = CASE WHEN $3 THEN $4::timestamptz ELSE received_at END,
       first_received_at = CASE WHEN $3 THEN coalesce(first_received_at, $4::timestamptz) ELSE first_received_at END
     WHERE id = $1`,
    [report.id, to, arrives, at],
  )
  await noteMove(sql, report, to, { at, person, why })
  await reportChanged(sql, report.id)
}

/**
 * Puts a report that was sent by mistake back to how it was: with its facility, and with the days of its receipt
 * as they were. One that nobody had begun is a draft without answers.
 */
export async function undoSend(
  sql: Sql,
  report: ReportRow,
  before: Pick<ReportRow, 'firstReceivedAt' | 'receivedAt'> & { state: ReportState },
  person: string,
  why: string,
): Promise<void> {
  const to = stateAfter(report.state, before.state === 'sentBack' ? 'sendBack' : 'undoSend')
  if (!to) return
  // The figures are of the district for the last time: they are computed anew without this report.
  await reportChanged(sql, report.id)
  await sql.query('UPDATE report SET state = $2, first_received_at = $3, received_at = $4 WHERE id = $1', [
    ...[report.id, to, before.firstReceivedAt, before.receivedAt],
  ])
  await noteMove(sql, report, to, { at: nowText(), person, why })
}
