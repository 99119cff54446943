import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SMALL } from '../../tests/support/installation'
import { printDay } from '../calendar/day'
import { firstDay, periodAbove, periodsBetween, USUAL_CALENDAR } from '../calendar/period'
import { parsePeriod, printPeriod } from '../calendar/period-text'
import { cellsOf, type Edition } from '../report/edition'
import { must } from '../result'
import { beginOfLonger, longerFigures, longerThan } from './longer-periods'

const periodOf = (text: string) => must(parsePeriod(text))
const UNITS = 3

describe('the longer periods of one', () => {
  it.each([
    ['2026-10', ['2026-Q4', '2026']],
    ['2026-W44', ['2026-10', '2026-Q4', '2026']],
    ['2026-W01', ['2026-01', '2026-Q1', '2026']],
    ['2026-Q3', ['2026']],
    ['2026-11-09', ['2026-11', '2026-Q4', '2026']],
    ['2026', []],
  ])('%s are %j', (text, longer) => {
    expect(longerThan(periodOf(text), USUAL_CALENDAR).map(printPeriod)).toEqual(longer)
  })
  it.each([
    ['2026-10', ['2026-Q4', '2026', '2026-07-01--P1Y'], '2026-01'],
    ['2026-03', ['2026-Q1', '2026', '2025-07-01--P1Y'], '2025-07'],
    ['2026-Q3', ['2026', '2026-07-01--P1Y'], '2026-Q1'],
    ['2026-07-01--P1Y', [], '2026-07-01--P1Y'],
    // The week from Sunday 28 June has its fourth day in July.
    ['2026-06-28--P7D', ['2026-07', '2026-Q3', '2026', '2026-07-01--P1Y'], '2026-01-04--P7D'],
  ])('%s are %j where the financial year begins in July, and reach back to %s', (text, longer, first) => {
    const calendar = { firstWeekday: 7, firstMonth: 7 }
    expect(longerThan(periodOf(text), calendar).map(printPeriod)).toEqual(longer)
    expect(printPeriod(beginOfLonger(periodOf(text), calendar))).toBe(first)
  })
  it('begin with the first finer period of their year, whichever day that is', () => {
    for (const text of ['2026-W44', '2025-W02', '2020-W53', '2026-10', '2026-Q3', '2024-03-01']) {
      const period = periodOf(text)
      const first = beginOfLonger(period, USUAL_CALENDAR)
      const year = must(periodAbove(period, { frequency: 'year' })).index
      expect(must(periodAbove(first, { frequency: 'year' })).index).toBe(year)
      const before = must(periodAbove({ ...first, index: first.index - 1 }, { frequency: 'year' }))
      expect(before.index, text).toBe(year - 1)
    }
  })
})

describe('figures over them', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(() => database.close())
  const edition: Edition = {
    ...SMALL,
    sections: [
      {
        ...SMALL.sections[0]!,
        items: SMALL.sections[0]!.items.map(item =>
          item.code === 'tested'
            ? { ...item, rollUp: 'last' }
            : item.code === 'positive'
              ? { ...item, rollUp: 'mean' }
              : item,
        ),
      },
    ],
  }

  it.each(['2026-10', '2026-W44'])(
    'are what PostgreSQL finds in the reports up to %s: sum, mean, last',
    async text => {
      const last = periodOf(text)
      const periods = periodsBetween(beginOfLonger(last, USUAL_CALENDAR), last)
      const size = periods.length * UNITS
      const column = fc.array(fc.option(fc.nat(99)), { minLength: size, maxLength: size })
      await fc.assert(
        fc.asyncProperty(
          column,
          column,
          column,
          fc.array(fc.boolean(), { minLength: size, maxLength: size }),
          async (tested, positive, seen, inside) => {
            const values = (numbers: (number | null)[]) => Float64Array.from(numbers, number => number ?? NaN)
            const columns = { tested, positive, 'seen.f': seen, 'seen.m': seen }
            const expected = Uint8Array.from(inside, Number)
            const received = expected
            const figures = longerFigures(
              edition,
              USUAL_CALENDAR,
              {
                units: UNITS,
                periods,
                cells: cellsOf(edition).map(({ key, item }) => ({
                  key,
                  operator: item.rollUp,
                  values: values(columns[key as keyof typeof columns]),
                })),
              },
              {
                count: 1,
                groupOf: period =>
                  Int32Array.from({ length: UNITS }, (_, at) => (inside[period * UNITS + at] ? 0 : -1)),
              },
              expected,
              received,
            )
            const rows = Array.from({ length: size }, (_, place) => ({
              // A week counts where its fourth day is; a month with any of its days.
              day: printDay(firstDay(periods[Math.floor(place / UNITS)]!) + 3),
              unit: place % UNITS,
              inside: inside[place],
              tested: tested[place],
              positive: positive[place],
              seen: seen[place],
            }))
            for (const { period, lines, ...counts } of figures) {
              const { rows: found } = await database.query<Record<string, number | null>>(
                `WITH w AS (SELECT * FROM jsonb_to_recordset($1) AS g (day date, unit int, inside boolean, tested float8, positive float8, seen float8)
               WHERE inside AND date_trunc($2, day)::date = $3::date)
             SELECT (SELECT count(*)::int FROM w) AS expected, (SELECT avg(positive)::float8 FROM w) AS positive, (SELECT 2 * sum(seen)::float8 FROM w) AS seen,
               (SELECT sum(tested)::float8 FROM (SELECT DISTINCT ON (unit) tested FROM w WHERE tested IS NOT NULL ORDER BY unit, day DESC) l) AS tested`,
                [JSON.stringify(rows), period.frequency, printDay(firstDay(period))],
              )
              const line = (code: string) => lines.find(({ item }) => item.code === code)!
              expect(counts.expected).toBe(found[0]!.expected)
              expect([line('seen').value, line('tested').value]).toEqual([found[0]!.seen, found[0]!.tested])
              if (found[0]!.positive === null) expect(line('positive').value).toBeNull()
              else expect(line('positive').value).toBeCloseTo(found[0]!.positive!, 9)
            }
          },
        ),
        { numRuns: 12 },
      )
    },
  )
})
