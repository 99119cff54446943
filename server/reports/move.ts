import type { ReportState } from '#core/report/state'
import { nowText } from '../clock'
import type { Sql } from '../database'
import type { ReportRow } from './place'
import { figuresChanged } from './write-cells'

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
  await sql.query(
    'INSERT INTO report_event (report, at, person, from_state, to_state, why) VALUES ($1, $2, $3, $4, $5, $6)',
    [report.id, at, person, report.state, to, why],
  )
  await figuresChanged(sql, report.id)
}
