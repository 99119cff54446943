import type { AnswerFilter } from '#core/cases/answer-filter'
import type { Parameter } from '../database/database'

/** Conditions of a query that grows with what is asked, and their parameters. */
export class Where {
  readonly parts: string[] = []
  readonly values: Parameter[] = []
  /** @param first the number of its first parameter, where others stand before it */
  constructor(private readonly first = 1) {}
  /** The next parameter, by its number. */
  param(value: Parameter): string {
    return `$${this.first - 1 + this.values.push(value)}`
  }
  /** The same conditions, to which others can be added. */
  copy(): Where {
    const copy = new Where(this.first)
    copy.parts.push(...this.parts)
    copy.values.push(...this.values)
    return copy
  }
  get text(): string {
    return this.parts.join(' AND ')
  }
}

/** For queries: the tables of cases `c` with their units `u`. */
export const CASES = 'case_record c JOIN unit_latest u ON u.code = c.unit'

/** For queries: the day of an instant in a time zone. */
export const dayOf = (instant: string, zone: string): string => `(${instant} AT TIME ZONE ${zone})::date`

/** Conditions that a day lies between two, both in; either may be left out. */
export const daysBetween = (
  where: Where,
  { from, to }: { from?: string; to?: string },
  day: () => string,
): string[] => [
  ...(from ? [`${day()} >= ${where.param(from)}::date`] : []),
  ...(to ? [`${day()} <= ${where.param(to)}::date`] : []),
]

/** The condition of one filter on an answer. */
export function answerCondition(filter: AnswerFilter, where: Where): string {
  // In this form the index on what is known is used.
  if (filter.is === 'value') {
    const wanted = { [filter.code]: { kind: 'value', value: filter.value } }
    return `c.known @> ${where.param(wanted)}::jsonb`
  }
  const content = `c.known -> ${where.param(filter.code)}::text`
  if (filter.is === 'missing') return `(${content} ->> 'kind') IS DISTINCT FROM 'value'`
  const limits = [
    ['>=', filter.from],
    ['<=', filter.to],
  ] as const
  const kept = limits.flatMap(([sign, limit]) => {
    if (limit === null) return []
    // A day is compared as its text, which is in the order of time; a number as JSON. Cast to a number, once it is
    // known to be one, each case took twice as long.
    return typeof limit === 'number'
      ? [`${content} -> 'value' ${sign} ${where.param(`${limit}`)}::jsonb`]
      : [`(${content} ->> 'value') COLLATE "C" ${sign} ${where.param(limit)}`]
  })
  const isNumber = typeof (filter.from ?? filter.to) === 'number'
  // Of an earlier edition it may be a text or a list: as JSON one is lower than all numbers, the other higher.
  return [...kept, ...(isNumber ? [`jsonb_typeof(${content} -> 'value') = 'number'`] : [])].join(' AND ')
}
