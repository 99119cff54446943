import fc from 'fast-check'
import { jStat } from 'jstat'
import * as reference from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { expectedRange, raisesDoubt } from './expected-range'
import { NIST } from './nist.fixture'
import { poissonRange, poissonUpTo, THREE_SD_TAIL } from './poisson'
import { robustScale } from './robust-scale'

const raises = 'explain' as const
/** Beyond this a value is suspicious: Iglewicz and Hoaglin, “How to detect and handle outliers”, 1993. */
const SUSPICIOUS_Z = 3.5
const meanSd = { method: 'meanSd' as const, k: 3, raises }
const modifiedZ = { method: 'modifiedZ' as const, limit: SUSPICIOUS_Z, raises }
/** Counts, which are tallied, and decimals and wide ones, which are sorted. */
const numbers = fc.oneof(
  fc.array(fc.nat(60), { minLength: 1, maxLength: 40 }),
  fc.array(fc.nat(5_000), { minLength: 1, maxLength: 40 }),
  fc.array(
    fc.integer({ min: 0, max: 9_999 }).map(tenths => tenths / 10),
    { minLength: 1, maxLength: 40 },
  ),
)

describe('the range by mean and standard deviation', () => {
  it('leaves the tested value out: the last NIST reading is outside the range of those before it', () => {
    const range = expectedRange(NIST.slice(0, 7), meanSd, 'decimal')!
    expect(range.low).toBeCloseTo(
      reference.mean(NIST.slice(0, 7)) - 3 * reference.sampleStandardDeviation(NIST.slice(0, 7)),
      8,
    )
    expect(raisesDoubt(range, 245.57)).toBe(true)
    expect(NIST.slice(0, 7).filter(value => raisesDoubt(range, value))).toEqual([])
  })

  it('needs 6 known values, and looks at no more than 12', () => {
    expect(expectedRange([1, 2, 3, 4, 5, NaN, NaN], meanSd)).toBeNull()
    expect(expectedRange([], meanSd)).toBeNull()
    expect(expectedRange([1, 2, 3, 4, 5, 6], meanSd)?.count).toBe(6)
    expect(expectedRange([...Array<number>(12).fill(20), 9_999, 9_999], meanSd)).toMatchObject({
      low: 20,
      high: 20,
      count: 12,
    })
  })

  it('never goes below zero, and has whole ends for a count', () => {
    const range = expectedRange([0, 1, 0, 2, 0, 1], meanSd)!
    expect(range.low).toBe(0)
    expect(Number.isInteger(range.high)).toBe(true)
  })

  it('raises nothing about small counts, and nothing about a blank', () => {
    expect(raisesDoubt({ method: 'meanSd', low: 0, high: 2, mean: 1, count: 12 }, 9)).toBe(false)
    expect(raisesDoubt({ method: 'meanSd', low: 40, high: 60, mean: 50, count: 12 }, NaN)).toBe(false)
    expect(raisesDoubt({ method: 'meanSd', low: 40, high: 60, mean: 50, count: 12 }, 0)).toBe(true)
  })
})

describe('the range by modified z-score', () => {
  it('finds the one outlier of the NIST readings, though it is among them', () => {
    // 0.6745 (x − median) / MAD: NIST/SEMATECH e-Handbook of Statistical Methods, 1.3.5.17.
    const { median: middle, scale } = robustScale(NIST)
    expect(NIST.filter(value => Math.abs(value - middle) / scale > SUSPICIOUS_Z)).toEqual([245.57])
    expect(NIST.filter(value => raisesDoubt(expectedRange(NIST, modifiedZ, 'decimal')!, value))).toEqual([
      245.57,
    ])
  })

  it('has the median and the MAD of simple-statistics', () => {
    fc.assert(
      fc.property(numbers, values => {
        const { median: middle, scale } = robustScale(values)
        const mad = reference.medianAbsoluteDeviation(values)
        expect(middle).toBeCloseTo(reference.median(values), 9)
        if (mad > 0) expect(scale).toBeCloseTo(mad / 0.6745, 9)
        else
          expect(scale).toBeCloseTo(
            1.253314 * reference.mean(values.map(value => Math.abs(value - middle))),
            9,
          )
      }),
    )
  })

  it('of a row of equal values lets only that value pass', () => {
    expect(expectedRange(Array<number>(8).fill(20), modifiedZ)).toMatchObject({ low: 20, high: 20 })
  })

  it('is not stretched by one wild month, as mean ± 3 standard deviations is', () => {
    const history = [40, 42, 39, 41, 40, 43, 38, 41, 40, 42, 39, 900]
    expect(raisesDoubt(expectedRange(history, modifiedZ)!, 400)).toBe(true)
    expect(raisesDoubt(expectedRange(history, meanSd)!, 400)).toBe(false)
  })
})

describe('the exact range of small counts', () => {
  it('has the chances of jstat and of simple-statistics', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 60, noNaN: true }), fc.nat(90), (expected, count) => {
        expect(poissonUpTo(count, expected)).toBeCloseTo(jStat.poisson.cdf(count, expected), 8)
      }),
    )
    const table = reference.poissonDistribution(4)!
    expect(poissonUpTo(3, 4)).toBeCloseTo(
      table.slice(0, 4).reduce((sum, chance) => sum + chance, 0),
      4,
    )
  })

  it('has less than its tail outside on each side, and no less could be left out', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 60, noNaN: true }), expected => {
        const { low, high } = poissonRange(expected)
        const upTo = (count: number) => (count < 0 ? 0 : jStat.poisson.cdf(count, expected))
        expect(upTo(low - 1)).toBeLessThan(THREE_SD_TAIL)
        expect(1 - upTo(high)).toBeLessThan(THREE_SD_TAIL)
        expect(upTo(low)).toBeGreaterThanOrEqual(THREE_SD_TAIL)
        expect(1 - upTo(high - 1)).toBeGreaterThanOrEqual(THREE_SD_TAIL)
      }),
    )
  })

  it('does not hang or underflow on a hospital’s counts, where it comes near the normal range', () => {
    const { low, high } = poissonRange(40_000)
    expect(low).toBeGreaterThan(40_000 - 3.1 * 200)
    expect(high).toBeLessThan(40_000 + 3.1 * 200)
    expect(poissonRange(0)).toEqual({ low: 0, high: 0 })
    expect(poissonUpTo(-1, 3)).toBe(0)
  })

  it('asks about nine cases where one a month is usual', () => {
    const range = expectedRange([1, 0, 2, 1, 1, 0, 1], { method: 'poisson', tail: THREE_SD_TAIL, raises })!
    expect([0, 1, 4].filter(value => raisesDoubt(range, value))).toEqual([])
    expect(raisesDoubt(range, 9)).toBe(true)
  })
})

describe('fixed limits', () => {
  it('hold without any history', () => {
    const fixed = { method: 'fixed' as const, low: 0, high: 31, raises }
    expect(expectedRange([], fixed)).toEqual({ method: 'fixed', low: 0, high: 31, mean: null, count: 0 })
    expect(raisesDoubt(expectedRange([], fixed)!, 32)).toBe(true)
    expect(raisesDoubt(expectedRange([], fixed)!, 31)).toBe(false)
  })
})
