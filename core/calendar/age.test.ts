import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { must } from '../result'
import { ageFromPartial, ageOn, monthsBetween, yearsBetween } from './age'
import { dayNumber } from './conversions'
import { parseDay, printDay } from './day'
import {
  comparePartialDates,
  computingDay,
  parsePartialDate,
  possibleDays,
  printPartialDate,
} from './partial-date'

const anyDay = fc.integer({
  min: dayNumber({ year: 1600, month: 1, day: 1 }),
  max: dayNumber({ year: 2600, month: 1, day: 1 }),
})

describe('partial dates', () => {
  const anyPartial = fc
    .tuple(fc.constantFrom('year', 'month', 'day'), anyDay)
    .map(([precision, day]) =>
      must(parsePartialDate(printDay(day).slice(0, { year: 4, month: 7, day: 10 }[precision]!))),
    )

  it('are kept as they were told', () => {
    fc.assert(
      fc.property(anyPartial, date => {
        expect(parsePartialDate(printPartialDate(date))).toEqual({ ok: true, value: date })
        const { first, last } = possibleDays(date)
        expect(computingDay(date)).toBeGreaterThanOrEqual(first)
        expect(computingDay(date)).toBeLessThanOrEqual(last)
      }),
    )
    expect(printDay(computingDay(must(parsePartialDate('2026-10'))))).toBe('2026-10-01')
  })

  it.each([
    ['2026-1', 'partial-form'],
    ['2026-13', 'period-month'],
    ['2026-02-30', 'day-none'],
    ['10-2026', 'partial-form'],
  ])('refuse %s', (text, code) => {
    expect(parsePartialDate(text)).toMatchObject({ ok: false, problems: [{ code }] })
  })

  it.each([
    ['2026-10', '2026-09-30', 'after'],
    ['2026-10', '2026-10-05', 'unknown'],
    ['2026', '2027-01', 'before'],
    ['2026-10-05', '2026-10-05', 'same'],
    ['2026', '2026', 'unknown'],
  ] as const)('%s against %s is %s', (one, other, order) => {
    expect(comparePartialDates(must(parsePartialDate(one)), must(parsePartialDate(other)))).toBe(order)
  })

  it('give an age that says what it rests on', () => {
    const day = must(parseDay('2026-10-05'))
    expect(ageFromPartial(must(parsePartialDate('2020-10-05')), day)).toEqual({
      years: 6,
      least: 6,
      most: 6,
      assumed: false,
      precision: 'day',
    })
    expect(ageFromPartial(must(parsePartialDate('2020-10')), day)).toEqual({
      years: 6,
      least: 5,
      most: 6,
      assumed: true,
      precision: 'month',
    })
    expect(ageFromPartial(must(parsePartialDate('2020')), day)).toEqual({
      years: 6,
      least: 5,
      most: 6,
      assumed: true,
      precision: 'year',
    })
  })
})

describe('ages', () => {
  it('in completed years, months and days agree with luxon, leap days among them', () => {
    const near = fc.oneof(
      anyDay,
      fc.integer({ min: 1600, max: 2599 }).map(year => dayNumber({ year, month: 3, day: 1 }) - 1),
    )
    fc.assert(
      fc.property(near, fc.nat(45_000), (born, days) => {
        const at = (day: number) => DateTime.fromMillis(day * 86_400_000, { zone: 'utc' })
        const {
          years,
          months,
          days: rest,
        } = at(born + days)
          .diff(at(born), ['years', 'months', 'days'])
          .toObject()
        expect(ageOn(born, born + days)).toEqual({ years, months, days: rest })
        expect(monthsBetween(born, born + days)).toBe(
          Math.floor(at(born + days).diff(at(born), 'months').months),
        )
      }),
      { numRuns: 10_000 },
    )
  })

  it('of a child born on 29 February rise on 28 February of other years, and run backwards with a minus', () => {
    const day = (text: string) => must(parseDay(text))
    expect(yearsBetween(day('2024-02-29'), day('2025-02-28'))).toBe(1)
    expect(yearsBetween(day('2024-02-29'), day('2025-02-27'))).toBe(0)
    expect([
      monthsBetween(day('2026-03-01'), day('2026-01-01')),
      yearsBetween(day('2026-03-01'), day('2026-01-01')),
    ]).toEqual([-2, 0])
  })
})
