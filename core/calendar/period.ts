import { bad, good, type Result } from '../result'
import {
  civilDate,
  dayNumber,
  modulo,
  monthNumber,
  weekNumber,
  weekOfYear,
  weekStart,
  yearAndMonth,
} from './conversions'

/** How often a dataset is reported. */
export type Frequency = 'day' | 'week' | 'month' | 'quarter' | 'halfYear' | 'year'

/** How often a dataset may be reported: in one of these, or in the financial year of the installation. */
export type ReportFrequency = Frequency | 'financialYear'

/** Where the weeks and the financial year of an installation start. */
export interface Calendar {
  /** 1 Monday to 7 Sunday. */
  firstWeekday: number
  /** 1 January to 12. */
  firstMonth: number
}

/** Weeks of ISO 8601, and a financial year that is the year. */
export const USUAL_CALENDAR: Calendar = { firstWeekday: 1, firstMonth: 1 }

/**
 * A frequency with where it starts: weeks from a weekday (1 Monday, the default, to 7 Sunday), years from a
 * month (1 January, the default, to 12).
 */
export interface Cycle {
  frequency: Frequency
  firstWeekday?: number
  firstMonth?: number
}

/**
 * A period is a cycle and its place in the endless row of such periods, so that next and previous, comparing
 * and counting are arithmetic on `index`: the day number, the week in the row of weeks with that first day,
 * the month number (2026-10 is 24321), a third or a sixth of it, the year in which it starts.
 */
export interface Period extends Cycle {
  index: number
}

/** Months in one period, for those that are made of months. */
const MONTHS: Partial<Record<Frequency, number>> = { month: 1, quarter: 3, halfYear: 6, year: 12 }

/** From fine to coarse. */
export const FREQUENCIES: readonly Frequency[] = ['day', 'week', 'month', 'quarter', 'halfYear', 'year']

export const firstWeekdayOf = (cycle: Cycle): number => cycle.firstWeekday ?? 1
export const firstMonthOf = (cycle: Cycle): number => cycle.firstMonth ?? 1

/**
 * The periods in which a dataset is reported.
 * @example cycleOf('financialYear', { firstWeekday: 1, firstMonth: 7 }) // the year from July
 */
export function cycleOf(frequency: ReportFrequency, { firstWeekday, firstMonth }: Calendar): Cycle {
  if (frequency === 'week') return { frequency, firstWeekday }
  return frequency === 'financialYear' ? { frequency: 'year', firstMonth } : { frequency }
}

/** Do two periods come from the same row, so that their places can be compared? */
export const sameCycle = (one: Cycle, other: Cycle): boolean =>
  one.frequency === other.frequency &&
  (one.frequency !== 'week' || firstWeekdayOf(one) === firstWeekdayOf(other)) &&
  (one.frequency !== 'year' || firstMonthOf(one) === firstMonthOf(other))

/** The period of a cycle at a place in its row. Keeps only what the frequency needs. */
export function periodAt(cycle: Cycle, index: number): Period {
  const { frequency } = cycle
  if (frequency === 'week' && firstWeekdayOf(cycle) !== 1)
    return { frequency, firstWeekday: firstWeekdayOf(cycle), index }
  if (frequency === 'year' && firstMonthOf(cycle) !== 1)
    return { frequency, firstMonth: firstMonthOf(cycle), index }
  return { frequency, index }
}

/** The period `steps` later (earlier when negative). */
export const shiftPeriod = (period: Period, steps: number): Period => ({
  ...period,
  index: period.index + steps,
})

/** The first month of a period that is made of months, as a month number. */
function firstMonthNumber(period: Period): number {
  return (
    period.index * MONTHS[period.frequency]! + (period.frequency === 'year' ? firstMonthOf(period) - 1 : 0)
  )
}

/** First day of the period, as a day number. */
export function firstDay(period: Period): number {
  if (period.frequency === 'day') return period.index
  if (period.frequency === 'week') return weekStart(period.index, firstWeekdayOf(period))
  return dayNumber({ ...yearAndMonth(firstMonthNumber(period)), day: 1 })
}

