import { numberKind, type Cell, type RangeMethod } from '../report/edition'
import type { ColumnTable } from '../report/table'
import { ceilNear, floorNear, nearlyEqual, withoutNoise } from '../nearly-equal'
import { mean } from './mean'
import { robustScale } from './robust-scale'
import { poissonRange } from './poisson'
import { standardDeviation } from './standard-deviation'

/** How many periods before the tested one are looked at, and how many of them must be known. */
export const RANGE_PERIODS = 12
export const FEWEST_PERIODS = 6

/**
 * Under this mean a count scatters more than a dozen values can tell, so a range of mean and standard
 * deviation is shown but raises no doubt. The exact bound for small counts has its own method.
 */
export const SMALL_COUNT = 10

export interface ExpectedRange {
  method: RangeMethod['method']
  /** The lowest and highest value that raise no doubt. Counts: whole numbers. */
  low: number
  high: number
  /**
   * The middle of the history (mean, or median for the modified z-score); null when there is none to speak
   * of.
   */
  mean: number | null
  /** How many earlier values it was made from. */
  count: number
}

/** The ends of the range, before they are rounded to what an item can hold. */
function ends(
  known: readonly number[],
  method: RangeMethod,
): { low: number; high: number; middle: number | null } {
  switch (method.method) {
    case 'meanSd': {
      const middle = mean(known)
      const reach = method.k * standardDeviation(known)
      return { low: middle - reach, high: middle + reach, middle }
    }
    case 'modifiedZ': {
      const { median, scale } = robustScale(known)
      return { low: median - method.limit * scale, high: median + method.limit * scale, middle: median }
    }
    case 'poisson': {
      const middle = mean(known)
      return { ...poissonRange(middle, method.tail), middle }
    }
    case 'fixed':
      return { low: method.low, high: method.high, middle: known.length ? mean(known) : null }
  }
}

/**
 * The range in which the next value is expected, never below zero, by the item's method: mean ± k sample
 * standard deviations (extreme is over 3, moderate 2 to 3: WHO data quality review toolkit 2017, desk review;
 * from memory), modified z-score by median and MAD, the exact Poisson bound for small counts, or fixed limits
 * that somebody typed.
 * @param earlier the values of the periods before, newest first, without the tested one; NaN for a blank.
 * @returns null when fewer than {@link FEWEST_PERIODS} are known and the method needs them.
 */
export function expectedRange(
  earlier: readonly number[],
  method: RangeMethod,
  number: 'count' | 'decimal' = 'count',
): ExpectedRange | null {
  const known = earlier.slice(0, RANGE_PERIODS).filter(value => !Number.isNaN(value))
  if (method.method !== 'fixed' && known.length < FEWEST_PERIODS) return null
  const { low, high, middle } = ends(known, method)
  const least = Math.max(0, low)
  return {
    method: method.method,
    low: number === 'count' ? ceilNear(least) : withoutNoise(least),
    high: number === 'count' ? floorNear(high) : withoutNoise(high),
    mean: middle,
    count: known.length,
  }
}

/**
 * The values of a cell in the periods before one report of a table, newest first; NaN where there is none.
 */
export const valuesBefore = (cell: string, table: ColumnTable, row: number): number[] =>
  Array.from({ length: RANGE_PERIODS }, (_, step) => table.back?.(step + 1)?.numbers(cell)[row] ?? NaN)

/** The expected range of a cell at one report of a table, from the same unit's reports before it. */
export function expectedRangeBefore(cell: Cell, table: ColumnTable, row: number): ExpectedRange | null {
  if (!cell.item.range) return null
  return expectedRange(valuesBefore(cell.key, table, row), cell.item.range, numberKind(cell.item) ?? 'count')
}

/** Is a value far enough out, on a base broad enough, to ask about it? A blank is not. */
export const raisesDoubt = (range: ExpectedRange, value: number): boolean =>
  (range.method !== 'meanSd' || (range.mean ?? 0) >= SMALL_COUNT) &&
  (value < range.low || value > range.high) &&
  !nearlyEqual(value, range.low) &&
  !nearlyEqual(value, range.high)
