import { bad, good, type Result } from '../result'
import { civilDate, weekday } from './conversions'
import { parseDay, printDay } from './day'
import { firstDay, lastDay, periodOfDay, type Cycle, type Frequency, type Period } from './period'

const LENGTHS: Record<Frequency, string> = {
  day: 'P1D',
  week: 'P7D',
  month: 'P1M',
  quarter: 'P3M',
  halfYear: 'P6M',
  year: 'P1Y',
}
/** Other ways of writing the same lengths. */
const SAME: Readonly<Record<string, string>> = { P1W: 'P7D', P12M: 'P1Y' }

/**
 * A period as an interval of ISO 8601: its first day and its length, as ADX writes it.
 *
 * @example printInterval(must(parsePeriod('2026-Q4'))) // '2026-10-01/P3M'
 */
export const printInterval = (period: Period): string =>
  `${printDay(firstDay(period))}/${LENGTHS[period.frequency]}`

/**
 * The period of a cycle that an interval of ISO 8601 names.
 *
 * @returns the period; or `interval-form` (no interval of one day and one length), `interval-cycle` (it does not
 *   begin or end where a period of this cycle does), `day-none`
 * @example parseInterval('2026-11-02/P1W', { frequency: 'week' }) // week 45 of 2026
 */
export function parseInterval(text: string, cycle: Cycle): Result<Period> {
  const [from, length, more] = text.trim().split('/')
  if (!from || !length || more !== undefined)
    return bad({ code: 'interval-form', message: `“${text}” is no interval of time.`, values: { text } })
  const day = parseDay(from)
  if (!day.ok) return day
  const period = periodOfDay(cycle, day.value)
  return printInterval(period) === `${from}/${SAME[length] ?? length}`
    ? good(period)
    : bad({
        code: 'interval-cycle',
        message: `“${text}” is not one period of this dataset.`,
        values: { text },
      })
}

/** Each kind of period, where it could begin on a day. */
const cyclesFrom = (day: number): Cycle[] => [
  ...(['day', 'month', 'quarter', 'halfYear'] as const).map(frequency => ({ frequency })),
  { frequency: 'week', firstWeekday: weekday(day) },
  { frequency: 'year', firstMonth: civilDate(day).month },
]

/**
 * The interval from a first to a last day, both ISO 8601 days, as {@link printInterval} writes it.
 *
 * @returns null where the days are not those of one period of any kind
 * @example intervalOfDays('2026-10-01', '2026-10-31') // '2026-10-01/P1M'
 */
export function intervalOfDays(first: string, last: string): string | null {
  const [from, to] = [parseDay(first), parseDay(last)]
  if (!from.ok || !to.ok) return null
  const period = cyclesFrom(from.value)
    .map(cycle => periodOfDay(cycle, from.value))
    .find(one => firstDay(one) === from.value && lastDay(one) === to.value)
  return period ? printInterval(period) : null
}
