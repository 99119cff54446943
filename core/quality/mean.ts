/**
 * The arithmetic mean: the sum over the count.
 * @returns NaN for no values.
 * @example mean([1, 2, 6]) // 3
 */
export function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length
}
