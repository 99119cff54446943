import fc from 'fast-check'
import * as reference from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { expectedRange, raisesDoubt } from './expected-range'
import { itemCompleteness } from './item-completeness'
import { mean } from './mean'
import { reporting } from './reporting'
import { standardDeviation } from './standard-deviation'

const numbers = fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 40 })

/**
 * Mass spectrometer readings, in the outlier example of the NIST/SEMATECH e-Handbook of Statistical Methods,
 * 1.3.5.17 (values from memory). Only the last is an outlier; Grubbs’ G is 2.4688.
 */
const NIST = [199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57]

describe('mean and standard deviation', () => {
  it('agree with simple-statistics', () => {
    fc.assert(fc.property(numbers, (values) => {
      expect(mean(values)).toBeCloseTo(reference.mean(values), 5)
      expect(standardDeviation(values)).toBeCloseTo(reference.sampleStandardDeviation(values), 4)
    }))
  })

  it('give the Grubbs statistic of the NIST readings', () => {
    const largest = Math.max(...NIST.map(value => Math.abs(value - mean(NIST))))
    expect(largest / standardDeviation(NIST)).toBeCloseTo(2.4688, 4)
  })

  it('have no spread for fewer than two values', () => {
    expect(standardDeviation([3])).toBeNaN()
    expect(mean([])).toBeNaN()
  })
})

describe('the expected range', () => {
  const method = { method: 'meanSd' as const, k: 3, raises: 'explain' as const }

  it('leaves the tested value out: the last NIST reading is outside the range of those before it', () => {
    const range = expectedRange(NIST.slice(0, 7), method, 'decimal')!
    expect(range.low).toBeCloseTo(reference.mean(NIST.slice(0, 7)) - 3 * reference.sampleStandardDeviation(NIST.slice(0, 7)), 8)
    expect(raisesDoubt(range, 245.57)).toBe(true)
    expect(NIST.slice(0, 7).filter(value => raisesDoubt(range, value))).toEqual([])
  })

  it('needs 6 known values, and looks at no more than 12', () => {
    expect(expectedRange([1, 2, 3, 4, 5, NaN, NaN], method)).toBeNull()
    expect(expectedRange([1, 2, 3, 4, 5, 6], method)?.count).toBe(6)
    expect(expectedRange([...Array<number>(12).fill(20), 9_999, 9_999], method)).toMatchObject({ low: 20, high: 20, count: 12 })
  })

  it('never goes below zero, and has whole ends for a count', () => {
    const range = expectedRange([0, 1, 0, 2, 0, 1], method)!
    expect(range.low).toBe(0)
    expect(Number.isInteger(range.high)).toBe(true)
  })

  it('raises nothing about small counts, and nothing about a blank', () => {
    expect(raisesDoubt({ low: 0, high: 2, mean: 1, count: 12 }, 9)).toBe(false)
    expect(raisesDoubt({ low: 40, high: 60, mean: 50, count: 12 }, NaN)).toBe(false)
    expect(raisesDoubt({ low: 40, high: 60, mean: 50, count: 12 }, 0)).toBe(true)
  })
})

describe('completeness and timeliness', () => {
  it('count received, and received before the end of the due day, over expected', () => {
    const round = reporting([
      { received: true, firstReceivedAt: 99 }, { received: true, firstReceivedAt: 100 },
      { received: false, firstReceivedAt: 50 }, { received: false, firstReceivedAt: null },
    ], 100)
    expect(round).toEqual({ expected: 4, received: 2, onTime: 1, completeness: 0.5, timeliness: 0.25 })
  })

  it('are no numbers when nothing is expected', () => {
    expect(reporting([], 0)).toMatchObject({ completeness: null, timeliness: null })
  })

  it('of the items leave out what is not offered', () => {
    expect(itemCompleteness(['a', 'b', 'c', 'd'], {
      a: { kind: 'value', value: 0 }, b: { kind: 'notOffered' }, c: { kind: 'notKnown', reason: 'away' },
    })).toEqual({ answered: 2, applies: 3 })
  })
})
