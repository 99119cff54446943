/**
 * How much a common beginning adds, and how long it may be: Winkler 1990, “String comparator metrics and
 * enhanced decision rules”.
 */
const PREFIX_WEIGHT = 0.1
const LONGEST_PREFIX = 4

/** Letters that were matched, reused from call to call: comparing asks for no memory. */
let matchedOne = new Uint8Array(64)
let matchedOther = new Uint8Array(64)

/**
 * The Jaro similarity: the share of common letters not too far apart, less half of those out of order (Jaro
 * 1989).
 * @returns 0 for nothing in common, 1 for the same text.
 */
export function jaro(one: string, other: string): number {
  if (one === other) return one.length ? 1 : 0
  if (one.length > matchedOne.length) matchedOne = new Uint8Array(one.length * 2)
  if (other.length > matchedOther.length) matchedOther = new Uint8Array(other.length * 2)
  matchedOne.fill(0, 0, one.length)
  matchedOther.fill(0, 0, other.length)
  const reach = Math.max(0, (Math.max(one.length, other.length) >> 1) - 1)
  let common = 0
  for (let at = 0; at < one.length; at++) {
    const last = Math.min(other.length - 1, at + reach)
    for (let there = Math.max(0, at - reach); there <= last; there++) {
      if (matchedOther[there] || one.charCodeAt(at) !== other.charCodeAt(there)) continue
      matchedOne[at] = matchedOther[there] = 1
      common++
      break
    }
  }
  if (common === 0) return 0
  let outOfOrder = 0
  for (let at = 0, there = 0; at < one.length; at++) {
    if (!matchedOne[at]) continue
    while (!matchedOther[there]) there++
    if (one.charCodeAt(at) !== other.charCodeAt(there)) outOfOrder++
    there++
  }
  return (common / one.length + common / other.length + (common - outOfOrder / 2) / common) / 3
}

/**
 * The Jaro-Winkler similarity: {@link jaro}, raised by a common beginning.
 * @example jaroWinkler('martha', 'marhta') // 0.961
 */
export function jaroWinkler(one: string, other: string): number {
  const base = jaro(one, other)
  let prefix = 0
  while (prefix < LONGEST_PREFIX && prefix < one.length && one[prefix] === other[prefix]) prefix++
  return base + prefix * PREFIX_WEIGHT * (1 - base)
}
