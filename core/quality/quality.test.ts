import * as reference from 'simple-statistics'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { itemCompleteness } from './item-completeness'
import { mean } from './mean'
import { NIST } from './nist.fixture'
import { reporting, together } from './reporting'
import { standardDeviation } from './standard-deviation'

const numbers = fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 2, maxLength: 40 })

describe('mean and standard deviation', () => {
  it('agree with simple-statistics', () => {
    fc.assert(
      fc.property(numbers, values => {
        expect(mean(values)).toBeCloseTo(reference.mean(values), 5)
        expect(standardDeviation(values)).toBeCloseTo(reference.sampleStandardDeviation(values), 4)
      }),
    )
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

describe('completeness and timeliness', () => {
  it('count received, and received before the end of the due day, over expected', () => {
    const round = reporting(
      [
        { received: true, firstReceivedAt: 99 },
        { received: true, firstReceivedAt: 100 },
        { received: false, firstReceivedAt: 50 },
        { received: false, firstReceivedAt: null },
      ],
      100,
    )
    expect(round).toEqual({ expected: 4, received: 2, onTime: 1, completeness: 0.5, timeliness: 0.25 })
  })

  it('of several rounds add the counts up first: shares are never averaged', () => {
    const one = reporting([{ received: true, firstReceivedAt: 1 }], 100)
    const other = reporting(
      [
        { received: false, firstReceivedAt: null },
        { received: true, firstReceivedAt: 200 },
        { received: false, firstReceivedAt: null },
      ],
      100,
    )
    expect(together([one, other])).toEqual({
      expected: 4,
      received: 2,
      onTime: 1,
      completeness: 0.5,
      timeliness: 0.25,
    })
    expect(together([])).toMatchObject({ expected: 0, completeness: null })
  })

  it('are no numbers when nothing is expected', () => {
    expect(reporting([], 0)).toMatchObject({ completeness: null, timeliness: null })
  })

  it('of the items leave out what is not offered', () => {
    expect(
      itemCompleteness(['a', 'b', 'c', 'd'], {
        a: { kind: 'value', value: 0 },
        b: { kind: 'notOffered' },
        c: { kind: 'notKnown', reason: 'away' },
      }),
    ).toEqual({ answered: 2, applies: 3 })
  })
})
