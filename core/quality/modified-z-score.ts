import { medianOfSorted } from './median'

/** Beyond this a value is suspicious: Iglewicz and Hoaglin, “How to detect and handle outliers”, 1993. */
export const SUSPICIOUS_Z = 3.5

/** 0.6745 is the MAD of the standard normal distribution, so that the score reads like a z-score. */
const NORMAL_MAD = 0.6745

/** The mean absolute deviation of the standard normal distribution, √(2/π), turned over: for spreads whose MAD is zero. */
const NORMAL_MEAN_DEVIATION = 1.253314

/** Middle and spread of a series: one step of the score is one `scale`. */
export interface RobustScale {
  median: number
  /** MAD / 0.6745; where more than half of the values are alike, 1.253314 × the mean absolute deviation; 0 when all are. */
  scale: number
}

/** The scale of the first `count` numbers of a scratch array, which it sorts and overwrites. */
export function robustScaleIn(scratch: Float64Array, count: number): RobustScale {
  sortFirst(scratch, count)
  const median = medianOfSorted(scratch, count)
  let sum = 0
  for (let at = 0; at < count; at++) sum += scratch[at] = Math.abs(scratch[at]! - median)
  sortFirst(scratch, count)
  const mad = medianOfSorted(scratch, count)
  return { median, scale: mad > 0 ? mad / NORMAL_MAD : NORMAL_MEAN_DEVIATION * sum / count }
}

/** Insertion sort: for two dozen numbers nothing is faster, and it asks for no memory. */
function sortFirst(numbers: Float64Array, count: number): void {
  for (let at = 1; at < count; at++) {
    const value = numbers[at]!
    let place = at - 1
    for (; place >= 0 && numbers[place]! > value; place--) numbers[place + 1] = numbers[place]!
    numbers[place + 1] = value
  }
}

/** Middle and spread of some values. */
export const robustScale = (values: ArrayLike<number>): RobustScale => robustScaleIn(Float64Array.from(values), values.length)

/**
 * The modified z-score: 0.6745 (x − median) / MAD (NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.17).
 * @returns ±Infinity for a value beside a row of equal ones.
 */
export function modifiedZScore(value: number, values: ArrayLike<number>): number {
  const { median, scale } = robustScale(values)
  return value === median ? 0 : (value - median) / scale
}

/** Ranges of many series at once, each series of one unit over its periods. NaN where fewer than `fewest` are known. */
export interface RangeColumns {
  low: Float64Array
  high: Float64Array
}

/**
 * The ranges of a cell at many units by the modified z-score: median ± limit × scale.
 * @param values the value of a unit in a period is at `period × units + unit`; NaN for blank.
 */
export function modifiedZRanges(values: Float64Array, units: number, fewest: number, limit = SUSPICIOUS_Z): RangeColumns {
  const periods = values.length / units
  const scratch = new Float64Array(periods)
  const ranges = { low: new Float64Array(units).fill(NaN), high: new Float64Array(units).fill(NaN) }
  for (let unit = 0; unit < units; unit++) {
    let count = 0
    for (let at = unit; at < values.length; at += units) {
      const value = values[at]!
      if (value === value) scratch[count++] = value
    }
    if (count < fewest) continue
    const { median, scale } = robustScaleIn(scratch, count)
    ranges.low[unit] = median - limit * scale
    ranges.high[unit] = median + limit * scale
  }
  return ranges
}
