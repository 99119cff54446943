import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { WEEKLY_DISEASES } from '../../demo/weekly/edition'
import { printDay } from '../calendar/day'
import { firstDay, periodsBetween, shiftPeriod, type Frequency } from '../calendar/period'
import { parsePeriod, printPeriod } from '../calendar/period-text'
import { namedDataset, withOthers } from '../define/named-datasets'
import { compile } from '../expression/compile'
import { vocabularyOf } from '../expression/vocabulary'
import { tableOf, type CellMap } from '../report/table'
import { reportTable } from '../report/period-table'
import { must } from '../result'
import { rollOthersUp, tablesOfOthers, type FinerReport } from './other-datasets'

const WEEKLY = namedDataset(WEEKLY_DISEASES)
const weeks = periodsBetween(must(parsePeriod('2025-W40')), must(parsePeriod('2026-W53')))
const periodOf = (text: string) => must(parsePeriod(text))
const cells = (value: number | null): CellMap =>
  value === null
    ? {}
    : { 'measles.u5': { kind: 'value', value }, 'measles.a5plus': { kind: 'value', value: 1 } }

describe('weeks in larger periods', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(() => database.close())

  it.each<[Frequency, string]>([
    ['month', '2026-06'],
    ['quarter', '2026-Q2'],
  ])('are what PostgreSQL adds up by the fourth day of each week, in a %s', async (frequency, text) => {
    const week = fc.record({ isExpected: fc.boolean(), value: fc.option(fc.nat(50)), isIn: fc.boolean() })
    await fc.assert(
      fc.asyncProperty(fc.array(week, { minLength: weeks.length, maxLength: weeks.length }), async all => {
        const reports = weeks.map((period, at): FinerReport => {
          const { isExpected, isIn, value } = all[at]!
          return { period, isExpected, report: isIn && isExpected ? cells(value) : null }
        })
        const periods = [0, -1, -2].map(steps => shiftPeriod(periodOf(text), steps))
        const ours = rollOthersUp(WEEKLY, ['measles.u5'], reports, periods)
        const { rows } = await database.query<{
          start: string
          expected: number
          received: number
          sum: number | null
        }>(
          `SELECT date_trunc($2, day + 3)::date::text AS start, count(*) FILTER (WHERE expected)::int AS expected, count(*) FILTER (WHERE received AND expected)::int AS received,
             CASE WHEN count(value) >= count(*) FILTER (WHERE expected) THEN sum(value)::float8 END AS sum
           FROM jsonb_to_recordset($1) AS w (day date, expected boolean, received boolean, value float8) GROUP BY 1`,
          [
            JSON.stringify(
              reports.map(({ period, isExpected, report }, at) => ({
                day: printDay(firstDay(period)),
                expected: isExpected,
                received: report !== null,
                value: report ? all[at]!.value : null,
              })),
            ),
            frequency,
          ],
        )
        const theirs = new Map(rows.map(row => [row.start, row]))
        periods.forEach((period, at) => {
          const row = theirs.get(printDay(firstDay(period)))!
          expect(
            [ours.expected[at], ours.received[at], ours.numbers['measles.u5']![at]],
            printPeriod(period),
          ).toEqual([row.expected, row.received, row.sum])
        })
      }),
      { numRuns: 30 },
    )
  })

  it('of October 2026 are W40 to W44, and one that is missing leaves the month without a figure', () => {
    const given = (missing: string | null) =>
      rollOthersUp(
        WEEKLY,
        ['measles.u5'],
        weeks.map(period => ({
          period,
          isExpected: true,
          report: printPeriod(period) === missing ? null : cells(2),
        })),
        [periodOf('2026-10')],
      )
    expect(given(null)).toEqual({
      periods: ['2026-10'],
      numbers: { 'measles.u5': [10] },
      received: [5],
      expected: [5],
    })
    for (const week of ['2026-W40', '2026-W44'])
      expect(given(week)).toMatchObject({ numbers: { 'measles.u5': [null] }, received: [4] })
    for (const week of ['2026-W39', '2026-W45'])
      expect(given(week)).toMatchObject({ numbers: { 'measles.u5': [10] }, received: [5] })
  })
})

describe('a rule over two datasets', () => {
  it('reads both, here and in the periods before', () => {
    const edition = withOthers(
      {
        ...MONTHLY_SUMMARY,
        rules: [
          {
            ...MONTHLY_SUMMARY.rules[0]!,
            expression: 'injuries >= weekly_diseases.measles + previous(weekly_diseases.measles)',
          },
        ],
      },
      [WEEKLY],
    )
    const compiled = must(compile(edition.rules[0]!.expression, vocabularyOf(edition), 'truth'))
    const others = tablesOfOthers({
      weekly_diseases: {
        periods: ['2026-10', '2026-09'],
        numbers: { 'measles.u5': [3, 4], 'measles.a5plus': [1, null] },
        received: [5, 3],
        expected: [5, 4],
      },
    })
    const report: CellMap = {
      'injuries.f': { kind: 'value', value: 5 },
      'injuries.m': { kind: 'value', value: 4 },
    }
    const judged = (figures = others) =>
      compiled.run(reportTable(report, periodOf('2026-10'), () => tableOf([{}]), figures))[0]!
    // September lacks a week, so that nothing is said.
    expect(judged()).toBeNaN()
    const whole = tablesOfOthers({
      weekly_diseases: {
        periods: ['2026-10', '2026-09'],
        numbers: { 'measles.u5': [3, 4], 'measles.a5plus': [1, 2] },
        received: [5, 4],
        expected: [5, 4],
      },
    })
    expect(judged(whole)).toBe(0)
    expect(judged(tablesOfOthers())).toBeNaN()
  })
  it('carries what it names, and nothing else', () => {
    expect(MONTHLY_SUMMARY.others?.map(({ dataset }) => dataset)).toEqual(['weekly_diseases'])
    expect(withOthers({ ...MONTHLY_SUMMARY, rules: [] }, [WEEKLY]).others).toBeUndefined()
    // A day or a choice has no sum: only amounts can be named.
    expect(WEEKLY.items).toHaveLength(11)
  })
})
