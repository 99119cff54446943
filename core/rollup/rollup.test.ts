import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import type { CellContent } from '../report/cell'
import { tableOf } from '../report/table'
import { indicators, readyIndicators } from './indicator'
import { overUnits } from './roll-up'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const content = (number: number | null): CellContent => (number === null ? { kind: 'blank' } : value(number))

describe('rolling up over units', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(async () => {
    await database.close()
  })

  it('gives what SQL gives with NULL for blank', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.option(fc.nat(999)), { maxLength: 30 }), async numbers => {
        const table = tableOf(numbers.map(number => ({ a: content(number) })))
        const { rows } = await database.query<{ sum: number | null; mean: number | null; count: number }>(
          'SELECT sum(v)::float8 AS sum, avg(v)::float8 AS mean, count(v)::int AS count FROM unnest($1::float8[]) AS given (v)',
          [numbers],
        )
        const { sum, mean, count } = rows[0]!
        expect(overUnits(table, ['a'], 'sum')).toEqual({ value: sum, reportsIn: count })
        expect(overUnits(table, ['a'], 'last')).toEqual({ value: sum, reportsIn: count })
        const ourMean = overUnits(table, ['a'], 'mean').value
        if (mean === null) expect(ourMean).toBeNull()
        else expect(ourMean).toBeCloseTo(mean, 9)
        expect(overUnits(table, ['a'], 'none').value).toBeNull()
      }),
      { numRuns: 60 },
    )
  })

  it('of a roll-up is the roll-up: districts of zones are districts of facilities', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.nat(99), { minLength: 1, maxLength: 5 }), { minLength: 1, maxLength: 5 }),
        zones => {
          const whole = overUnits(tableOf(zones.flat().map(number => ({ a: value(number) }))), ['a'], 'sum')
          const parts = zones.map(zone =>
            overUnits(tableOf(zone.map(number => ({ a: value(number) }))), ['a'], 'sum'),
          )
          const again = overUnits(tableOf(parts.map(part => ({ a: value(part.value!) }))), ['a'], 'sum')
          expect(again.value).toBe(whole.value)
        },
      ),
    )
  })
})

describe('indicators', () => {
  const of = (cells: Record<string, number>, code: string) =>
    indicators(
      MONTHLY_SUMMARY,
      tableOf([Object.fromEntries(Object.entries(cells).map(([key, number]) => [key, value(number)]))]),
    ).find(one => one.code === code)!

  it('divide what was rolled up: the drop-out from the first to the third dose (common practice)', () => {
    const cells = {
      'combined_first.u1y': 200,
      'combined_first.o1y': 0,
      'combined_third.u1y': 170,
      'combined_third.o1y': 0,
    }
    expect(of(cells, 'combined_drop_out')).toMatchObject({ numerator: 30, denominator: 200, value: 15 })
  })

  it('know the cells that they read; one of a draft that cannot be read yet is left out', () => {
    const ready = readyIndicators(MONTHLY_SUMMARY)
    const drop = ready.find(({ definition }) => definition.code === 'combined_drop_out')!
    expect([...drop.cells].sort()).toEqual([
      'combined_first.o1y',
      'combined_first.u1y',
      'combined_third.o1y',
      'combined_third.u1y',
    ])
    const [first, ...others] = MONTHLY_SUMMARY.indicators
    const broken = { ...MONTHLY_SUMMARY, indicators: [{ ...first!, numerator: 'antenatal_' }, ...others] }
    expect(readyIndicators(broken).map(({ definition }) => definition.code)).toEqual(
      others.map(({ code }) => code),
    )
    expect(() => indicators(broken, tableOf([{}]))).toThrow('cannot be read')
  })

  it('are never averages of rates', () => {
    // Two facilities with 1 of 2 and 0 of 98 caesareans: 1 of 100, not the mean of 50 % and 0 %.
    expect(
      of(
        { caesareans: 1, 'deliveries.u20.facility': 2, 'deliveries.a20plus.facility': 98 },
        'caesarean_share',
      ).value,
    ).toBe(1)
  })

  it('have no value over a blank or a zero denominator', () => {
    expect(of({}, 'caesarean_share').value).toBeNull()
    expect(
      of({ caesareans: 0, 'deliveries.u20.facility': 0, 'deliveries.a20plus.facility': 0 }, 'caesarean_share')
        .value,
    ).toBeNull()
  })
})
