import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { StoredCell } from '#core/contract/reports'
import { groupBy } from '#core/group-by'
import type { CellContent, CellKind, CellValue } from '#core/report/cell'
import { earlierPeriods, historyOf, type History } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { filledBy } from '../access/access'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'
import { receivedOf } from './place'

/** The cells of a report as two texts, and what is no number: a hundred times fewer values to read than rows. */
interface CellTexts {
  report: number
  /** The cells that hold a number, and their numbers in the same order; null where there is none. */
  cells: string | null
  numbers: string | null
  /** Kind, reason and value of the other cells. */
  others: Record<string, [kind: CellKind, reason: string | null, value: CellValue | null]> | null
}

/** For queries: the value of a cell `c` that is no number, as JSON. */
export const otherValue = (c: string): string =>
  `coalesce(to_jsonb(${c}.truth), to_jsonb(${c}.text), to_jsonb(${c}.codes))`

/** The content that the columns of a cell stand for. @param other its value where that is no number */
export function contentOf(
  kind: CellKind,
  value: number | null,
  reason: string | null,
  other: CellValue | null | undefined,
): CellContent {
  if (kind === 'value') return { kind, value: value ?? other! }
  if (kind === 'notKnown') return { kind, reason: reason! }
  return { kind }
}

/** A content as the columns of a cell. */
export function columnsOf(content: CellContent) {
  const value = content.kind === 'value' ? content.value : null
  return {
    kind: content.kind,
    value: typeof value === 'number' ? value : null,
    truth: typeof value === 'boolean' ? value : null,
    text: typeof value === 'string' ? value : null,
    codes: Array.isArray(value) ? (value as readonly string[]) : null,
    reason: content.kind === 'notKnown' ? content.reason : null,
  }
}

/** For queries: the columns that hold a content. */
export const CONTENT_COLUMNS = 'kind, value, truth, text, codes, reason'
/**
 * For queries: cells with their contents as a table, from the JSON of objects with `report`, `cell`,
 * `version` (as needed) and what {@link columnsOf} gives.
 */
export const cellTable = (json: string): string =>
  `jsonb_to_recordset(${json}::jsonb) AS given (report bigint, cell text, version int, kind text, value float8, truth boolean, text text, codes text[], reason text)`

/**
 * The cells of many reports at once, by report. Numbers come as text, which PostgreSQL writes so that the same
 * number is read from it (its manual, 8.1.3).
 * @param only the cells that are read, where not all are
 */
export async function cellsOfReports(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
  only: readonly string[] | null = null,
): Promise<Map<number, CellMap>> {
  if (!reports.length) return new Map()
  const rows = await sql.query<CellTexts>(
    `SELECT report, string_agg(cell, ' ') FILTER (WHERE value IS NOT NULL) AS cells, string_agg(value::text, ' ') AS numbers,
       jsonb_object_agg(cell, jsonb_build_array(kind, reason, ${otherValue('c')})) FILTER (WHERE value IS NULL) AS others
     FROM cell_value c WHERE report = ANY($1::bigint[]) AND ($2::text[] IS NULL OR cell = ANY($2::text[])) GROUP BY report`,
    [reports, only],
  )
  return new Map(rows.map(row => [row.report, cellMapOf(row)]))
}

function cellMapOf({ cells, numbers, others }: CellTexts): CellMap {
  const found: Record<string, CellContent> = {}
  if (cells !== null) {
    const values = numbers!.split(' ')
    for (const [at, cell] of cells.split(' ').entries())
      found[cell] = { kind: 'value', value: Number(values[at]) }
  }
  for (const [cell, [kind, reason, value]] of Object.entries(others ?? {}))
    found[cell] = contentOf(kind, null, reason, value)
  return found
}

/** The cells of many reports with their versions, by report. */
export async function storedCellsOf(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
): Promise<Map<number, StoredCell[]>> {
  const rows = await sql.query<{
    report: number
    cell: string
    kind: CellKind
    value: number | null
    reason: string | null
    other: CellValue | null
    version: number
  }>(
    `SELECT report, cell, kind, value, reason, ${otherValue('c')} AS other, version FROM cell_value c WHERE report = ANY($1::bigint[])`,
    [reports],
  )
  const cells = new Map<number, StoredCell[]>()
  for (const [report, own] of groupBy(rows, row => row.report))
    cells.set(
      report,
      own.map(({ cell, kind, value, reason, other, version }) => ({
        cell,
        version,
        content: contentOf(kind, value, reason, other),
      })),
    )
  return cells
}

/** A place in a round that looks back: its unit, and of which cells, how far. */
export interface LooksBack {
  round: Pick<Round, 'dataset' | 'period'>
  unit: string
  /** The cells that are read, and how far back: an edition as a whole, or what a page shows of it. */
  of: Pick<ReadyEdition, 'lookBack' | 'cells'>
}

/**
 * The received reports of the periods before each of some places, newest first. What several look back at is
 * read once.
 * @param ownOf a person who sees only the reports that they filled: the others are left out.
 * @returns the history of each place, in their order
 */
export async function historiesBefore(
  sql: Pick<Sql, 'query'>,
  places: readonly LooksBack[],
  ownOf: string | null = null,
): Promise<History[]> {
  const asked = places.map(({ round, unit, of }) => {
    const periods = earlierPeriods(must(parsePeriod(round.period)), of.lookBack).map(printPeriod)
    return { periods, keys: periods.map(period => `${round.dataset} ${period} ${unit}`) }
  })
  const keys = [...new Set(asked.flatMap(one => one.keys))].map(key => key.split(' '))
  const reports = await sql.query<{ id: number; key: string }>(
    `SELECT p.id, concat_ws(' ', r.dataset, r.period, p.unit) AS key
     FROM unnest($1::text[], $2::text[], $3::text[]) AS w (dataset, period, unit)
       JOIN round r ON r.dataset = w.dataset AND r.period = w.period JOIN report p ON p.round = r.id AND p.unit = w.unit
     WHERE ${receivedOf('p')} AND ($4::uuid IS NULL OR ${filledBy('p', '$4')})`,
    [
      keys.map(([dataset]) => dataset!),
      keys.map(([, period]) => period!),
      keys.map(([, , unit]) => unit!),
      ownOf,
    ],
  )
  const cells = await cellsOfReports(
    sql,
    reports.map(({ id }) => id),
    [...new Set(places.flatMap(({ of }) => of.cells.map(({ key }) => key)))],
  )
  const byKey = new Map(reports.map(({ id, key }) => [key, cells.get(id) ?? {}]))
  return asked.map(({ periods, keys: own }, at) =>
    historyOf(
      periods,
      own.map(key => byKey.get(key) ?? null),
      places[at]!.of.cells.map(({ key }) => key),
    ),
  )
}
