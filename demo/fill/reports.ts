import { MONTHLY_SUMMARY } from '../monthly/edition'
import type { DemoReport } from '../scenario'
import type { Sql } from '../../server/database'
import { cellTable, columnsOf, CONTENT_COLUMNS } from '../../server/reports/cells'
import { countAnswers } from '../../server/reports/write-cells'
import { placeReports } from '../../server/units/latest'
import { PERSON_ID } from './places-and-people'

/** A report that is to be accepted comes in as sent: the doubts decide. */
const stateAtFirst = (report: DemoReport, last: string) =>
  report.state === 'accepted' && report.round === last ? 'sent' : report.state

async function insertReport(sql: Sql, report: DemoReport, state: string): Promise<void> {
  const [row] = await sql.query<{ id: number }>(
    `INSERT INTO report (round, unit, edition, state, first_received_at, received_at) VALUES ($1, $2, $3, $4, $5, $5) RETURNING id`,
    [report.round, report.unit, MONTHLY_SUMMARY.number, state, report.receivedAt],
  )
  const cells = Object.entries(report.cells)
  await sql.query(
    `INSERT INTO cell_value (report, cell, ${CONTENT_COLUMNS}) SELECT $1, cell, ${CONTENT_COLUMNS} FROM ${cellTable('$2')}`,
    [row!.id, JSON.stringify(cells.map(([cell, content]) => ({ cell, ...columnsOf(content) })))],
  )
  // Each cell's first answer is an event like any other; its identifier is made from its place.
  await sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new)
     SELECT md5($2 || ' ' || $3 || ' ' || cell)::uuid, $1, cell, $4::timestamptz, ${PERSON_ID("'clerk.' || $3")}, 'desk', '{"kind":"blank"}', new
     FROM unnest($5::text[], $6::jsonb[]) AS given (cell, new)`,
    [
      row!.id,
      report.round,
      report.unit,
      report.receivedAt ?? '2026-11-07T16:20:00Z',
      cells.map(([key]) => key),
      cells.map(([, content]) => JSON.stringify(content)),
    ],
  )
  if (report.receivedAt) {
    await sql.query(
      `INSERT INTO report_event (report, at, person, from_state, to_state) VALUES ($1, $2::timestamptz, ${PERSON_ID("'clerk.' || $3")}, 'draft', 'sent')`,
      [row!.id, report.receivedAt, report.unit],
    )
  }
}

/** All reports with their cells and each cell's first event. */
export async function insertReports(sql: Sql, reports: readonly DemoReport[]): Promise<void> {
  const last = reports.at(-1)!.round
  for (const report of reports) await insertReport(sql, report, stateAtFirst(report, last))
  await placeReports(sql, 'true', [])
  await countAnswers(sql, 'true', [])
}
