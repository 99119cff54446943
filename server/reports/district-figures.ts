import { RECEIVED_STATES } from '#core/report/state'
import { tableOf, type CellMap } from '#core/report/table'
import type { DistrictFigures } from '#core/rollup/effect'
import { isAmount, itemFigures, overUnits, type Figure } from '#core/rollup/roll-up'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { cellsOfReports } from './cells'
import { REPORT_COLUMNS, type ReportRow } from './place'
import type { Round } from '../rounds/round'
import { expectedUnits, type ExpectedUnit } from '../units/expected-units'

/** The reports of one round within a branch, and the received ones as a table. */
export interface RoundReports {
  expected: ExpectedUnit[]
  /** By unit; awaited ones are missing. */
  reports: Map<string, ReportRow>
  /** Cells of the received reports, by unit. */
  received: Map<string, CellMap>
}

/**
 * Reads a round within a branch.
 * @param counted the states in which a report's figures count: those of received ones, if nothing else is
 *   said.
 */
export async function roundReports(
  sql: Pick<Sql, 'query'>,
  round: Round,
  branch: string | null,
  counted: readonly ReportRow['state'][] = RECEIVED_STATES,
): Promise<RoundReports> {
  const expected = await expectedUnits(sql, round, branch)
  const rows = await sql.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report WHERE round = $1 AND unit = ANY($2::text[])`,
    [round.id, expected.map(({ code }) => code)],
  )
  const received = rows.filter(({ state }) => counted.includes(state))
  const cells = await cellsOfReports(
    sql,
    received.map(({ id }) => id),
  )
  return {
    expected,
    reports: new Map(rows.map(row => [row.unit, row])),
    received: new Map(received.map(row => [row.unit, cells.get(row.id) ?? {}])),
  }
}

/**
 * The figures that exist, for measuring effects: of the items, and of each cell. A report that was sent back
 * is counted too: its figures will enter again, and its doubts are about them.
 */
export async function figuresForEffects(
  sql: Pick<Sql, 'query'>,
  round: Round,
  district: string,
  ready: ReadyEdition,
): Promise<DistrictFigures> {
  const { received } = await roundReports(sql, round, district, ['sent', 'accepted', 'sentBack'])
  const table = tableOf([...received.values()])
  const amounts = new Set(ready.cells.flatMap(({ item }) => (isAmount(item.rollUp) ? [item.code] : [])))
  const known = (figures: Iterable<readonly [string, Figure]>) =>
    new Map(
      [...figures].flatMap(([code, { value, reportsIn }]) =>
        value === null ? [] : [[code, { value, reportsIn }]],
      ),
    )
  return {
    items: known([...itemFigures(ready.edition, table)].filter(([code]) => amounts.has(code))),
    cells: known(
      ready.cells
        .filter(({ item }) => amounts.has(item.code))
        .map(({ key, item }) => [key, overUnits(table, [key], item.rollUp)]),
    ),
  }
}
