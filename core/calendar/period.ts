import { bad, good, type Result } from '../result'
import { civilDate, dayNumber, monthNumber, yearAndMonth } from './conversions'

/** How often a dataset is reported. Months so far; the other frequencies take their place beside them. */
export type Frequency = 'month'

/**
 * A period is a frequency and its place in the endless row of such periods, so that next and previous,
 * comparing and counting are arithmetic on `index`. For a month the index is the month number (2026-10 is 24321).
 */
export interface Period {
  frequency: Frequency
  index: number
}

/** The period that an ISO 8601 text names. Errors: `period-form`, `period-month` (month 13). */
export function parsePeriod(text: string): Result<Period> {
  const found = /^(\d{4})-(\d{2})$/.exec(text)
  if (!found) return bad({ code: 'period-form', message: `“${text}” is not a month written as 2026-10.` })
  const [year, month] = found.slice(1).map(Number) as [number, number]
  if (month < 1 || month > 12) {
    return bad({ code: 'period-month', message: `“${text}” has no month ${month}: a year has 12.` })
  }
  return good({ frequency: 'month', index: monthNumber(year, month) })
}

/** The ISO 8601 text of a period: `2026-10`. */
export function printPeriod(period: Period): string {
  const { year, month } = yearAndMonth(period.index)
  return `${String(year).padStart(4, '0')}-${String(month).padStart(2, '0')}`
}

/** The period `steps` later (earlier when negative). */
export const shiftPeriod = (period: Period, steps: number): Period => ({ ...period, index: period.index + steps })

/** First day of the period, as a day number. */
export const firstDay = (period: Period): number => dayNumber({ ...yearAndMonth(period.index), day: 1 })

/** Last day of the period, as a day number. */
export const lastDay = (period: Period): number => firstDay(shiftPeriod(period, 1)) - 1

/** The period of a frequency that holds a day. */
export function periodOfDay(frequency: Frequency, day: number): Period {
  const { year, month } = civilDate(day)
  return { frequency, index: monthNumber(year, month) }
}

/** All periods from the first to the last, both in; empty when the last is before the first. */
export function periodsBetween(first: Period, last: Period): Period[] {
  const count = Math.max(0, last.index - first.index + 1)
  return Array.from({ length: count }, (_, step) => shiftPeriod(first, step))
}

/** The name of a period in a person's language: “October 2026”, short “Oct 26”. */
export function namePeriod(period: Period, language: string, style: 'long' | 'short' = 'long'): string {
  const { year, month } = yearAndMonth(period.index)
  const format = new Intl.DateTimeFormat(language, {
    month: style,
    year: style === 'long' ? 'numeric' : '2-digit',
    timeZone: 'UTC',
  })
  return format.format(Date.UTC(year, month - 1, 1))
}
