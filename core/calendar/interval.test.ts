import { Interval } from 'luxon'
import { describe, expect, it } from 'vitest'
import { must } from '../result'
import { printDay } from './day'
import { intervalOfDays, parseInterval, printInterval } from './interval'
import { cycleOf, firstDay, lastDay, periodOfDay, type ReportFrequency } from './period'
import { parsePeriod } from './period-text'

const EACH: [ReportFrequency, string, string][] = [
  ['day', '2026-10-05', '2026-10-05/P1D'],
  ['week', '2026-W45', '2026-11-02/P7D'],
  ['month', '2026-10', '2026-10-01/P1M'],
  ['quarter', '2026-Q4', '2026-10-01/P3M'],
  ['halfYear', '2026-S2', '2026-07-01/P6M'],
  ['year', '2026', '2026-01-01/P1Y'],
]
const codesOf = (text: string, frequency: ReportFrequency = 'month') => {
  const read = parseInterval(text, cycleOf(frequency, { firstWeekday: 1, firstMonth: 1 }))
  return read.ok ? [] : read.problems.map(({ code }) => code)
}

describe('a period as an interval of ISO 8601', () => {
  it.each(EACH)('is written and read again: %s %s', (frequency, period, text) => {
    const cycle = cycleOf(frequency, { firstWeekday: 1, firstMonth: 1 })
    expect(printInterval(must(parsePeriod(period)))).toBe(text)
    expect(must(parseInterval(text, cycle))).toEqual(must(parsePeriod(period)))
  })

  it('has the days that luxon reads in it, for weeks and years that start elsewhere too', () => {
    for (const firstWeekday of [1, 3, 7])
      for (const firstMonth of [1, 4, 7])
        for (const [frequency] of [...EACH, ['financialYear'] as const])
          for (let day = 20_500; day < 20_500 + 400; day += 17) {
            const period = periodOfDay(cycleOf(frequency, { firstWeekday, firstMonth }), day)
            expect(intervalOfDays(printDay(firstDay(period)), printDay(lastDay(period)))).toBe(
              printInterval(period),
            )
            const read = Interval.fromISO(printInterval(period), { zone: 'utc' })
            expect([read.start?.toISODate(), read.end?.minus({ days: 1 }).toISODate()]).toEqual([
              printDay(firstDay(period)),
              printDay(lastDay(period)),
            ])
          }
  })

  it('has none from days that are not one period', () => {
    expect(intervalOfDays('2026-10-02', '2026-10-31')).toBeNull()
    expect(intervalOfDays('2026-10-01', '2026-11-01')).toBeNull()
    expect(intervalOfDays('2026-10-01', 'soon')).toBeNull()
  })

  it('may say a week as one week, and a year as twelve months', () => {
    expect(codesOf('2026-11-02/P1W', 'week')).toEqual([])
    expect(codesOf('2026-01-01/P12M', 'year')).toEqual([])
  })

  it('is refused when it is no interval, no day, or not one period of the dataset', () => {
    expect(codesOf('2026-10')).toEqual(['interval-form'])
    expect(codesOf('2026-10-01/P1M/P1M')).toEqual(['interval-form'])
    expect(codesOf('2026-13-01/P1M')).toEqual(['day-none'])
    expect(codesOf('2026-10-02/P1M')).toEqual(['interval-cycle'])
    expect(codesOf('2026-10-01/P3M')).toEqual(['interval-cycle'])
  })
})
