import Papa from 'papaparse'
import { printDay } from '../calendar/day'
import {
  readUnitRows,
  UNIT_COLUMNS,
  type UnitColumn,
  type UnitFields,
  type UnitRows,
} from '../geography/unit-row'
import type { UnitTree } from '../geography/unit-tree'
import { bad, good, type Result } from '../result'
import { writeCsv } from './csv'
import {
  matchColumns,
  matchOf,
  type ColumnMatch,
  type HeadingMemory,
  type UnitHeadings,
} from './unit-columns'

/** A file of units cut into its cells, each row with the line on which it begins. */
export interface UnitTable {
  heading: string[]
  rows: { line: number; cells: string[] }[]
}

/**
 * Cuts CSV (RFC 4180) into cells: commas, semicolons or tabs, any line ends, a byte-order mark or none; blank
 * lines, and the `sep=;` that a spreadsheet writes first, are passed over. Errors: `file-empty`, `csv-quote`
 * (with the line: a quote that is never closed swallows all that follows).
 */
export function cutUnitsCsv(text: string): Result<UnitTable> {
  const plain = text.replace(/^\uFEFF/, '')
  const before = /^(?:[^\S\r\n]*(?:\r\n|\n|\r))*(?:sep=(.)(?:\r\n|\n|\r))?(?:[^\S\r\n]*(?:\r\n|\n|\r))*/.exec(
    plain,
  )!
  const table = plain.slice(before[0].length)
  const { data, errors } = Papa.parse<string[]>(table, { delimiter: before[1] ?? delimiterOf(table) })
  // A cell may hold line ends of its own: the line of a row is counted, not its place.
  let line = 1 + lineEnds(before[0])
  const lines = data.map(cells => {
    const own = line
    line += 1 + cells.reduce((sum, cell) => sum + lineEnds(cell), 0)
    return own
  })
  const quote = errors.find(({ type }) => type === 'Quotes')
  if (quote) {
    const at = lines[quote.row ?? 0] ?? line
    return bad({
      code: 'csv-quote',
      message: `A quote (") in line ${at} is not closed, or something stands behind it.`,
      values: { line: at },
    })
  }
  const [heading, ...rows] = data
  if (!heading || heading.every(cell => cell.trim() === ''))
    return bad({ code: 'file-empty', message: 'There is nothing in this file.' })
  const filled = rows
    .map((cells, at) => ({ line: lines[at + 1]!, cells }))
    .filter(({ cells }) => cells.some(cell => cell.trim() !== ''))
  return good({ heading: heading.map(cell => cell.trim()), rows: filled })
}

/** The columns of a file: those that a person chose, else as {@link matchColumns} finds them. */
export const columnsOf = (
  { heading }: UnitTable,
  chosen?: UnitHeadings,
  memory?: HeadingMemory,
): ColumnMatch =>
  chosen ? matchOf([...new Set(heading.filter(Boolean))], chosen) : matchColumns(heading, memory)

/**
 * Reads the rows of a file by its columns, which may stand in any order. Errors: `csv-no-column`,
 * `csv-column-twice`.
 */
export function readUnitsTable(
  { heading, rows }: UnitTable,
  { columns, missing }: ColumnMatch,
): Result<UnitRows> {
  if (missing.length) {
    return bad({
      code: 'csv-no-column',
      message: `The heading has no column ${missing.join(', ')}. It may have ${UNIT_COLUMNS.join(', ')}.`,
      values: { column: missing.join(', '), known: UNIT_COLUMNS.join(', ') },
    })
  }
  const twice = Object.values(columns).find(name => heading.indexOf(name) !== heading.lastIndexOf(name))
  if (twice)
    return bad({
      code: 'csv-column-twice',
      message: `The heading has the column ${twice} twice.`,
      values: { column: twice },
    })
  const fieldsOf = (cells: readonly string[]): UnitFields =>
    Object.fromEntries(
      Object.entries(columns).map(([column, name]) => [column, undefuse(cells[heading.indexOf(name)] ?? '')]),
    )
  const used = new Set(Object.values(columns))
  return good(
    readUnitRows(
      rows.map(({ line, cells }) => ({ line, fields: fieldsOf(cells) })),
      heading.filter(name => name && !used.has(name)),
    ),
  )
}

const lineEnds = (text: string): number => text.match(/\r\n|\n|\r/g)?.length ?? 0

/** The sign that parts the heading most often: it has no quoted cells, so that counting is safe. */
function delimiterOf(text: string): string {
  const heading = text.slice(0, text.search(/[\r\n]|$/))
  return [',', ';', '\t'].reduce((best, sign) =>
    heading.split(sign).length > heading.split(best).length ? sign : best,
  )
}

/** Takes off the apostrophe that our own export puts before what a spreadsheet would run. */
const undefuse = (cell: string): string => cell.replace(/^'(?='*[-=+@\t\r])/, '')

/** The first and last days of a unit as they go out. */
export const daysOf = (tree: UnitTree, code: string, { from, to }: { from: number; to: number | null }) => ({
  opened: printDay(Math.min(from, ...tree.history(code)!.spans.map(span => span.from))),
  closed: to === null ? null : printDay(to),
})

/** The units that are open on a day, parents first, as CSV. */
export function writeUnitsCsv(tree: UnitTree, day: number): string {
  const rows = unitsInOrder(tree, day).map(({ code, name, parent, level, kind, from, to }) => {
    const position = tree.history(code)!.position
    const cells: Record<UnitColumn, string | number | null> = {
      code,
      name,
      parent,
      level,
      kind,
      latitude: position?.latitude ?? null,
      longitude: position?.longitude ?? null,
      ...daysOf(tree, code, { from, to }),
    }
    return UNIT_COLUMNS.map(column => cells[column])
  })
  return writeCsv([[...UNIT_COLUMNS], ...rows])
}

/** All units that are open on a day, parents before children. */
export const unitsInOrder = (tree: UnitTree, day: number) =>
  tree.children(null, day).flatMap(top => [top, ...tree.descendants(top.code, day)])
