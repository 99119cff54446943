import { robustScale, robustScaleOf } from './robust-scale'

/** Beyond this a value is suspicious: Iglewicz and Hoaglin, “How to detect and handle outliers”, 1993. */
export const SUSPICIOUS_Z = 3.5

/**
 * The modified z-score: 0.6745 (x − median) / MAD (NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.17).
 * @returns ±Infinity for a value beside a row of equal ones.
 */
export function modifiedZScore(value: number, values: readonly number[]): number {
  const { median, scale } = robustScale(values)
  return value === median ? 0 : (value - median) / scale
}

/** Ranges of many series at once, each series of one unit over its periods. NaN where fewer than `fewest` are known. */
export interface RangeColumns {
  low: Float64Array
  high: Float64Array
}

/** Room for the known values of all units, kept from cell to cell. */
let known = new Float64Array(0)

/**
 * The ranges of a cell at many units by the modified z-score: median ± limit × scale.
 * @param values the value of a unit in a period is at `period × units + unit`; NaN for blank.
 */
export function modifiedZRanges(values: Float64Array, units: number, fewest: number, limit = SUSPICIOUS_Z): RangeColumns {
  const ranges = { low: new Float64Array(units).fill(NaN), high: new Float64Array(units).fill(NaN) }
  const periods = Math.ceil(values.length / units) | 0
  // Read once from end to end and laid out unit by unit: jumping through a large column waits for memory each time.
  if (values.length > known.length) known = new Float64Array(values.length)
  const counts = new Int32Array(units)
  for (let from = 0; from < values.length; from += units) {
    for (let unit = 0; unit < units; unit++) {
      const value = values[from + unit]!
      if (value === value) known[unit * periods + counts[unit]!++] = value
    }
  }
  for (let unit = 0; unit < units; unit++) {
    if (counts[unit]! < fewest) continue
    const { median, scale } = robustScaleOf(known, unit * periods, unit * periods + counts[unit]!)
    ranges.low[unit] = median - limit * scale
    ranges.high[unit] = median + limit * scale
  }
  return ranges
}
