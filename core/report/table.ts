import { computingDay, parsePartialDate } from '../calendar/partial-date'
import type { CellContent, CellKind, CellValue } from './cell'

/** The kinds of content as the columns of a table hold them. */
export const KIND_CODES: Record<CellKind, number> = { blank: 0, value: 1, notKnown: 2, notOffered: 3 }

/** Where a unit sent no report at all: its cells are neither blank nor answered. */
export const NO_REPORT = 4

/** Entries of a case (or rows of a repeat) that rows of a table can count. */
export interface CountedList {
  table: ColumnTable
  /** For each the row of the counting table that it belongs to; −1 for none. */
  rowOf: Int32Array
}

/**
 * Many reports (or entries, or cases) as columns: for each cell one `Float64Array` over the rows, in which
 * anything but a number is NaN. Arithmetic with a blank is blank, and IEEE 754 does just that with NaN, so no
 * second array has to be read in the inner loops; numbers from outside are checked on input (`checkNumber`).
 * The kinds tell the blanks apart where that matters. Days are day numbers, truths are 1 and 0.
 */
export interface ColumnTable {
  /** How many rows. */
  size: number
  /** The numbers of a cell, NaN where there is none. */
  numbers(cell: string): Float64Array
  /** The kinds of a cell, as {@link KIND_CODES}, or {@link NO_REPORT}. */
  kinds(cell: string): Uint8Array
  /** Does every row offer the cell? Then no kind has to be read to add it up. */
  offered(cell: string): boolean
  /** The same units' rows so many periods earlier; undefined when nothing is known so far back. */
  back?(periods: number): ColumnTable | undefined
  /** The same units' rows of the same period a year earlier. */
  yearBefore?(): ColumnTable | undefined
  /** Texts and chosen codes of a cell, null where there is none. */
  texts?(cell: string): readonly (string | null)[]
  /** Several chosen codes. */
  answers?(cell: string): readonly (readonly string[] | null)[]
  /**
   * What stands before a dot: the same units in another dataset rolled up to this period, or the parent case;
   * row by row.
   */
  other?(code: string): ColumnTable | undefined
  /** What can be counted. */
  list?(code: string): CountedList | undefined
  /** How many cases a count makes, for each row, where it was counted beforehand. @param text as it is printed */
  counted?(text: string): Float64Array | undefined
  /** First or last day of each row's period. */
  days?(which: 'start' | 'end'): Float64Array
}

export type CellMap = Readonly<Record<string, CellContent>>

/**
 * A value as expressions reckon with it: a truth is 1 or 0, a day its day number; NaN for what is no number.
 */
export function numberIn(value: CellValue): number {
  if (typeof value === 'number') return value
  if (typeof value === 'boolean') return +value
  if (typeof value !== 'string') return NaN
  const day = parsePartialDate(value)
  return day.ok ? computingDay(day.value) : NaN
}

const textIn = (value: CellValue | null): string | null => (typeof value === 'string' ? value : null)
const answersIn = (value: CellValue | null): readonly string[] | null =>
  typeof value === 'object' ? value : null

/** A table from reports held as maps of cells; null where a unit sent none. */
export function tableOf(reports: readonly (CellMap | null)[]): ColumnTable {
  const numbers = new Map<string, Float64Array>()
  const kinds = new Map<string, Uint8Array>()
  const once = <T>(made: Map<string, T>, cell: string, make: () => T): T => {
    let found = made.get(cell)
    if (found === undefined) made.set(cell, (found = make()))
    return found
  }
  const valuesOf = (cell: string) =>
    reports.map(report => {
      const content = report?.[cell]
      return content?.kind === 'value' ? content.value : null
    })
  return {
    size: reports.length,
    numbers: cell =>
      once(numbers, cell, () => {
        // By loops: `Float64Array.from` takes twice as long, and a form does this for each cell at each key.
        const column = new Float64Array(reports.length).fill(NaN)
        for (let row = 0; row < reports.length; row++) {
          const content = reports[row]?.[cell]
          if (content?.kind === 'value') column[row] = numberIn(content.value)
        }
        return column
      }),
    texts: cell => valuesOf(cell).map(textIn),
    answers: cell => valuesOf(cell).map(answersIn),
    kinds: cell =>
      once(kinds, cell, () => {
        const column = new Uint8Array(reports.length).fill(NO_REPORT)
        for (let row = 0; row < reports.length; row++) {
          const report = reports[row]
          if (report) column[row] = KIND_CODES[report[cell]?.kind ?? 'blank']
        }
        return column
      }),
    offered: cell => reports.every(report => report?.[cell]?.kind !== 'notOffered'),
  }
}

/** What a table is put together from when its columns are there already, as they come out of a database. */
export interface Columns {
  size: number
  numbers: ReadonlyMap<string, Float64Array>
  /**
   * Only for cells that have other blanks than plain ones; the kinds of all others follow from their numbers.
   */
  kinds?: ReadonlyMap<string, Uint8Array>
  /** The values of cells that hold anything else than numbers. */
  values?: ReadonlyMap<string, readonly (CellValue | null)[]>
}

