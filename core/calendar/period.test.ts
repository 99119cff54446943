import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { must } from '../result'
import { civilDate, dayNumber, weekday, weekOfYear, weeksInYear } from './conversions'
import { parseDay, printDay } from './day'
import {
  contains,
  firstDay,
  lastDay,
  overlaps,
  periodAbove,
  periodAt,
  periodOfDay,
  periodsBetween,
  shiftPeriod,
  yearBefore,
  type Cycle,
  type Period,
} from './period'
import { namePeriod, parsePeriod, printPeriod } from './period-text'

const ANY_CYCLE: Cycle[] = [
  { frequency: 'day' },
  ...[1, 2, 3, 4, 5, 6, 7].map(firstWeekday => ({ frequency: 'week' as const, firstWeekday })),
  { frequency: 'month' },
  { frequency: 'quarter' },
  { frequency: 'halfYear' },
  ...[1, 4, 7, 10].map(firstMonth => ({ frequency: 'year' as const, firstMonth })),
]
const anyDay = fc.integer({
  min: dayNumber({ year: 1600, month: 1, day: 1 }),
  max: dayNumber({ year: 2600, month: 1, day: 1 }),
})
const anyPeriod = fc
  .tuple(fc.constantFrom(...ANY_CYCLE), anyDay)
  .map(([cycle, day]) => ({ cycle, day, period: periodOfDay(cycle, day) }))
const read = (text: string, cycle?: Cycle): Period => must(parsePeriod(text, cycle))

