/** As far out as three standard deviations are on each side of a normal distribution. */
export const THREE_SD_TAIL = 0.00135

/** A chance this small against the likeliest count's changes no sum that anybody reads. */
const NEGLIGIBLE = 1e-20

/**
 * The chances of each count from `first` on, where `mean` are expected; what is left out on both sides is
 * negligible. Built outwards from the likeliest count and then divided by their sum, so that no large mean
 * underflows to nothing.
 */
function poissonChances(mean: number): { first: number; chances: number[] } {
  const likeliest = Math.floor(mean)
  const below: number[] = []
  const above: number[] = [1]
  for (let count = likeliest, chance = 1; count > 0 && (chance *= count / mean) > NEGLIGIBLE; count--)
    below.push(chance)
  for (let count = likeliest + 1, chance = 1; (chance *= mean / count) > NEGLIGIBLE; count++)
    above.push(chance)
  const weights = [...below.reverse(), ...above]
  const total = weights.reduce((sum, weight) => sum + weight, 0)
  return { first: likeliest - below.length, chances: weights.map(weight => weight / total) }
}

/**
 * The chance of at most `count` events where `mean` are expected, by the Poisson distribution.
 * @example poissonUpTo(2, 2) // 0.6767
 */
export function poissonUpTo(count: number, mean: number): number {
  const { first, chances } = poissonChances(mean)
  return chances.slice(0, Math.max(0, Math.floor(count) - first + 1)).reduce((sum, chance) => sum + chance, 0)
}

/**
 * The counts that are not surprising where `mean` are expected: at most `low − 1`, and at least `high + 1`,
 * come with less than the tail's chance each. Exact, because for small counts a normal range is not even
 * near.
 */
export function poissonRange(mean: number, tail: number = THREE_SD_TAIL): { low: number; high: number } {
  const { first, chances } = poissonChances(mean)
  let low = 0
  for (let sum = chances[0]!; sum < tail; sum += chances[low]!) low++
  let high = chances.length - 1
  for (let sum = chances[high]!; sum < tail; sum += chances[high]!) high--
  return { low: first + low, high: first + high }
}
