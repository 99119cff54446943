import type { Cell, RangeMethod } from '../report/edition'
import type { ColumnTable } from '../report/table'
import { mean } from './mean'
import { standardDeviation } from './standard-deviation'

/** How many periods before the tested one are looked at, and how many of them must be known. */
export const RANGE_PERIODS = 12
export const FEWEST_PERIODS = 6

/**
 * Under this mean a count scatters more than a dozen values can tell, so the range is shown but raises no doubt.
 * The exact bound for small counts has its own method.
 */
export const SMALL_COUNT = 10

export interface ExpectedRange {
  /** The lowest and highest value that raise no doubt. Counts: whole numbers. */
  low: number
  high: number
  mean: number
  /** How many earlier values it was made from. */
  count: number
}

/**
 * The range in which the next value is expected: mean ± k sample standard deviations of the known earlier values,
 * never below zero. Extreme is over 3 standard deviations, moderate 2 to 3: common practice in the desk review of
 * routine data.
 * @param earlier the values of the periods before, without the tested one; NaN for a blank.
 * @returns null when fewer than {@link FEWEST_PERIODS} are known.
 */
export function expectedRange(earlier: readonly number[], method: RangeMethod, number: 'count' | 'decimal' = 'count'): ExpectedRange | null {
  const known = earlier.slice(0, RANGE_PERIODS).filter(value => !Number.isNaN(value))
  if (known.length < FEWEST_PERIODS) return null
  const middle = mean(known)
  const reach = method.k * standardDeviation(known)
  const low = Math.max(0, middle - reach)
  const high = middle + reach
  return {
    low: number === 'count' ? Math.ceil(low) : low,
    high: number === 'count' ? Math.floor(high) : high,
    mean: middle,
    count: known.length,
  }
}

/** The expected range of a cell at one report of a table, from the same unit's reports before it. */
export function expectedRangeBefore(cell: Cell, table: ColumnTable, row: number): ExpectedRange | null {
  if (!cell.item.range) return null
  const earlier = Array.from({ length: RANGE_PERIODS }, (_, step) => table.back(step + 1)?.numbers(cell.key)[row] ?? NaN)
  return expectedRange(earlier, cell.item.range, cell.item.number)
}

/** Is a value far enough out, on a base broad enough, to ask about it? A blank is not. */
export const raisesDoubt = (range: ExpectedRange, value: number): boolean =>
  range.mean >= SMALL_COUNT && (value < range.low || value > range.high)
