/**
 * The heart of the calendar: pure functions from whole numbers to whole numbers. Everything else in this
 * folder is built on them. A day number counts days from 1970-01-01 (day 0) in the proleptic Gregorian calendar.
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
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36524) - Math.floor(dayOfEra / 146096)) / 365,
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
