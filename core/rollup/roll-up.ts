import { sumOfCells, type CellMap, type ColumnTable } from '../report/table'
import { cellsOfItem, itemsOf, type Edition, type RollUp } from '../report/edition'

/** A rolled-up number, and how many reports are in it. */
export interface Figure {
  /** null when no report has a number, or when the item is not rolled up. */
  value: number | null
  reportsIn: number
}

/**
 * Rolls one item or cell up over the units of a table: *sum* and *last* (stock at the end) add units up,
 * *mean* averages those that answered, *none* stays unrolled. Blanks are left out, never counted as zero.
 * @param cells the keys that the figure adds up within each report.
 */
export function overUnits(table: ColumnTable, cells: readonly string[], operator: RollUp): Figure {
  const column = sumOfCells(table, cells)
  let sum = 0
  let reportsIn = 0
  for (const value of column) {
    if (Number.isNaN(value)) continue
    sum += value
    reportsIn++
  }
  if (reportsIn === 0 || operator === 'none') return { value: null, reportsIn }
  return { value: operator === 'mean' ? sum / reportsIn : sum, reportsIn }
}

/**
 * How many of some reports offer what these cells count: those that do not answer all of them with *not
 * offered here*.
 */
export const offeringIn = (reports: Iterable<CellMap>, cells: readonly string[]): number =>
  [...reports].filter(report => cells.some(cell => report[cell]?.kind !== 'notOffered')).length

/**
 * The district figure of every item, by its code. Each cell is rolled up by itself, so that a report that
 * lacks one band still counts with the others; an item is the sum of its cells' figures. The figure of an
 * item that is averaged and split is therefore the sum of its bands' means, each over the reports that
 * answered that band.
 */
export function itemFigures(edition: Edition, table: ColumnTable): Map<string, Figure> {
  return new Map(
    itemsOf(edition).map(item => {
      const parts = cellsOfItem(edition, item).map(cell => overUnits(table, [cell.key], item.rollUp))
      const known = parts.filter(part => part.value !== null)
      const value = known.length ? known.reduce((sum, part) => sum + part.value!, 0) : null
      return [item.code, { value, reportsIn: Math.max(0, ...parts.map(part => part.reportsIn)) }] as const
    }),
  )
}
