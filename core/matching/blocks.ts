import type { Subject } from './subject'

/**
 * A block larger than this says too little: all the people of a common name and year. Its pairs must meet in
 * another.
 */
export const LARGEST_BLOCK = 400

/** Subjects by block key: two records of one person share at least one key. */
export interface Blocks {
  byKey: ReadonlyMap<string, readonly number[]>
  /** Keys that were left out because too many share them, with how many do. */
  leftOut: { key: string; size: number }[]
}

/**
 * A name part by its consonants, so that vowels heard in another way and doubled letters are no difference.
 */
const skeleton = (part: string): string =>
  part[0]! +
  part
    .slice(1)
    .replace(/[aeiouyhw\p{M}]/gu, '')
    .replace(/(.)\1+/gu, '$1')

/**
 * The block keys of a subject. Two records of one person share at least one: the same identifier; the same
 * day of birth; one part of the name in the same years (each stands in all the years that it may be of); both
 * parts by their sound. A slip in one of two name parts leaves the other; a slip in a date leaves its year or
 * the name.
 */
export function keysOf({ name, born, birthYear, birthYearWithin, sex, identifiers }: Subject): string[] {
  const keys = identifiers.map(identifier => `i ${identifier}`)
  if (born?.precision === 'day') {
    const { year, month, day } = born
    // Sorted, so that a day and a month that changed places still meet.
    keys.push(`d ${year} ${Math.min(month, day)} ${Math.max(month, day)} ${sex ?? ''}`)
  }
  // A date that is a year off still meets when each stands in its year and the next; an age in all that it
  // may mean.
  const from = birthYearWithin > 1 ? -birthYearWithin : 0
  for (const part of name) {
    if (birthYear === null) keys.push(`n ${part}`)
    else for (let off = from; off <= birthYearWithin; off++) keys.push(`n ${part} ${birthYear + off}`)
  }
  if (name.length > 1) keys.push(`s ${name.map(skeleton).join(' ')}`)
  return keys
}

/** Sorts subjects into blocks. */
export function blocksOf(subjects: readonly Subject[]): Blocks {
  const byKey = new Map<string, number[]>()
  subjects.forEach((subject, at) => {
    for (const key of keysOf(subject)) {
      const block = byKey.get(key)
      if (block) block.push(at)
      else byKey.set(key, [at])
    }
  })
  const leftOut: Blocks['leftOut'] = []
  for (const [key, block] of byKey) {
    if (block.length <= LARGEST_BLOCK) continue
    leftOut.push({ key, size: block.length })
    byKey.delete(key)
  }
  return { byKey, leftOut }
}

/** The places of those that share a block with a subject, each once. */
export function candidatesFor(subject: Subject, { byKey }: Blocks): Set<number> {
  const found = new Set<number>()
  for (const key of keysOf(subject)) for (const at of byKey.get(key) ?? []) found.add(at)
  return found
}