describe('periods', () => {
  it('print what they parse: parse(print(p)) = p', () => {
    fc.assert(
      fc.property(anyPeriod, ({ cycle, period }) => {
        const text = printPeriod(period)
        expect(parsePeriod(text, cycle)).toEqual({ ok: true, value: period })
        // Also without knowing the dataset: each text says by itself which days it means.
        expect(parsePeriod(text)).toEqual({ ok: true, value: period })
        expect(printPeriod(shiftPeriod(period, 1)) > text).toBe(true)
      }),
    )
  })

  it('that start elsewhere are written as ISO 8601 intervals, with -- where a slash cannot stand', () => {
    const sunday = periodOfDay({ frequency: 'week', firstWeekday: 7 }, must(parseDay('2026-11-04')))
    const july = periodAt({ frequency: 'year', firstMonth: 7 }, 2026)
    expect([printPeriod(sunday), printPeriod(july)]).toEqual(['2026-11-01--P7D', '2026-07-01--P1Y'])
    expect(namePeriod(read('2026-11-01--P7D'), 'en')).toBe('week 44 of 2026 (November 1 – 7, 2026)')
    expect(namePeriod(read('2026-07-01--P1Y'), 'en')).toBe('July 2026 – June 2027')
    expect(parsePeriod('2026-11-01--P7D', { frequency: 'week' })).toMatchObject({
      ok: false,
      problems: [{ code: 'period-frequency', values: { example: '2026-W45' } }],
    })
    // The example is one of those that are asked for: a week from Sunday, a year from July.
    expect(parsePeriod('2026-10', { frequency: 'week', firstWeekday: 7 })).toMatchObject({
      problems: [{ code: 'period-frequency', values: { example: '2026-11-01--P7D' } }],
    })
    expect(parsePeriod('2026-10', { frequency: 'year', firstMonth: 7 })).toMatchObject({
      problems: [{ code: 'period-frequency', values: { example: '2025-07-01--P1Y' } }],
    })
  })

  it('go on and back: next(previous(p)) = p, follow each other without a gap, and hold their days', () => {
    fc.assert(
      fc.property(anyPeriod, ({ cycle, day, period }) => {
        expect(shiftPeriod(shiftPeriod(period, -1), 1)).toEqual(period)
        expect(firstDay(shiftPeriod(period, 1))).toBe(lastDay(period) + 1)
        expect(contains(period, day)).toBe(true)
        expect(periodOfDay(cycle, firstDay(period))).toEqual(period)
        expect(periodOfDay(cycle, lastDay(period))).toEqual(period)
      }),
    )
  })

  it.each([
    ['2026-13', 'period-month'],
    ['2026-00', 'period-month'],
    ['26-10', 'period-form'],
    ['', 'period-form'],
    ['2026-Q5', 'period-part'],
    ['2026-S0', 'period-part'],
    ['2026-W54', 'period-week'],
    ['2026-W00', 'period-week'],
    ['2025-W53', 'period-week'],
    ['2026-02-29', 'day-none'],
    ['2026-q3', 'period-form'],
    ['2026-W5', 'period-form'],
    [' 2026', 'period-form'],
    // A Monday, a January and a day within a month: there is another way of writing, or no such year.
    ['2026-11-02--P7D', 'period-form'],
    ['2026-01-01--P1Y', 'period-form'],
    ['2026-07-02--P1Y', 'period-form'],
    ['2026-02-30--P7D', 'day-none'],
  ])('refuses %s', (text, code) => {
    expect(parsePeriod(text)).toMatchObject({ ok: false, problems: [{ code }] })
  })

  it('refuses a frequency that the dataset does not have', () => {
    expect(parsePeriod('2026-W45', { frequency: 'month' })).toMatchObject({
      ok: false,
      problems: [{ code: 'period-frequency' }],
    })
  })

  it('are listed between two, and not backwards', () => {
    expect(periodsBetween(read('2025-11'), read('2026-02')).map(printPeriod)).toEqual([
      '2025-11',
      '2025-12',
      '2026-01',
      '2026-02',
    ])
    expect(periodsBetween(read('2025-Q3'), read('2026-Q2')).map(printPeriod)).toEqual([
      '2025-Q3',
      '2025-Q4',
      '2026-Q1',
      '2026-Q2',
    ])
    expect(periodsBetween(read('2026-02'), read('2025-11'))).toEqual([])
    expect(() => periodsBetween(read('2026-02'), read('2026-Q4'))).toThrow()
    expect(printDay(lastDay(read('2024-02')))).toBe('2024-02-29')
  })

  it('overlap when they share a day', () => {
    expect(overlaps(read('2026-W40'), read('2026-10'))).toBe(true)
    expect(overlaps(read('2026-W39'), read('2026-10'))).toBe(false)
    expect(overlaps(read('2026-Q3'), read('2026-S2'))).toBe(true)
  })

  it('have names in the reader’s language', () => {
    const financial = periodAt({ frequency: 'year', firstMonth: 7 }, 2026)
    expect(
      ['2026-10', '2026-W45', '2026-Q3', '2026', '2026-11-09'].map(text => namePeriod(read(text), 'en')),
    ).toEqual([
      'October 2026',
      'week 45 of 2026 (November 2 – 8, 2026)',
      'quarter 3 of 2026 (July – September 2026)',
      '2026',
      'November 9, 2026',
    ])
    expect(['2026-10', '2026-W45', '2026-S2'].map(text => namePeriod(read(text), 'fr'))).toEqual([
      'octobre 2026',
      'semaine 45 de 2026 (2–8 novembre 2026)',
      'semestre 2 de 2026 (juillet – décembre 2026)',
    ])
    expect(
      [read('2026-W45'), read('2026-Q3'), financial].map(period => namePeriod(period, 'en', 'short')),
    ).toEqual(['W45 2026', 'Q3 2026', '2026/27'])
    expect(namePeriod(financial, 'en')).toBe('July 2026 – June 2027')
  })
})

