import { cellsOfItem, type Edition } from '#core/report/edition'
import { tableOf, type CellMap, type ColumnTable } from '#core/report/table'
import type { KnownFigure } from '#core/rollup/effect'
import { overUnits, type Figure } from '#core/rollup/roll-up'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { cellsOfReports } from '../reports/cells'
import { REPORT_COLUMNS, type ReportRow } from '../reports/place'
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
 * @param counted the states in which a report's figures count: those of received ones, if nothing else is said.
 */
export async function roundReports(
  sql: Pick<Sql, 'query'>, round: Round, branch: string | null,
  counted: readonly ReportRow['state'][] = ['sent', 'accepted'],
): Promise<RoundReports> {
  const expected = await expectedUnits(sql, round, branch)
  const rows = await sql.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report WHERE round = $1 AND unit = ANY($2::text[])`, [round.id, expected.map(({ code }) => code)])
  const received = rows.filter(({ state }) => counted.includes(state))
  const cells = await cellsOfReports(sql, received.map(({ id }) => id))
  return {
    expected,
    reports: new Map(rows.map(row => [row.unit, row])),
    received: new Map(received.map(row => [row.unit, cells.get(row.id) ?? {}])),
  }
}

/** The district figure of every item, by its code; items that are not rolled up are left out. */
export function itemFigures(edition: Edition, table: ColumnTable): Map<string, Figure> {
  const figures = edition.sections.flatMap(section => section.items).map((item) => {
    const keys = cellsOfItem(edition, item).map(cell => cell.key)
    // Each cell is rolled up by itself, so that a report that lacks one band still counts with the others.
    const parts = keys.map(key => overUnits(table, [key], item.rollUp))
    const known = parts.filter(part => part.value !== null)
    const value = known.length ? known.reduce((sum, part) => sum + part.value!, 0) : null
    return [item.code, { value, reportsIn: Math.max(0, ...parts.map(part => part.reportsIn)) }] as const
  })
  return new Map(figures)
}

/**
 * The figures of {@link itemFigures} that exist, for measuring effects. A report that was sent back is counted too:
 * its figures will enter again, and its doubts are about them.
 */
export async function figuresForEffects(sql: Pick<Sql, 'query'>, round: Round, district: string, ready: ReadyEdition): Promise<Map<string, KnownFigure>> {
  const { received } = await roundReports(sql, round, district, ['sent', 'accepted', 'sentBack'])
  const figures = itemFigures(ready.edition, tableOf([...received.values()]))
  return new Map([...figures].flatMap(([item, { value, reportsIn }]) => (value === null ? [] : [[item, { value, reportsIn }]])))
}
