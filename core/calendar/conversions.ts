/**
 * The heart of the calendar: pure functions from whole numbers to whole numbers. Everything else in this
 * folder is built on them. A day number counts days from 1970-01-01 (day 0) in the proleptic Gregorian
 * calendar.
 */

export interface CivilDate {
  year: number
  /** 1 to 12. */
  month: number
  /** 1 to 31. */
  day: number
}

/**
 * The day number of a civil date. Counts years from March, so that the leap day is the last of its year.
 * @example dayNumber({ year: 2000, month: 3, day: 1 }) // 11017
 */
export function dayNumber({ year, month, day }: CivilDate): number {
  const marchYear = month <= 2 ? year - 1 : year
  const era = Math.floor(marchYear / 400)
  const yearOfEra = marchYear - era * 400
  const dayOfYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear
  return era * 146097 + dayOfEra - 719468
}

/** The civil date of a day number: the inverse of {@link dayNumber}. */
export function civilDate(dayNumber: number): CivilDate {
  const shifted = dayNumber + 719468
  const era = Math.floor(shifted / 146097)
  const dayOfEra = shifted - era * 146097
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36524) - Math.floor(dayOfEra / 146096)) /
      365,
  )
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100))
  const monthFromMarch = Math.floor((5 * dayOfYear + 2) / 153)
  const day = dayOfYear - Math.floor((153 * monthFromMarch + 2) / 5) + 1
  const month = monthFromMarch < 10 ? monthFromMarch + 3 : monthFromMarch - 9
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day }
}

/** Months counted from January of year 0: 2026-10 is 24321. */
export const monthNumber = (year: number, month: number): number => year * 12 + month - 1

/** Year and month (1 to 12) of a month number. */
export const yearAndMonth = (number: number): { year: number; month: number } => ({
  year: Math.floor(number / 12),
  month: number - Math.floor(number / 12) * 12 + 1,
})

/** Days in a month, by the day numbers of its first day and of the next month's. */
export function daysInMonth(year: number, month: number): number {
  const following = yearAndMonth(monthNumber(year, month) + 1)
  return dayNumber({ ...following, day: 1 }) - dayNumber({ year, month, day: 1 })
}

/** The weekday of a day: 1 is Monday, 7 is Sunday (ISO 8601). 1970-01-01 was a Thursday. */
export const weekday = (day: number): number => modulo(day + 3, 7) + 1

/** The remainder that is never negative: modulo(-1, 7) is 6. */
export const modulo = (value: number, by: number): number => value - Math.floor(value / by) * by

/** Day number of the last such weekday before 1970-01-01: the start of week 0 of its row. */
const firstWeekStart = (firstWeekday: number): number => modulo(firstWeekday - 4, 7) - 7

/**
 * The place of the week that holds a day in the endless row of weeks that start on `firstWeekday` (1 Monday
 * to 7 Sunday). Weeks of different first days have rows of their own.
 */
export const weekNumber = (day: number, firstWeekday: number): number =>
  Math.floor((day - firstWeekStart(firstWeekday)) / 7)

/** The first day of a week of that row: the inverse of {@link weekNumber}. */
export const weekStart = (week: number, firstWeekday: number): number =>
  firstWeekStart(firstWeekday) + week * 7

/**
 * The year and number of a week by the four-day rule: a week belongs to the year that holds most of it, which
 * is the year of its fourth day (ISO 8601 for weeks from Monday; the same rule for other first days).
 * @param start the day number of its first day.
 */
export function weekOfYear(start: number): { year: number; week: number } {
  const { year } = civilDate(start + 3)
  const dayOfYear = start + 3 - dayNumber({ year, month: 1, day: 1 })
  return { year, week: Math.floor(dayOfYear / 7) + 1 }
}

/**
 * How many weeks a year has by the four-day rule: 52 or 53. The first week is the one that holds 4 January.
 */
export function weeksInYear(year: number, firstWeekday: number): number {
  const first = weekNumber(dayNumber({ year, month: 1, day: 4 }), firstWeekday)
  return weekNumber(dayNumber({ year: year + 1, month: 1, day: 4 }), firstWeekday) - first
}
