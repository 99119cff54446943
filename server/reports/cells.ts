import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { StoredCell } from '#core/contract/reports'
import type { CellContent, CellKind, CellValue } from '#core/report/cell'
import { earlierPeriods, historyOf, type History } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { filledBy } from '../access/access'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'
import { receivedOf } from './place'

/** For queries: the value of a cell `c` that is no number, as JSON. */
export const otherValue = (c: string): string =>
  `coalesce(to_jsonb(${c}.truth), to_jsonb(${c}.text), to_jsonb(${c}.codes))`

/** The content of a cell that holds no number. */
function contentOf(kind: CellKind, reason: string | null, value: CellValue | null): CellContent {
  if (kind === 'value') return { kind, value: value! }
  if (kind === 'notKnown') return { kind, reason: reason! }
  return { kind }
}

/** What a cell holds, by the names of its columns. Those that are not there are NULL. */
interface CellColumns {
  kind: CellKind
  value?: number
  truth?: boolean
  text?: string
  codes?: readonly string[]
  reason?: string
}

/** A content as the columns of a cell: one at most besides its kind, so that a thousand cells are a short text. */
export function columnsOf(content: CellContent): CellColumns {
  const { kind } = content
  if (kind === 'notKnown') return { kind, reason: content.reason }
  if (kind !== 'value') return { kind }
  const { value } = content
  if (typeof value === 'number') return { kind, value }
  if (typeof value === 'boolean') return { kind, truth: value }
  return typeof value === 'string' ? { kind, text: value } : { kind, codes: value }
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
 * The cells of a report as texts, and what is no number: a hundred times fewer values to read than rows. Numbers
 * come as PostgreSQL writes them, so that the same number is read from it (its manual, 8.1.3).
 */
interface CellTexts {
  report: number
  /** The cells that hold a number, and their numbers in the same order; null where there is none. */
  cells: string | null
  numbers: string | null
  /** Kind, reason and value of the other cells. */
  others: Record<string, [kind: CellKind, reason: string | null, value: CellValue | null]> | null
}
/** For queries: the same of the cells `c`, grouped by report. JSON as a text takes half of the time of `jsonb`. */
const cellTexts = (c: string): string =>
  `${c}.report, string_agg(${c}.cell, ' ') FILTER (WHERE ${c}.value IS NOT NULL) AS cells, string_agg(${c}.value::text, ' ') AS numbers,
   json_object_agg(${c}.cell, json_build_array(${c}.kind, ${c}.reason, ${otherValue(c)})) FILTER (WHERE ${c}.value IS NULL) AS others`

/** Reads texts. @param take gets each cell with its content, and its place among the numbers where it holds one */
function readTexts(
  { cells, numbers, others }: CellTexts,
  take: (cell: string, content: CellContent, place: number | null) => void,
): void {
  if (cells !== null) {
    const values = numbers!.split(' ')
    for (const [at, cell] of cells.split(' ').entries())
      take(cell, { kind: 'value', value: Number(values[at]) }, at)
  }
  for (const [cell, [kind, reason, value]] of Object.entries(others ?? {}))
    take(cell, contentOf(kind, reason, value), null)
}

/**
 * The cells of many reports at once, by report.
 * @param only the cells that are read, where not all are
 */
export async function cellsOfReports(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
  only: readonly string[] | null = null,
): Promise<Map<number, CellMap>> {
  if (!reports.length) return new Map()
  const rows = await sql.query<CellTexts>(
    `SELECT ${cellTexts('c')} FROM cell_value c
     WHERE c.report = ANY($1::bigint[]) AND ($2::text[] IS NULL OR c.cell = ANY($2::text[])) GROUP BY c.report`,
    [reports, only],
  )
  return new Map(
    rows.map(row => {
      const found: Record<string, CellContent> = {}
      readTexts(row, (cell, content) => (found[cell] = content))
      return [row.report, found]
    }),
  )
}

/** The cells of a report with their versions. */
export interface VersionedTexts extends CellTexts {
  /** Of the cells that hold a number, in their order. */
  versions: string | null
  otherVersions: Record<string, number> | null
}
/** For queries: the same of the cells `c`, grouped by report. */
export const versionedTexts = (c: string): string =>
  `${cellTexts(c)}, string_agg(${c}.version::text, ' ') FILTER (WHERE ${c}.value IS NOT NULL) AS versions,
   json_object_agg(${c}.cell, ${c}.version) FILTER (WHERE ${c}.value IS NULL) AS "otherVersions"`

/** The cells that texts hold. */
export function storedCells(row: VersionedTexts): StoredCell[] {
  const found: StoredCell[] = []
  const versions = row.versions?.split(' ')
  readTexts(row, (cell, content, place) => {
    const version = place === null ? row.otherVersions![cell]! : Number(versions![place])
    found.push({ cell, content, version })
  })
  return found
}

/** The cells of many reports with their versions, by report. */
export async function storedCellsOf(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
): Promise<Map<number, StoredCell[]>> {
  const rows = await sql.query<VersionedTexts>(
    `SELECT ${versionedTexts('c')} FROM cell_value c WHERE c.report = ANY($1::bigint[]) GROUP BY c.report`,
    [reports],
  )
  return new Map(rows.map(row => [row.report, storedCells(row)]))
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
  if (!places.length) return []
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
