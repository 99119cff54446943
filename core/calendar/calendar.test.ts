import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { must } from '../result'
import { civilDate, dayNumber, daysInMonth } from './conversions'
import { dayAt, deadlines, startOfDay } from './deadline'
import { parseDay, printDay } from './day'
import { parsePeriod } from './period-text'

describe('days', () => {
  it('agree with luxon over 400 years of days', () => {
    const from = DateTime.utc(1800, 1, 1)
    for (let step = 0; step < 146_097; step += 1) {
      const date = from.plus({ days: step })
      const number = dayNumber({ year: date.year, month: date.month, day: date.day })
      if (number !== Math.round(date.toMillis() / 86_400_000))
        throw new Error(`${date.toISODate()} is not day ${number}`)
    }
    expect(dayNumber({ year: 1970, month: 1, day: 1 })).toBe(0)
  })

  it('come back from their number', () => {
    fc.assert(
      fc.property(fc.integer({ min: -500_000, max: 500_000 }), day => {
        expect(dayNumber(civilDate(day))).toBe(day)
      }),
    )
  })

  it('know leap years as luxon does', () => {
    for (const year of [1900, 2000, 2023, 2024, 2100]) {
      expect(daysInMonth(year, 2)).toBe(DateTime.utc(year, 2).daysInMonth)
    }
  })

  it('are refused with the reason', () => {
    expect(parseDay('2026-02-29')).toMatchObject({ ok: false, problems: [{ code: 'day-none' }] })
    expect(parseDay('2026-2-9')).toMatchObject({ ok: false, problems: [{ code: 'day-form' }] })
    expect(parseDay('2024-02-29')).toEqual({ ok: true, value: dayNumber({ year: 2024, month: 2, day: 29 }) })
  })
})

describe('deadlines', () => {
  const timing = { opensAhead: 0, dueDays: 7, closeDays: 30 }

  it('end with the due day in the installation’s time zone', () => {
    const { opensAt, dueAt, closesAt } = deadlines(must(parsePeriod('2026-10')), timing, 'Etc/GMT+2')
    expect(new Date(opensAt).toISOString()).toBe('2026-11-01T02:00:00.000Z')
    // The last on-time instant is the end of 7 November, two hours behind UTC.
    expect(new Date(dueAt).toISOString()).toBe('2026-11-08T02:00:00.000Z')
    expect(new Date(closesAt).toISOString()).toBe('2026-12-08T02:00:00.000Z')
  })

  it('open ahead of their period when the dataset says so', () => {
    const { opensAt } = deadlines(must(parsePeriod('2026-10')), { ...timing, opensAhead: 1 }, 'UTC')
    expect(new Date(opensAt).toISOString()).toBe('2026-10-01T00:00:00.000Z')
  })

  it.each(['UTC', 'Etc/GMT+2', 'Europe/Paris', 'America/St_Johns', 'Asia/Kathmandu', 'Pacific/Auckland'])(
    'agree with luxon on the start of each day of a year in %s',
    zone => {
      for (
        let day = dayNumber({ year: 2026, month: 1, day: 1 });
        day <= dayNumber({ year: 2026, month: 12, day: 31 });
        day++
      ) {
        const luxon = DateTime.fromISO(printDay(day), { zone }).startOf('day').toMillis()
        expect(startOfDay(day, zone)).toBe(luxon)
        expect(dayAt(luxon, zone)).toBe(day)
        expect(dayAt(luxon - 1, zone)).toBe(day - 1)
      }
    },
  )
})
