import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { CellContent, CellKind } from '#core/report/cell'
import { earlierPeriods, historyOf, type History } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { filledBy } from '../access/access'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'

interface CellColumns {
  report: number
  cells: string[]
  kinds: CellKind[]
  numbers: (number | null)[]
  reasons: (string | null)[]
}

/** The content that the three columns of a cell stand for. */
export function contentOf(kind: CellKind, value: number | null, reason: string | null): CellContent {
  if (kind === 'value') return { kind, value: value! }
  if (kind === 'notKnown') return { kind, reason: reason! }
  return { kind }
}

/** A content as the columns kind, value and reason. */
export function columnsOf(content: CellContent): [CellKind, number | null, string | null] {
  return [
    content.kind,
    content.kind === 'value' ? content.value : null,
    content.kind === 'notKnown' ? content.reason : null,
  ]
}

/** The cells of many reports at once, by report. Arrays, not rows: a hundred times fewer objects to make. */
export async function cellsOfReports(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
): Promise<Map<number, CellMap>> {
  const rows = await sql.query<CellColumns>(
    `SELECT report, array_agg(cell) AS cells, array_agg(kind) AS kinds, array_agg(value) AS numbers, array_agg(reason) AS reasons
     FROM cell_value WHERE report = ANY($1::bigint[]) GROUP BY report`,
    [reports],
  )
  return new Map(
    rows.map(row => [
      row.report,
      Object.fromEntries(
        row.cells.map((cell, at) => [cell, contentOf(row.kinds[at]!, row.numbers[at]!, row.reasons[at]!)]),
      ),
    ]),
  )
}

/** Reads the cells of reports: {@link cellsOfReports}, or one that has read some of them before. */
export type CellReader = typeof cellsOfReports

/** A reader for several reports of one unit, which look back at the same earlier ones: it reads each once. */
export function readOnce(): CellReader {
  const known = new Map<number, CellMap>()
  return async (sql, reports) => {
    const found = await cellsOfReports(
      sql,
      reports.filter(id => !known.has(id)),
    )
    for (const id of reports) if (!known.has(id)) known.set(id, found.get(id) ?? {})
    return new Map(reports.map(id => [id, known.get(id)!]))
  }
}

/**
 * A unit's received reports of the periods before a round, newest first.
 * @param of the cells that are read, and how far back: an edition as a whole, or what a page shows of it.
 * @param ownOf a person who sees only the reports that they filled: the others are left out.
 * @param read reads their cells
 */
export async function historyBefore(
  sql: Pick<Sql, 'query'>,
  round: Round,
  unit: string,
  of: Pick<ReadyEdition, 'lookBack' | 'cells'>,
  ownOf: string | null = null,
  read: CellReader = cellsOfReports,
): Promise<History> {
  const periods = earlierPeriods(must(parsePeriod(round.period)), of.lookBack).map(printPeriod)
  const reports = await sql.query<{ id: number; period: string }>(
    `SELECT p.id, r.period FROM report p JOIN round r ON r.id = p.round
     WHERE r.dataset = $1 AND r.period = ANY($2::text[]) AND p.unit = $3 AND p.state IN ('sent', 'accepted')
       AND ($4::uuid IS NULL OR ${filledBy('p', '$4')})`,
    [round.dataset, periods, unit, ownOf],
  )
  const cells = await read(
    sql,
    reports.map(({ id }) => id),
  )
  const byPeriod = new Map(reports.map(report => [report.period, cells.get(report.id) ?? {}]))
  return historyOf(
    periods,
    periods.map(period => byPeriod.get(period) ?? null),
    of.cells.map(({ key }) => key),
  )
}
