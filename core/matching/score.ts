import { comparePartialDates, possibleDays } from '../calendar/partial-date'
import { jaroWinkler } from './jaro-winkler'
import type { Subject } from './subject'

/** Above this two cases may be one subject, and a person is asked. */
export const LIKELY = 0.86

/** How far apart two dates of birth of one person may be told, in days. */
const DATE_TOLERANCE = 31

/**
 * How much each part weighs where both sides know it. Common practice in record linkage: the name first, then
 * the birth.
 */
const WEIGHTS = { name: 0.45, birth: 0.3, sex: 0.1, place: 0.15, identifier: 0.5 } as const

export type Part = keyof typeof WEIGHTS

/** How alike two subjects are. */
export interface Likeness {
  /** From 0 to 1: the weighted mean of the parts that both know. */
  score: number
  /** Each part that both know, from 0 to 1. */
  parts: Partial<Record<Part, number>>
}

/**
 * Each part of the shorter name against the likeliest of the longer, weighed by length; a part too much costs
 * a little.
 */
function likeNames(one: readonly string[], other: readonly string[]): number {
  const [short, long] = one.length <= other.length ? [one, other] : [other, one]
  // By place, not by text: a family may give the same part twice.
  const free = new Set(long.keys())
  let sum = 0
  let letters = 0
  for (const part of short) {
    let best = 0
    let taken = -1
    for (const at of free) {
      const likeness = jaroWinkler(part, long[at]!)
      if (likeness > best) [best, taken] = [likeness, at]
    }
    free.delete(taken)
    sum += best * part.length
    letters += part.length
  }
  return sum / letters - 0.05 * (long.length - short.length)
}

/**
 * 1 for the same day; less for a day and month that changed places, a month known only, some days or a year
 * apart.
 */
function likeBirths(one: Subject, other: Subject): number {
  const { born } = one
  if (!born || !other.born) {
    const apart = Math.abs(one.birthYear! - other.birthYear!)
    const within = Math.max(one.birthYearWithin, other.birthYearWithin)
    return apart === 0 ? 1 : apart === 1 ? 0.8 : apart <= within ? 0.7 : 0
  }
  const order = comparePartialDates(born, other.born)
  if (order === 'same') return 1
  if (order === 'unknown') return 0.9
  if (born.precision === 'day' && other.born.precision === 'day') {
    const them = other.born
    if (born.year === them.year && born.month === them.day && born.day === them.month) return 0.9
    if (born.month === them.month && born.day === them.day && Math.abs(born.year - them.year) === 1)
      return 0.8
    if (born.year === them.year && (born.month === them.month || born.day === them.day)) return 0.75
  }
  const [left, right] = [possibleDays(born), possibleDays(other.born)]
  const apart = Math.max(left.first - right.last, right.first - left.last)
  return apart <= DATE_TOLERANCE ? 0.7 : apart <= 366 ? 0.3 : 0
}

/**
 * Compares two subjects by what both know. Identifiers speak only where one is the same: a person who is
 * registered twice has two numbers.
 */
export function likeness(one: Subject, other: Subject): Likeness {
  const parts: Likeness['parts'] = {}
  if (one.name.length && other.name.length) parts.name = likeNames(one.name, other.name)
  if (one.birthYear !== null && other.birthYear !== null) parts.birth = likeBirths(one, other)
  if (one.sex && other.sex) parts.sex = +(one.sex === other.sex)
  if (one.place && other.place) parts.place = one.place === other.place ? 1 : 0.4
  if (one.identifiers.some(identifier => other.identifiers.includes(identifier))) parts.identifier = 1
  let sum = 0
  let weight = 0
  for (const part of Object.keys(parts) as Part[]) {
    sum += WEIGHTS[part] * parts[part]!
    weight += WEIGHTS[part]
  }
  return { score: weight ? sum / weight : 0, parts }
}