/** Last day of the period, as a day number. */
export const lastDay = (period: Period): number => firstDay(shiftPeriod(period, 1)) - 1

/** The period of a cycle that holds a day. */
export function periodOfDay(cycle: Cycle | Frequency, day: number): Period {
  const of = typeof cycle === 'string' ? { frequency: cycle } : cycle
  if (of.frequency === 'day') return periodAt(of, day)
  if (of.frequency === 'week') return periodAt(of, weekNumber(day, firstWeekdayOf(of)))
  const { year, month } = civilDate(day)
  const shifted = monthNumber(year, month) - (of.frequency === 'year' ? firstMonthOf(of) - 1 : 0)
  return periodAt(of, Math.floor(shifted / MONTHS[of.frequency]!))
}

/** Is the day in the period? */
export const contains = (period: Period, day: number): boolean =>
  day >= firstDay(period) && day <= lastDay(period)

/** Do two periods, also of different frequencies, have a day in common? */
export const overlaps = (one: Period, other: Period): boolean =>
  firstDay(one) <= lastDay(other) && firstDay(other) <= lastDay(one)

/**
 * All periods from the first to the last, both in; empty when the last is before the first.
 * @throws when the two are of different cycles, which no row holds together.
 */
export function periodsBetween(first: Period, last: Period): Period[] {
  if (!sameCycle(first, last))
    throw new Error(`No list leads from a ${first.frequency} to a ${last.frequency}.`)
  const count = Math.max(0, last.index - first.index + 1)
  return Array.from({ length: count }, (_, step) => shiftPeriod(first, step))
}

/**
 * The larger period that a period rolls up to. A week goes where its fourth day is, which is where most of it
 * lies. Errors: `period-not-larger` (a month does not roll up to weeks), `period-straddles` (a quarter that
 * lies in two years from a given month).
 */
export function periodAbove(period: Period, larger: Cycle): Result<Period> {
  const no = (code: string, message: string) =>
    bad({ code, message, values: { from: period.frequency, to: larger.frequency } })
  if (sameCycle(period, larger)) return good(period)
  if (FREQUENCIES.indexOf(larger.frequency) <= FREQUENCIES.indexOf(period.frequency)) {
    return no('period-not-larger', `A ${period.frequency} does not roll up to a ${larger.frequency}.`)
  }
  if (period.frequency === 'week') return good(periodOfDay(larger, firstDay(period) + 3))
  const above = periodOfDay(larger, firstDay(period))
  return contains(above, lastDay(period))
    ? good(above)
    : no('period-straddles', `This ${period.frequency} lies in two of those that it should roll up to.`)
}

/** How many periods of a cycle make a year; for days and weeks the nearest whole number. */
export const periodsAYear = ({ frequency }: Cycle): number =>
  ({ day: 365, week: 52, month: 12, quarter: 4, halfYear: 2, year: 1 })[frequency]

/**
 * The same period one year before: the same date, the week of the same number. 29 February and week 53 have
 * none in most years: null.
 */
export function yearBefore(period: Period): Period | null {
  if (period.frequency === 'week') {
    const start = firstDay(period)
    const { year, week } = weekOfYear(start)
    const first = weekNumber(dayNumber({ year: year - 1, month: 1, day: 4 }), firstWeekdayOf(period))
    const before = { ...period, index: first + week - 1 }
    return weekOfYear(firstDay(before)).week === week ? before : null
  }
  if (period.frequency === 'day') {
    const date = civilDate(period.index)
    const before = dayNumber({ ...date, year: date.year - 1 })
    return civilDate(before).day === date.day ? { ...period, index: before } : null
  }
  return shiftPeriod(period, -periodsAYear(period))
}

/** The place of a quarter or half-year in its year, from 1. */
export const placeInYear = (period: Period): number => modulo(period.index, periodsAYear(period)) + 1
