/**
 * The middle one of values that are sorted, or the mean of the two in the middle.
 * @returns NaN for no values.
 * @example medianOfSorted([1, 2, 3, 10]) // 2.5
 */
export function medianOfSorted(sorted: ArrayLike<number>): number {
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}
