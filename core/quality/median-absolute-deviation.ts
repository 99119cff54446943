import { median } from './median'

/**
 * The median of the distances from the median (MAD): a spread that a few wild values cannot stretch
 * (NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.6).
 * @example medianAbsoluteDeviation([1, 1, 2, 2, 4, 6, 9]) // 1
 */
export function medianAbsoluteDeviation(values: ArrayLike<number>): number {
  const middle = median(values)
  return median(Float64Array.from(values, value => Math.abs(value - middle)))
}
