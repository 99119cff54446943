import { bad, good, type Result } from '../result'
import { dayNumber, daysInMonth } from './conversions'
import { parseDay } from './day'

/**
 * A date of which perhaps only the year, or the year and month, is known. Stored as it was given, never
 * completed.
 */
export type PartialDate =
  | { precision: 'year'; year: number }
  | { precision: 'month'; year: number; month: number }
  | { precision: 'day'; year: number; month: number; day: number }

const pad = (value: number, width: number) => String(value).padStart(width, '0')

/** Reads `2026`, `2026-10` or `2026-10-05`. Errors: `partial-form`, `period-month`, `day-none`. */
export function parsePartialDate(text: string): Result<PartialDate> {
  const found = /^(\d{4})(?:-(\d{2}))?(?:-(\d{2}))?$/.exec(text)
  if (!found)
    return bad({
      code: 'partial-form',
      values: { text },
      message: `“${text}” is no date: write 2026, 2026-10 or 2026-10-05.`,
    })
  const year = Number(found[1])
  if (!found[2]) return good({ precision: 'year', year })
  const month = Number(found[2])
  if (month < 1 || month > 12)
    return bad({
      code: 'period-month',
      values: { text },
      message: `“${text}” has no month ${month}: a year has 12.`,
    })
  if (!found[3]) return good({ precision: 'month', year, month })
  const day = parseDay(text)
  return day.ok ? good({ precision: 'day', year, month, day: Number(found[3]) }) : day
}

/** The text of a partial date, as short as what is known: the inverse of {@link parsePartialDate}. */
export function printPartialDate(date: PartialDate): string {
  const year = pad(date.year, 4)
  if (date.precision === 'year') return year
  return date.precision === 'month'
    ? `${year}-${pad(date.month, 2)}`
    : `${year}-${pad(date.month, 2)}-${pad(date.day, 2)}`
}

/** The first and the last day that the date can be, as day numbers. */
export function possibleDays(date: PartialDate): { first: number; last: number } {
  if (date.precision === 'day') {
    const day = dayNumber(date)
    return { first: day, last: day }
  }
  const [from, to] = date.precision === 'month' ? [date.month, date.month] : [1, 12]
  return {
    first: dayNumber({ year: date.year, month: from, day: 1 }),
    last: dayNumber({ year: date.year, month: to, day: daysInMonth(date.year, to) }),
  }
}

/**
 * The one day that a calculation takes where it needs one: the first of the month when only the month is
 * known (common practice), 1 July when only the year is (common practice: the middle of the year). Whatever
 * is computed from it must say that it was assumed.
 */
export function computingDay(date: PartialDate): number {
  if (date.precision === 'year') return dayNumber({ year: date.year, month: 7, day: 1 })
  return possibleDays(date).first
}

/** How two partial dates stand to each other. *Unknown* when what is known of them leaves it open. */
export type DateOrder = 'before' | 'same' | 'after' | 'unknown'

/** Compares honestly: 2026-10 is after 2026-09-30, but whether it is before 2026-10-05 is unknown. */
export function comparePartialDates(one: PartialDate, other: PartialDate): DateOrder {
  const [left, right] = [possibleDays(one), possibleDays(other)]
  if (left.last < right.first) return 'before'
  if (left.first > right.last) return 'after'
  return one.precision === 'day' && other.precision === 'day' ? 'same' : 'unknown'
}
