/**
 * The middle value of the sorted values, or the mean of the two in the middle.
 * @returns NaN for no values.
 * @example median([3, 1, 2, 10]) // 2.5
 */
export function median(values: ArrayLike<number>): number {
  const sorted = Float64Array.from(values).sort()
  return medianOfSorted(sorted, sorted.length)
}

/** The median of the first `count` numbers of an array that is sorted so far. */
export function medianOfSorted(sorted: Float64Array, count: number): number {
  const middle = count >> 1
  return count % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}
