import { sumOfCells, type ColumnTable } from '../report/table'
import type { RollUp } from '../report/edition'

/** A rolled-up number, and how many reports are in it. */
export interface Figure {
  /** null when no report has a number, or when the item is not rolled up. */
  value: number | null
  reportsIn: number
}

/**
 * Rolls one item or cell up over the units of a table: *sum* and *last* (stock at the end) add units up, *mean*
 * averages those that answered, *none* stays unrolled. Blanks are left out, never counted as zero.
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
 * Rolls the figures of consecutive periods up into one: *sum* adds, *mean* averages the known, *last* takes the
 * latest known.
 */
export function overPeriods(figures: readonly Figure[], operator: RollUp): Figure {
  const known = figures.filter(figure => figure.value !== null)
  const reportsIn = known.reduce((sum, figure) => sum + figure.reportsIn, 0)
  const last = known.at(-1)
  if (!last || operator === 'none') return { value: null, reportsIn }
  if (operator === 'last') return { value: last.value, reportsIn }
  const sum = known.reduce((total, figure) => total + figure.value!, 0)
  return { value: operator === 'mean' ? sum / known.length : sum, reportsIn }
}
