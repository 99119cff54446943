import Papa from 'papaparse'
import { printDay } from '../calendar/day'
import { fold } from '../form/code'
import { NEEDED_COLUMNS, readUnitRows, UNIT_COLUMNS, type UnitColumn, type UnitFields, type UnitRows } from '../geography/unit-row'
import type { UnitTree } from '../geography/unit-tree'
import { bad, good, type Result } from '../result'
import { writeCsv } from './csv'

/**
 * Reads units from CSV (RFC 4180): commas, semicolons or tabs, any line ends, a byte-order mark or none; columns in any
 * order, known by their heading; blank lines, and the `sep=;` that a spreadsheet writes first, are passed over. Errors:
 * `file-empty`, `csv-quote` (with the line: a quote that is never closed swallows all that follows), `csv-no-column`,
 * `csv-column-twice`.
 */
export function readUnitsCsv(text: string): Result<UnitRows> {
  const plain = text.replace(/^\uFEFF/, '')
  const before = /^(?:[^\S\r\n]*(?:\r\n|\n|\r))*(?:sep=(.)(?:\r\n|\n|\r))?(?:[^\S\r\n]*(?:\r\n|\n|\r))*/.exec(plain)!
  const table = plain.slice(before[0].length)
  const { data, errors } = Papa.parse<string[]>(table, { delimiter: before[1] ?? delimiterOf(table) })
  // A cell may hold line ends of its own: the line of a row is counted, not its place.
  let line = 1 + lineEnds(before[0])
  const lines = data.map((cells) => {
    const own = line
    line += 1 + cells.reduce((sum, cell) => sum + lineEnds(cell), 0)
    return own
  })
  const quote = errors.find(({ type }) => type === 'Quotes')
  if (quote) {
    const at = lines[quote.row ?? 0] ?? line
    return bad({ code: 'csv-quote', message: `A quote (") in line ${at} is not closed, or something stands behind it.`, values: { line: at } })
  }
  const [heading, ...rows] = data
  if (!heading || heading.every(cell => cell.trim() === '')) return bad({ code: 'file-empty', message: 'There is nothing in this file.' })
  const columns = heading.map(cell => fold(cell.trim()))
  const missing = NEEDED_COLUMNS.filter(column => !columns.includes(column))
  if (missing.length) {
    return bad({ code: 'csv-no-column', message: `The heading has no column ${missing.join(', ')}. It may have ${UNIT_COLUMNS.join(', ')}.`, values: { column: missing.join(', '), known: UNIT_COLUMNS.join(', ') } })
  }
  const twice = UNIT_COLUMNS.find(column => columns.indexOf(column) !== columns.lastIndexOf(column))
  if (twice) return bad({ code: 'csv-column-twice', message: `The heading has the column ${twice} twice.`, values: { column: twice } })
  const fieldsOf = (cells: readonly string[]): UnitFields =>
    Object.fromEntries(UNIT_COLUMNS.flatMap(column => (columns.includes(column) ? [[column, undefuse(cells[columns.indexOf(column)] ?? '')]] : [])))
  const filled = rows.map((cells, at) => ({ line: lines[at + 1]!, cells })).filter(({ cells }) => cells.some(cell => cell.trim() !== ''))
  return good(readUnitRows(filled.map(({ line, cells }) => ({ line, fields: fieldsOf(cells) })), heading.filter((cell, at) => cell.trim() !== '' && !UNIT_COLUMNS.includes(columns[at] as UnitColumn))))
}

const lineEnds = (text: string): number => text.match(/\r\n|\n|\r/g)?.length ?? 0

/** The sign that parts the heading most often: it has no quoted cells, so that counting is safe. */
function delimiterOf(text: string): string {
  const heading = text.slice(0, text.search(/[\r\n]|$/))
  return [',', ';', '\t'].reduce((best, sign) => (heading.split(sign).length > heading.split(best).length ? sign : best))
}

/** Takes off the apostrophe that our own export puts before what a spreadsheet would run. */
const undefuse = (cell: string): string => cell.replace(/^'(?='*[-=+@\t\r])/, '')

/** The first and last days of a unit as they go out. */
export const daysOf = (tree: UnitTree, code: string, { from, to }: { from: number; to: number | null }) =>
  ({ opened: printDay(Math.min(from, ...tree.history(code)!.spans.map(span => span.from))), closed: to === null ? null : printDay(to) })

/** The units that are open on a day, parents first, as CSV. */
export function writeUnitsCsv(tree: UnitTree, day: number): string {
  const rows = unitsInOrder(tree, day).map(({ code, name, parent, level, kind, from, to }) => {
    const position = tree.history(code)!.position
    const cells: Record<UnitColumn, string | number | null> = {
      code, name, parent, level, kind, latitude: position?.latitude ?? null, longitude: position?.longitude ?? null,
      ...daysOf(tree, code, { from, to }),
    }
    return UNIT_COLUMNS.map(column => cells[column])
  })
  return writeCsv([[...UNIT_COLUMNS], ...rows])
}

/** All units that are open on a day, parents before children. */
export const unitsInOrder = (tree: UnitTree, day: number) =>
  tree.children(null, day).flatMap(top => [top, ...tree.descendants(top.code, day)])