/** A table over columns, without copying them. A cell that has no column is blank in every row. */
export function tableOfColumns({ size, numbers, kinds, values }: Columns): ColumnTable {
  const valuesOf = (cell: string) => values?.get(cell) ?? new Array<null>(size).fill(null)
  const derived = new Map<string, Uint8Array>()
  let blank: Float64Array | undefined
  const offered = new Map<string, boolean>()
  return {
    size,
    numbers: cell => numbers.get(cell) ?? (blank ??= new Float64Array(size).fill(NaN)),
    texts: cell => valuesOf(cell).map(textIn),
    answers: cell => valuesOf(cell).map(answersIn),
    kinds(cell) {
      const known = kinds?.get(cell) ?? derived.get(cell)
      if (known) return known
      const given = values?.get(cell)
      const column = given
        ? Uint8Array.from(given, value => +(value !== null))
        : Uint8Array.from(
            numbers.get(cell) ?? (blank ??= new Float64Array(size).fill(NaN)),
            value => +!Number.isNaN(value),
          )
      derived.set(cell, column)
      return column
    },
    offered(cell) {
      let known = offered.get(cell)
      if (known === undefined) offered.set(cell, (known = !kinds?.get(cell)?.includes(KIND_CODES.notOffered)))
      return known
    },
  }
}

/**
 * The sum of some cells over a stretch of rows. A service that is not offered adds nothing; any other blank
 * makes the sum blank; nothing but not offered is blank too, because then there is nothing to compare.
 * @param into where the sums go, from its beginning.
 */
export function addCells(
  table: ColumnTable,
  cells: readonly string[],
  into: Float64Array,
  start: number,
  length: number,
): void {
  const allOffered = cells.every(cell => table.offered(cell))
  if (allOffered) {
    addColumns(
      cells.map(cell => table.numbers(cell)),
      into,
      start,
      length,
    )
    return
  }
  const offered = new Uint8Array(length)
  into.fill(0, 0, length)
  for (const cell of cells) {
    const numbers = table.numbers(cell)
    const kinds = table.kinds(cell)
    for (let row = 0; row < length; row++) {
      if (kinds[start + row] === KIND_CODES.notOffered) continue
      offered[row] = 1
      into[row]! += numbers[start + row]!
    }
  }
  for (let row = 0; row < length; row++) if (!offered[row]) into[row] = NaN
}

/** Adds columns up: the first two into the sum, then two more at a time. */
function addColumns(
  columns: readonly Float64Array[],
  into: Float64Array,
  start: number,
  length: number,
): void {
  const [first, second] = columns
  if (!first) into.fill(NaN, 0, length)
  else if (!second) for (let row = 0; row < length; row++) into[row] = first[start + row]!
  else for (let row = 0; row < length; row++) into[row] = first[start + row]! + second[start + row]!
  for (let next = 2; next < columns.length; next += 2) {
    const one = columns[next]!
    const other = columns[next + 1]
    if (other) for (let row = 0; row < length; row++) into[row]! += one[start + row]! + other[start + row]!
    else for (let row = 0; row < length; row++) into[row]! += one[start + row]!
  }
}

/** The sum of some cells over each row: the column itself when there is one cell. */
export function sumOfCells(table: ColumnTable, cells: readonly string[]): Float64Array {
  if (cells.length === 1) return table.numbers(cells[0]!)
  const sum = new Float64Array(table.size)
  addCells(table, cells, sum, 0, table.size)
  return sum
}

/**
 * For each row 1 when none of the cells is blank, else 0: *not known* and *not offered* are answers too, a
 * missing report is none.
 */
export function answered(table: ColumnTable, cells: readonly string[]): Float64Array {
  const columns = cells.map(cell => table.kinds(cell))
  return Float64Array.from(
    { length: table.size },
    (_, row) => +columns.every(kinds => kinds[row] !== KIND_CODES.blank && kinds[row] !== NO_REPORT),
  )
}

/**
 * One report (the only row of a table) over and over, with another number in one of its cells each time: for
 * asking what a rule would say of other values.
 */
export function withEachValue(table: ColumnTable, cell: string, values: readonly number[]): ColumnTable {
  const size = values.length
  const repeat = (of: ColumnTable): ColumnTable => ({
    size,
    numbers: key => new Float64Array(size).fill(of.numbers(key)[0]!),
    kinds: key => new Uint8Array(size).fill(of.kinds(key)[0]!),
    offered: key => of.offered(key),
    texts: key => new Array<string | null>(size).fill(of.texts?.(key)[0] ?? null),
    answers: key => new Array<readonly string[] | null>(size).fill(of.answers?.(key)[0] ?? null),
    back(periods) {
      const earlier = periods === 0 ? of : of.back?.(periods)
      return earlier && repeat(earlier)
    },
    yearBefore() {
      const earlier = of.yearBefore?.()
      return earlier && repeat(earlier)
    },
    other(code) {
      const other = of.other?.(code)
      return other && repeat(other)
    },
    counted(text) {
      const column = of.counted?.(text)
      return column && new Float64Array(size).fill(column[0]!)
    },
    ...(of.days && { days: (which: 'start' | 'end') => new Float64Array(size).fill(of.days!(which)[0]!) }),
  })
  const all = repeat(table)
  return {
    ...all,
    numbers: key => (key === cell ? Float64Array.from(values) : all.numbers(key)),
    kinds: key => (key === cell ? new Uint8Array(size).fill(KIND_CODES.value) : all.kinds(key)),
    offered: key => key === cell || all.offered(key),
  }
}
