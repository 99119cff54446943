import type { CellContent, CellKind } from './cell'

const KIND_CODES: Record<CellKind, number> = { blank: 0, value: 1, notKnown: 2, notOffered: 3 }
const NOT_OFFERED = KIND_CODES.notOffered

/**
 * Many reports of one edition as columns: for each cell one `Float64Array` over the reports, in which anything
 * but a number is NaN. Arithmetic with a blank is blank, and IEEE 754 does just that with NaN, so no second
 * array has to be read in the inner loops; numbers from outside are checked at the door (`checkNumber`).
 * The kinds tell the blanks apart where that matters.
 */
export interface ReportTable {
  /** How many reports (rows). */
  size: number
  /** The numbers of a cell, NaN where there is none. */
  numbers(cell: string): Float64Array
  /** The kinds of a cell, coded. */
  kinds(cell: string): Uint8Array
  /** The same units' reports so many periods earlier; undefined when nothing is known so far back. */
  back(periods: number): ReportTable | undefined
}

export type CellMap = Readonly<Record<string, CellContent>>

/** A table from reports held as maps of cells. `earlier[0]` are the same units one period back, row by row. */
export function tableOf(reports: readonly CellMap[], earlier: readonly (readonly CellMap[])[] = []): ReportTable {
  const size = reports.length
  const numbers = new Map<string, Float64Array>()
  const kinds = new Map<string, Uint8Array>()
  const backTables = new Map<number, ReportTable>()
  return {
    size,
    numbers(cell) {
      let column = numbers.get(cell)
      if (!column) {
        column = Float64Array.from(reports, (report) => {
          const content = report[cell]
          return content?.kind === 'value' ? content.value : NaN
        })
        numbers.set(cell, column)
      }
      return column
    },
    kinds(cell) {
      let column = kinds.get(cell)
      if (!column) {
        column = Uint8Array.from(reports, report => KIND_CODES[report[cell]?.kind ?? 'blank'])
        kinds.set(cell, column)
      }
      return column
    },
    back(periods) {
      if (periods === 0) return this
      const rows = earlier[periods - 1]
      if (!rows) return undefined
      let table = backTables.get(periods)
      if (!table) {
        table = tableOf(rows, earlier.slice(periods))
        backTables.set(periods, table)
      }
      return table
    },
  }
}

/**
 * The sum of some cells over each report. A service that is not offered adds nothing; any other blank makes
 * the sum blank; nothing but not offered is blank too, because then there is nothing to compare.
 */
export function sumOfCells(table: ReportTable, cells: readonly string[]): Float64Array {
  if (cells.length === 1) return table.numbers(cells[0]!)
  const sum = new Float64Array(table.size)
  const offered = new Uint8Array(table.size)
  for (const cell of cells) {
    const numbers = table.numbers(cell)
    const kinds = table.kinds(cell)
    for (let row = 0; row < table.size; row++) {
      if (kinds[row] === NOT_OFFERED) continue
      offered[row] = 1
      sum[row]! += numbers[row]!
    }
  }
  for (let row = 0; row < table.size; row++) if (!offered[row]) sum[row] = NaN
  return sum
}

/** For each report 1 when none of the cells is blank, else 0: *not known* and *not offered* are answers too. */
export function answered(table: ReportTable, cells: readonly string[]): Float64Array {
  const columns = cells.map(cell => table.kinds(cell))
  return Float64Array.from({ length: table.size }, (_, row) => +columns.every(kinds => kinds[row] !== KIND_CODES.blank))
}
