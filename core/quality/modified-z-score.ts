import { robustScale, robustScaleOf } from './robust-scale'

/** Beyond this a value is suspicious: Iglewicz and Hoaglin, “How to detect and handle outliers”, 1993. */
export const SUSPICIOUS_Z = 3.5

/**
 * The modified z-score: 0.6745 (x − median) / MAD (NIST/SEMATECH e-Handbook of Statistical Methods,
 * 1.3.5.17).
 * @returns ±Infinity for a value beside a row of equal ones.
 */
export function modifiedZScore(value: number, values: readonly number[]): number {
  const { median, scale } = robustScale(values)
  return value === median ? 0 : (value - median) / scale
}

/**
 * Ranges of many series at once, each series of one unit over its periods. NaN where fewer than `fewest` are
 * known.
 */
export interface RangeColumns {
  low: Float64Array
  high: Float64Array
}

/** So many units at a time: their values stay in the processor's nearest cache. */
const BLOCK = 128

/** Room for the known values of one block, kept from cell to cell. */
let known = new Float64Array(0)
const counts = new Int32Array(BLOCK)

/**
 * The ranges of a cell at many units by the modified z-score: median ± limit × scale.
 * @param values the value of a unit in a period is at `period × units + unit`; NaN for blank.
 */
export function modifiedZRanges(
  values: Float64Array,
  units: number,
  fewest: number,
  limit = SUSPICIOUS_Z,
): RangeColumns {
  const ranges = { low: new Float64Array(units).fill(NaN), high: new Float64Array(units).fill(NaN) }
  const periods = Math.ceil(values.length / units) | 0
  if (BLOCK * periods > known.length) known = new Float64Array(BLOCK * periods)
  for (let first = 0; first < units; first += BLOCK) {
    const size = Math.min(BLOCK, units - first)
    layOut(values, units, first, size, periods)
    for (let at = 0; at < size; at++) {
      if (counts[at]! < fewest) continue
      const { median, scale } = robustScaleOf(known, at * periods, at * periods + counts[at]!)
      ranges.low[first + at] = median - limit * scale
      ranges.high[first + at] = median + limit * scale
    }
  }
  return ranges
}

/**
 * Copies the known values of a block into one array, unit by unit: strided reads of a large column miss the
 * CPU cache.
 */
function layOut(values: Float64Array, units: number, first: number, size: number, periods: number): void {
  counts.fill(0)
  for (let from = first; from < values.length; from += units) {
    for (let at = 0; at < size; at++) {
      const value = values[from + at]!
      if (value !== value) continue
      const count = counts[at]!
      known[at * periods + count] = value
      counts[at] = count + 1
    }
  }
}