describe('weeks', () => {
  it('agree with luxon and with PostgreSQL over 200 years of days (ISO 8601)', async () => {
    const from = dayNumber({ year: 1900, month: 1, day: 1 })
    const database = await PGlite.create()
    const { rows } = await database.query<{ week: string }>(
      `SELECT to_char(d, 'IYYY-"W"IW-ID') AS week FROM generate_series('1900-01-01'::date, '2099-12-31'::date, interval '1 day') AS d`,
    )
    await database.close()
    rows.forEach(({ week }, step) => {
      const day = from + step
      const ours = `${printPeriod(periodOfDay('week', day))}-${weekday(day)}`
      const luxon = DateTime.fromMillis(day * 86_400_000, { zone: 'utc' }).toISOWeekDate()
      if (ours !== week || ours !== luxon)
        throw new Error(`${printDay(day)}: ours ${ours}, PostgreSQL ${week}, luxon ${luxon}`)
    })
    expect(rows.length).toBe(73_049)
  })

  // ISO 8601 examples (from memory).
  it.each([
    ['1995-01-01', '1994-W52'],
    ['1996-12-31', '1997-W01'],
    ['2005-01-01', '2004-W53'],
    ['2026-01-01', '2026-W01'],
  ])('%s is in %s', (day, week) => {
    expect(printPeriod(periodOfDay('week', must(parseDay(day))))).toBe(week)
  })

  it('from Sunday have 53 in 2014, 2020 and 2025, as United States notifiable-disease reporting counts (MMWR weeks, from memory)', () => {
    const years = Array.from({ length: 18 }, (_, step) => 2010 + step).filter(
      year => weeksInYear(year, 7) === 53,
    )
    expect(years).toEqual([2014, 2020, 2025])
    expect(printDay(firstDay(read('2025-W01', { frequency: 'week', firstWeekday: 7 })))).toBe('2024-12-29')
  })

  it('belong to the year that holds most of their days, whatever their first day', () => {
    fc.assert(
      fc.property(anyDay, fc.integer({ min: 1, max: 7 }), (day, firstWeekday) => {
        const week = periodOfDay({ frequency: 'week', firstWeekday }, day)
        expect(weekday(firstDay(week))).toBe(firstWeekday)
        const years = Array.from({ length: 7 }, (_, step) => civilDate(firstDay(week) + step).year)
        const most = years.filter(year => year === years[0]).length >= 4 ? years[0]! : years[6]!
        expect(weekOfYear(firstDay(week)).year).toBe(most)
      }),
    )
  })
})

describe('the larger period', () => {
  it.each([
    ['2026-10', { frequency: 'quarter' }, '2026-Q4'],
    ['2026-10', { frequency: 'halfYear' }, '2026-S2'],
    ['2026-06', { frequency: 'year', firstMonth: 7 }, '2025'],
    ['2026-07', { frequency: 'year', firstMonth: 7 }, '2026'],
    ['2026-Q3', { frequency: 'year' }, '2026'],
    ['2026-10-05', { frequency: 'week' }, '2026-W41'],
    ['2026-10-05', { frequency: 'month' }, '2026-10'],
    // The fourth day of week 40 of 2026 (28 September to 4 October) is 1 October; of week 53, 31 December.
    ['2026-W40', { frequency: 'month' }, '2026-10'],
    ['2026-W53', { frequency: 'year' }, '2026'],
    ['2026', { frequency: 'year' }, '2026'],
  ] as [string, Cycle, string][])('of %s by %o is %s', (text, cycle, above) => {
    expect(must(periodAbove(read(text), cycle))).toEqual(read(above, cycle))
  })

  it('is refused when it is not larger, or when the smaller lies in two', () => {
    expect(periodAbove(read('2026-10'), { frequency: 'week' })).toMatchObject({
      ok: false,
      problems: [{ code: 'period-not-larger' }],
    })
    expect(periodAbove(read('2026-Q1'), { frequency: 'year', firstMonth: 2 })).toMatchObject({
      ok: false,
      problems: [{ code: 'period-straddles' }],
    })
  })

  it('of the year before has the same number, where there is one', () => {
    expect(
      ['2026-10', '2026-W45', '2026-Q1', '2026-03-01', '2026-W53'].map(text => {
        const before = yearBefore(read(text))
        return before && printPeriod(before)
      }),
    ).toEqual(['2025-10', '2025-W45', '2025-Q1', '2025-03-01', null])
    expect(yearBefore(read('2024-02-29'))).toBeNull()
  })
})
