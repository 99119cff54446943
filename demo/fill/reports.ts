import { groupBy } from '#core/group-by'
import { DATASETS } from '../datasets'
import { PLANTED_ROUNDS } from '../planted'
import type { DemoReport } from '../scenario'
import { readyEdition } from '../../server/datasets/editions'
import type { Sql } from '../../server/database'
import { cellTable, columnsOf, CONTENT_COLUMNS } from '../../server/reports/cells'
import { computeCells } from '../../server/reports/computed-cells'
import { reportKey } from '../../server/reports/place'
import { countAnswers } from '../../server/reports/write-cells'
import { placeReports } from '../../server/units/latest'
import { PERSON_ID } from './places-and-people'

/** When a report that was only begun was begun. */
const BEGUN_AT = '2026-11-07T16:20:00Z'

/** A report that is to be accepted comes in as sent: the doubts decide. */
const stateAtFirst = ({ state, round }: DemoReport) =>
  state === 'accepted' && PLANTED_ROUNDS.has(round) ? 'sent' : state

/** A report with the number that the database gave it. */
type Inserted = DemoReport & { id: number }

/** The rows of all reports, and that they were sent. */
async function insertRows(sql: Sql, reports: readonly DemoReport[]): Promise<Inserted[]> {
  const rows = await sql.query<{ id: number; round: string; unit: string }>(
    `INSERT INTO report (round, unit, edition, state, first_received_at, received_at)
     SELECT round, unit, 1, state, at, at FROM unnest($1::text[], $2::text[], $3::text[], $4::timestamptz[])
       WITH ORDINALITY AS given (round, unit, state, at, place) ORDER BY place RETURNING id, round, unit`,
    [
      reports.map(({ round }) => round),
      reports.map(({ unit }) => unit),
      reports.map(stateAtFirst),
      reports.map(({ receivedAt }) => receivedAt),
    ],
  )
  await sql.query(
    `INSERT INTO report_event (report, at, person, from_state, to_state)
     SELECT id, received_at, ${PERSON_ID("'clerk.' || unit")}, 'draft', 'sent' FROM report WHERE received_at IS NOT NULL ORDER BY id`,
  )
  const idOf = new Map(rows.map(row => [reportKey(row), row.id]))
  return reports.map(report => ({ ...report, id: idOf.get(reportKey(report))! }))
}

/** The cells of some reports, and each cell's first event. */
async function insertCells(sql: Sql, reports: readonly Inserted[]): Promise<void> {
  const cells = reports.flatMap(({ id, cells: own }) =>
    Object.entries(own).map(([cell, content]) => ({ report: id, cell, content })),
  )
  await Promise.all([
    sql.query(
      `INSERT INTO cell_value (report, cell, ${CONTENT_COLUMNS})
       SELECT report, cell, ${CONTENT_COLUMNS} FROM ${cellTable('$1')}`,
      [JSON.stringify(cells.map(({ report, cell, content }) => ({ report, cell, ...columnsOf(content) })))],
    ),
    // Each cell's first answer is an event like any other; its identifier is made from its place.
    sql.query(
      `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new)
       SELECT md5(p.round || ' ' || p.unit || ' ' || cell)::uuid, p.id, cell, coalesce(p.received_at, $1::timestamptz), ${PERSON_ID("'clerk.' || p.unit")}, 'desk', '{"kind":"blank"}', new
       FROM unnest($2::bigint[], $3::text[], $4::jsonb[]) WITH ORDINALITY AS given (report, cell, new, place) JOIN report p ON p.id = given.report ORDER BY place`,
      [
        BEGUN_AT,
        cells.map(({ report }) => report),
        cells.map(({ cell }) => cell),
        cells.map(({ content }) => JSON.stringify(content)),
      ],
    ),
  ])
}

/** All reports with their cells and each cell's first event. */
export async function insertReports(sql: Sql, reports: readonly DemoReport[]): Promise<void> {
  const ready = new Map(DATASETS.map(({ edition }) => [edition.dataset, readyEdition(edition)]))
  const inserted = await insertRows(sql, reports)
  let before: Promise<void> = Promise.resolve()
  for (const own of groupBy(inserted, ({ round }) => round).values()) {
    // The next round is made ready while the engine writes this one.
    const writing = insertCells(sql, own)
    await before
    before = writing
  }
  await before
  for (const [dataset, own] of groupBy(inserted, ({ round }) => round.split('~')[0]!))
    await computeCells(
      sql,
      ready.get(dataset)!,
      own.map(({ id }) => id),
    )
  await placeReports(sql, 'true', [])
  await countAnswers(sql, 'true', [])
}
