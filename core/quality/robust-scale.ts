import { medianOfSorted } from './median'

/**
 * 0.6745 is the MAD of the standard normal distribution, so that a score in steps of the scale reads like a
 * z-score.
 */
const NORMAL_MAD = 0.6745

/**
 * The mean absolute deviation of the standard normal distribution, √(2/π), turned over: for spreads whose MAD
 * is zero.
 */
const NORMAL_MEAN_DEVIATION = 1.253314

/** Middle and spread of a series: one step of the modified z-score is one `scale`. */
export interface RobustScale {
  median: number
  /**
   * MAD / 0.6745; where more than half of the values are alike, 1.253314 × the mean absolute deviation; 0
   * when all are.
   */
  scale: number
}

/**
 * Middle and spread of some values, none of them NaN. Reports hold mostly counts, whole numbers close together:
 * those are tallied and never sorted, which is much faster.
 */
export function robustScale(values: readonly number[]): RobustScale {
  const numbers = Float64Array.from(values)
  return ofTally(numbers) ?? ofSorted(numbers)
}

/** From the median and the median distance to the scale. */
function scaled(median: number, mad: number, numbers: Float64Array): RobustScale {
  if (mad > 0) return { median, scale: mad / NORMAL_MAD }
  let sum = 0
  for (const number of numbers) sum += Math.abs(number - median)
  return { median, scale: (NORMAL_MEAN_DEVIATION * sum) / numbers.length }
}

/** Whole numbers this far to each side of the first one are tallied. */
const REACH = 128
const tally = new Int32Array(2 * REACH)
let places = new Int32Array(64)

/**
 * How often each number is there; null when one is not whole or too far from the first. The tally is empty
 * before and after.
 */
function ofTally(numbers: Float64Array): RobustScale | null {
  const count = numbers.length
  if (count > places.length) places = new Int32Array(count)
  const base = numbers[0]! - REACH
  let least: number = REACH
  let met = 0
  for (; met < count; met++) {
    const value = numbers[met]!
    const place = (value - base) | 0
    if (place + base !== value || place < 0 || place >= 2 * REACH) break
    places[met] = place
    tally[place]!++
    if (place < least) least = place
  }
  const found = met === count ? middleOfTally(count, least) : null
  while (met-- > 0) tally[places[met]!] = 0
  return found && scaled(base + found.median, found.mad, numbers)
}

/** Median and MAD are where the tallies add up to half. */
function middleOfTally(count: number, least: number): { median: number; mad: number } {
  // The two in the middle; the same one for an odd count.
  const lower = (count + 1) >> 1
  const upper = (count >> 1) + 1
  let place = least
  let met = tally[place]!
  while (met < lower) met += tally[++place]!
  const first = place
  while (met < upper) met += tally[++place]!
  // Walk outwards from the median, which is at one place or between two: both sides have equal distances.
  let left = (first + place) >> 1
  let right = (first + place + 1) >> 1
  met = left === right ? tally[left]! : tally[left]! + tally[right]!
  let near = -1
  while (met < upper) {
    if (near < 0 && met >= lower) near = right - left
    if (--left >= 0) met += tally[left]!
    if (++right < 2 * REACH) met += tally[right]!
  }
  const far = right - left
  return { median: (first + place) / 2, mad: (far + (near < 0 ? far : near)) / 4 }
}

/**
 * Sorts, and finds the median of the distances without sorting those too. The numbers within a distance of
 * the median stand side by side, so that the k-th smallest distance is the least that any k neighbours need
 * to reach both their ends.
 */
function ofSorted(numbers: Float64Array): RobustScale {
  const count = numbers.length
  numbers.sort()
  const median = medianOfSorted(numbers)
  const distance = (neighbours: number) => {
    let least = Infinity
    for (let first = 0; first + neighbours <= count; first++) {
      least = Math.min(least, Math.max(median - numbers[first]!, numbers[first + neighbours - 1]! - median))
    }
    return least
  }
  return scaled(median, (distance((count + 1) >> 1) + distance((count >> 1) + 1)) / 2, numbers)
}
