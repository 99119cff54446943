import type { Subject } from './subject'

/** A block larger than this says too little: all the people of a common name and year. Its pairs must meet in another. */
export const LARGEST_BLOCK = 400

/** Subjects by the keys that they share with whoever they could be. */
export interface Blocks {
  byKey: ReadonlyMap<string, readonly number[]>
  /** Keys that were left out because too many share them, with how many do. */
  leftOut: { key: string; size: number }[]
}

/** A name part by its consonants, so that vowels heard in another way and doubled letters are no difference. */
const skeleton = (part: string): string => part[0]! + part.slice(1).replace(/[aeiouyhw]/g, '').replace(/(.)\1+/g, '$1')

/**
 * The keys under which a subject is looked for. Whoever could be the same shares at least one: the same identifier; the
 * same day of birth; one part of the name in the same years (a year off still meets, because each stands in two); both
 * parts by their sound. A slip in one of two name parts leaves the other; a slip in a date leaves its year or the name.
 */
export function keysOf({ name, born, birthYear, sex, identifiers }: Subject): string[] {
  const keys = identifiers.map(identifier => `i ${identifier}`)
  if (born?.precision === 'day') {
    const { year, month, day } = born
    // Sorted, so that a day and a month that changed places still meet.
    keys.push(`d ${year} ${Math.min(month, day)} ${Math.max(month, day)} ${sex ?? ''}`)
  }
  for (const part of name) {
    if (birthYear !== null) keys.push(`n ${part} ${birthYear}`, `n ${part} ${birthYear + 1}`)
    else keys.push(`n ${part}`)
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
    // A common identifier is a finding, however many share it.
    if (block.length <= LARGEST_BLOCK || key.startsWith('i ')) continue
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
