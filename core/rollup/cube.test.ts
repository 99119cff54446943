import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { periodsBetween, type Cycle, type Period } from '../calendar/period'
import { parsePeriod, printPeriod } from '../calendar/period-text'
import type { RollUp } from '../report/edition'
import { must } from '../result'
import { countReports, eachUnit, rollUp, rowsForRules, type Borders, type Cube } from './cube'

const read = (text: string): Period => must(parsePeriod(text))
const months = (first: string, last: string) => periodsBetween(read(first), read(last))
const cube = (
  units: number,
  periods: Period[],
  values: (number | null)[],
  operator: RollUp = 'sum',
): Cube => ({
  units,
  periods,
  cells: [{ key: 'x', operator, values: Float64Array.from(values, value => value ?? NaN) }],
})
const still = (groups: number[]): Borders => ({
  count: Math.max(...groups) + 1,
  groupOf: () => Int32Array.from(groups),
})
const valuesOf = (of: Cube, borders: Borders, cycle: Cycle) => [
  ...must(rollUp(of, borders, cycle)).figures.get('x')!.values,
]

describe('rolling up over units and time', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
    await database.exec('CREATE TABLE report (unit int, month int, zone int, quarter int, value float8)')
  })
  afterAll(async () => {
    await database.close()
  })

  it('gives what SQL’s GROUP BY gives, and for the last the latest known of each unit', async () => {
    const LAST = `SELECT zone, quarter, sum(value) AS value FROM (SELECT DISTINCT ON (unit, quarter) unit, zone, quarter, value FROM report WHERE value IS NOT NULL ORDER BY unit, quarter, month DESC) AS latest GROUP BY zone, quarter`
    const all = (operator: string) =>
      `SELECT zone, quarter, ${operator}(value) AS value FROM report GROUP BY zone, quarter`
    const sql = { sum: all('sum'), mean: all('avg'), last: LAST }
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('sum', 'mean', 'last'),
        fc.array(fc.option(fc.nat(50)), { minLength: 24, maxLength: 24 }),
        async (operator, values) => {
          const zones = [0, 1, 0, 1]
          await database.exec('TRUNCATE report')
          await database.query(
            'INSERT INTO report SELECT * FROM unnest($1::int[], $2::int[], $3::int[], $4::int[], $5::float8[])',
            [
              values.map((_, at) => at % 4),
              values.map((_, at) => at >> 2),
              values.map((_, at) => zones[at % 4]!),
              values.map((_, at) => ((at >> 2) / 3) | 0),
              values,
            ],
          )
          const { rows } = await database.query<{ zone: number; quarter: number; value: number | null }>(
            sql[operator],
          )
          const ours = valuesOf(cube(4, months('2026-01', '2026-06'), values, operator), still(zones), {
            frequency: 'quarter',
          })
          for (const [at, value] of ours.entries()) {
            const theirs = rows.find(({ zone, quarter }) => quarter * 2 + zone === at)?.value ?? null
            if (theirs === null) expect(value).toBeNaN()
            else expect(value).toBeCloseTo(theirs, 9)
          }
        },
      ),
      { numRuns: 60 },
    )
  })

  it('of a roll-up is the roll-up', () => {
    fc.assert(
      fc.property(
        fc.array(fc.option(fc.nat(50)), { minLength: 48, maxLength: 48 }),
        fc.constantFrom('sum', 'last'),
        (values, operator) => {
          const facilities = cube(4, months('2026-01', '2026-12'), values, operator)
          const quarters = must(rollUp(facilities, eachUnit(4), { frequency: 'quarter' }))
          const zones = must(
            rollUp(
              {
                units: 4,
                periods: quarters.periods,
                cells: [{ key: 'x', operator, values: quarters.figures.get('x')!.values }],
              },
              still([0, 0, 1, 1]),
              { frequency: 'quarter' },
            ),
          )
          const districts = valuesOf(
            {
              units: 2,
              periods: zones.periods,
              cells: [{ key: 'x', operator: 'sum', values: zones.figures.get('x')!.values }],
            },
            still([0, 0]),
            { frequency: 'quarter' },
          )
          expect(districts).toEqual(valuesOf(facilities, still([0, 0, 0, 0]), { frequency: 'quarter' }))
        },
      ),
    )
  })

  it('follows the borders of each period, or those of today', () => {
    // Unit 1 moves from group 0 to group 1 in March.
    const moving: Borders = { count: 2, groupOf: period => Int32Array.from([0, period < 2 ? 0 : 1]) }
    const two = (operator: RollUp) => cube(2, months('2026-01', '2026-03'), [1, 10, 1, 10, 1, 10], operator)
    expect(valuesOf(two('sum'), moving, { frequency: 'quarter' })).toEqual([23, 10])
    expect(valuesOf(two('sum'), still([0, 1]), { frequency: 'quarter' })).toEqual([3, 30])
    expect(valuesOf(two('last'), moving, { frequency: 'quarter' })).toEqual([1, 10])
  })

  it('leaves out a unit that is in no group, and rolls nothing up that is not to be', () => {
    expect(
      valuesOf(
        cube(2, months('2026-01', '2026-01'), [1, 10]),
        { count: 1, groupOf: () => Int32Array.from([0, -1]) },
        { frequency: 'year' },
      ),
    ).toEqual([1])
    expect(
      valuesOf(cube(1, months('2026-01', '2026-01'), [1], 'none'), eachUnit(1), { frequency: 'year' }),
    ).toEqual([NaN])
    expect(must(rollUp(cube(0, [], []), eachUnit(0), { frequency: 'year' })).periods).toEqual([])
    expect(
      rollUp(cube(1, months('2026-01', '2026-01'), [1]), eachUnit(1), { frequency: 'week' }),
    ).toMatchObject({ ok: false, problems: [{ code: 'period-not-larger' }] })
  })

  it('puts weeks where their fourth day is', () => {
    const weeks = periodsBetween(read('2026-W39'), read('2026-W45'))
    const rolled = must(
      rollUp(
        cube(
          1,
          weeks,
          weeks.map(() => 1),
        ),
        eachUnit(1),
        { frequency: 'month' },
      ),
    )
    expect(rolled.periods.map(printPeriod)).toEqual(['2026-09', '2026-10', '2026-11'])
    // The fourth days (Thursdays) of October 2026 are 1, 8, 15, 22 and 29.
    expect([...rolled.figures.get('x')!.values]).toEqual([1, 5, 1])
  })
})

describe('the reports behind a figure', () => {
  it('are counted as expected and as in', () => {
    const counts = must(
      countReports(
        { units: 3, periods: months('2026-01', '2026-02') },
        Uint8Array.of(1, 1, 0, 1, 1, 1),
        Uint8Array.of(1, 0, 1, 1, 1, 0),
        still([0, 0, 1]),
        { frequency: 'quarter' },
      ),
    )
    expect([...counts.expected]).toEqual([4, 1])
    expect([...counts.received]).toEqual([3, 0])
  })

  it('must all be in before another dataset is held against them', () => {
    const weeks = periodsBetween(read('2026-W40'), read('2026-W44'))
    const both = cube(2, weeks, [1, 1, 2, null, 3, 1, 4, 1, 5, 1])
    const rows = must(rowsForRules(both, new Uint8Array(10).fill(1), { frequency: 'month' }))
    expect([...rows.columns.get('x')!]).toEqual([15, NaN])
  })
})
