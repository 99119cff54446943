import { civilDate, daysInMonth, dayNumber, monthNumber, yearAndMonth } from './conversions'
import { computingDay, possibleDays, type PartialDate } from './partial-date'

/** Nobody is older (common practice in case forms): an age above is a slip. */
export const OLDEST_AGE = 120

/**
 * Completed months from one day to another; negative when the second is earlier. A month is completed on the
 * same day of a later month, or on its last day when it has no such day: born on 31 January, one month old on
 * 28 February.
 */
export function monthsBetween(from: number, to: number): number {
  if (to < from) return -monthsBetween(to, from) || 0
  const start = civilDate(from)
  const end = civilDate(to)
  const months = monthNumber(end.year, end.month) - monthNumber(start.year, start.month)
  const reached = end.day >= Math.min(start.day, daysInMonth(end.year, end.month))
  return reached ? months : months - 1
}

/**
 * Completed years from one day to another. Born on 29 February, one turns a year older on 28 February in
 * other years.
 */
export const yearsBetween = (from: number, to: number): number =>
  Math.trunc(monthsBetween(from, to) / 12) || 0

/** Completed years, then months, then days. */
export interface Age {
  years: number
  months: number
  days: number
}

/** The age on a day of somebody born on an earlier day. */
export function ageOn(born: number, day: number): Age {
  const whole = monthsBetween(born, day)
  const birth = civilDate(born)
  const { year, month } = yearAndMonth(monthNumber(birth.year, birth.month) + whole)
  const lastBirthday = dayNumber({ year, month, day: Math.min(birth.day, daysInMonth(year, month)) })
  return { years: Math.trunc(whole / 12), months: whole % 12, days: day - lastBirthday }
}

/** An age in completed years, with what it rests on. */
export interface BoundedAge {
  /** By the computing day of the date of birth. */
  years: number
  /** The least and the most that it can be. */
  least: number
  most: number
  /** True when the date of birth is not known to the day, so that a day was assumed. */
  assumed: boolean
  precision: PartialDate['precision']
}

/**
 * The age on a day, from a date of birth that may be partial. It says so when it is: `assumed`, with its
 * bounds.
 */
export function ageFromPartial(born: PartialDate, day: number): BoundedAge {
  const { first, last } = possibleDays(born)
  const years = Math.max(0, yearsBetween(computingDay(born), day))
  return {
    years,
    least: Math.max(0, yearsBetween(last, day)),
    most: yearsBetween(first, day),
    assumed: born.precision !== 'day',
    precision: born.precision,
  }
}
