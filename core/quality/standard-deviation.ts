import { mean } from './mean'

/**
 * The sample standard deviation: the root of the summed squares about the mean over n − 1 (NIST/SEMATECH
 * e-Handbook of Statistical Methods, 1.3.5.6).
 * @returns NaN for fewer than two values.
 * @example standardDeviation([2, 4, 4, 4, 5, 5, 7, 9]) // 2.138…
 */
export function standardDeviation(values: readonly number[]): number {
  if (values.length < 2) return NaN
  const middle = mean(values)
  const squares = values.reduce((sum, value) => sum + (value - middle) ** 2, 0)
  return Math.sqrt(squares / (values.length - 1))
}
