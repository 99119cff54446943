import { groupBy } from '#core/group-by'
import { DATASETS } from '../datasets'
import { PLANTED_ROUNDS } from '../planted'
import type { DemoReport } from '../scenario'
import { readyEdition } from '../../server/datasets/editions'
import type { Sql } from '../../server/database'
import { cellTable, columnsOf, CONTENT_COLUMNS } from '../../server/reports/cells'
import { computeCells } from '../../server/reports/computed-cells'
import { countAnswers } from '../../server/reports/write-cells'
import { placeReports } from '../../server/units/latest'
import { PERSON_ID } from './places-and-people'

/** When a report that was only begun was begun. */
const BEGUN_AT = '2026-11-07T16:20:00Z'

/** A report that is to be accepted comes in as sent: the doubts decide. */
const stateAtFirst = ({ state, round }: DemoReport) =>
  state === 'accepted' && PLANTED_ROUNDS.has(round) ? 'sent' : state

/** The reports of one round with their cells and each cell's first event, in a few statements. */
async function insertRound(sql: Sql, round: string, reports: readonly DemoReport[]): Promise<number[]> {
  const ids = await sql.query<{ id: number; unit: string }>(
    `INSERT INTO report (round, unit, edition, state, first_received_at, received_at)
     SELECT $1, unit, 1, state, at, at FROM unnest($2::text[], $3::text[], $4::timestamptz[]) AS given (unit, state, at) RETURNING id, unit`,
    [
      round,
      reports.map(({ unit }) => unit),
      reports.map(stateAtFirst),
      reports.map(({ receivedAt }) => receivedAt),
    ],
  )
  const idOf = new Map(ids.map(({ id, unit }) => [unit, id]))
  const cells = reports.flatMap(({ unit, cells: own }) =>
    Object.entries(own).map(([cell, content]) => ({ report: idOf.get(unit)!, cell, content })),
  )
  await sql.query(
    `INSERT INTO cell_value (report, cell, ${CONTENT_COLUMNS})
     SELECT report, cell, ${CONTENT_COLUMNS} FROM ${cellTable('$1')}`,
    [JSON.stringify(cells.map(({ report, cell, content }) => ({ report, cell, ...columnsOf(content) })))],
  )
  // Each cell's first answer is an event like any other; its identifier is made from its place.
  await sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new)
     SELECT md5(p.round || ' ' || p.unit || ' ' || cell)::uuid, p.id, cell, coalesce(p.received_at, $1::timestamptz), ${PERSON_ID("'clerk.' || p.unit")}, 'desk', '{"kind":"blank"}', new
     FROM unnest($2::bigint[], $3::text[], $4::jsonb[]) WITH ORDINALITY AS given (report, cell, new, place) JOIN report p ON p.id = given.report ORDER BY place`,
    [
      BEGUN_AT,
      cells.map(({ report }) => report),
      cells.map(({ cell }) => cell),
      cells.map(({ content }) => JSON.stringify(content)),
    ],
  )
  await sql.query(
    `INSERT INTO report_event (report, at, person, from_state, to_state)
     SELECT id, received_at, ${PERSON_ID("'clerk.' || unit")}, 'draft', 'sent' FROM report WHERE round = $1 AND received_at IS NOT NULL ORDER BY id`,
    [round],
  )
  return ids.map(({ id }) => id)
}

/** All reports with their cells and each cell's first event. */
export async function insertReports(sql: Sql, reports: readonly DemoReport[]): Promise<void> {
  const ready = new Map(DATASETS.map(({ edition }) => [edition.dataset, readyEdition(edition)]))
  for (const [round, own] of groupBy(reports, report => report.round))
    await computeCells(sql, ready.get(round.split('~')[0]!)!, await insertRound(sql, round, own))
  await placeReports(sql, 'true', [])
  await countAnswers(sql, 'true', [])
}
