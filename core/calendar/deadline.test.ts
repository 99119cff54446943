import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { civilDate } from './conversions'
import { deadlines, dayAt, startOfDay } from './deadline'
import { parsePeriod } from './period-text'
import { parseDay, printDay } from './day'
import { must } from '../result'

const luxonStart = (day: number, zone: string) =>
  DateTime.fromObject(civilDate(day), { zone }).startOf('day').toMillis()

describe('numbers right, 9: the beginning of a day', () => {
  it.each([
    ['America/Santiago', '2026-09-06', '2026-09-06T04:00:00.000Z'],
    ['America/Havana', '2026-03-08', '2026-03-08T05:00:00.000Z'],
    ['Atlantic/Azores', '2026-03-29', '2026-03-29T01:00:00.000Z'],
    ['Africa/Cairo', '2026-04-24', '2026-04-23T22:00:00.000Z'],
    ['Asia/Kathmandu', '2026-03-01', '2026-02-28T18:15:00.000Z'],
    ['Pacific/Apia', '2011-12-31', '2011-12-30T10:00:00.000Z'],
  ])('in %s on %s is %s', (zone, day, instant) => {
    expect(new Date(startOfDay(must(parseDay(day)), zone)).toISOString()).toBe(instant)
  })

  it('where midnight does not exist is not an hour early: the deadline is the end of the day before', () => {
    // Reports for August due on the fifth day after it; Santiago has no midnight between 5 and 6 September
    // 2026.
    const { dueAt } = deadlines(
      must(parsePeriod('2026-08')),
      { opensAhead: 0, dueDays: 5, closeDays: 10 },
      'America/Santiago',
    )
    expect(dueAt).toBe(luxonStart(must(parseDay('2026-09-06')), 'America/Santiago'))
    expect(dayAt(dueAt - 1, 'America/Santiago')).toBe(must(parseDay('2026-09-05')))
  })

  it('agrees with luxon in every zone that there is, on every change of the clocks of ten years', () => {
    const zones = Intl.supportedValuesOf('timeZone')
    expect(zones.length).toBeGreaterThan(300)
    const [first, last] = ['2020-01-01', '2029-12-31'].map(day => must(parseDay(day))) as [number, number]
    let compared = 0
    let twice = 0
    const differ: string[] = []
    for (const zone of zones) {
      // Days around a change of the offset, found by steps of a week; and one day in each half year.
      let offset = DateTime.fromMillis(first * 86_400_000, { zone }).offset
      for (let week = first; week <= last; week += 7) {
        const next = DateTime.fromMillis((week + 7) * 86_400_000, { zone }).offset
        if (next === offset && week % 182 > 6) continue
        offset = next
        for (let day = week; day <= week + 8; day++) {
          compared++
          const begins = startOfDay(day, zone)
          if (begins === luxonStart(day, zone)) continue
          // Where the clocks go back over midnight it is midnight twice: luxon takes the second, a day begins
          // at the first.
          const [at, before] = [
            DateTime.fromMillis(begins, { zone }),
            DateTime.fromMillis(begins - 1, { zone }),
          ]
          const isFirst =
            at.toISODate() === printDay(day) &&
            before.toISODate()! < at.toISODate()! &&
            at.offset > DateTime.fromMillis(luxonStart(day, zone), { zone }).offset
          if (!isFirst) differ.push(`${zone} ${printDay(day)}`)
          twice++
        }
      }
    }
    expect(compared).toBeGreaterThan(50_000)
    expect(differ).toEqual([])
    expect(twice).toBeLessThan(compared / 1000)
  }, 240_000)
})
