import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  againstDistrict,
  againstLastYear,
  againstThreeBefore,
  dropOut,
  judgeDropOut,
  wastage,
} from './consistency'
import { lastPeriodCopied } from './last-period-copied'
import { likelySlips } from './likely-slips'
import { recountFactor } from './recount-factor'

describe('consistency over time: within a third (WHO data quality review toolkit 2017, from memory)', () => {
  it('against the mean of the three before, of those that are known', () => {
    expect(againstThreeBefore(133, [100, 100, 100])).toMatchObject({ ratio: 1.33, consistent: true })
    expect(againstThreeBefore(134, [90, NaN, 110, 9_999])).toMatchObject({ ratio: 1.34, consistent: false })
    expect(againstThreeBefore(5, [NaN, NaN, NaN])).toEqual({ ratio: NaN, consistent: null })
    expect(againstThreeBefore(NaN, [1, 1, 1]).consistent).toBeNull()
  })

  it('against the year before, zero for zero among it', () => {
    expect(againstLastYear(66, 100).consistent).toBe(false)
    expect(againstLastYear(0, 0)).toEqual({ ratio: 1, consistent: true })
    expect(againstLastYear(3, 0)).toEqual({ ratio: Infinity, consistent: false })
  })

  it('of a facility’s ratio against its district’s', () => {
    expect(againstDistrict({ part: 50, whole: 100 }, { part: 900, whole: 1_000 })).toMatchObject({
      consistent: false,
    })
    expect(againstDistrict({ part: 1, whole: 0 }, { part: 0, whole: 0 }).consistent).toBeNull()
  })
})

describe('drop-out and wastage (common practice)', () => {
  it('warn over ten percent, and doubt below zero', () => {
    expect(dropOut(120, 102)).toBe(15)
    expect(
      [dropOut(100, 90), dropOut(120, 102), dropOut(100, 104), dropOut(0, 3), dropOut(NaN, 3)].map(
        judgeDropOut,
      ),
    ).toEqual(['fine', 'warning', 'doubt', 'unknown', 'unknown'])
    expect(wastage(50, 40)).toBe(20)
    expect(wastage(0, 0)).toBeNaN()
  })
})

describe('a copied report', () => {
  const busy = Array.from({ length: 20 }, (_, at) => 10 + at)

  it('is one whose numbers are nearly all those of the period before', () => {
    expect(lastPeriodCopied(busy, busy)).toEqual({ compared: 20, alike: 20, copied: true })
    expect(lastPeriodCopied([...busy.slice(0, 18), 1, 2], busy).copied).toBe(true)
    expect(lastPeriodCopied([...busy.slice(0, 17), 1, 2, 3], busy).copied).toBe(false)
  })

  it('is not one of zeros and blanks, nor one of few numbers, nor one without a history', () => {
    expect(lastPeriodCopied(Array<number>(40).fill(0), Array<number>(40).fill(0)).copied).toBe(false)
    expect(lastPeriodCopied(busy.slice(0, 9), busy).copied).toBe(false)
    expect(lastPeriodCopied(busy, []).copied).toBe(false)
  })
})

describe('what was meant', () => {
  it.each<[number, number, number, string, number]>([
    [72, 20, 30, 'swapped', 27],
    [227, 20, 30, 'doubled', 27],
    [270, 20, 30, 'extraZero', 27],
    [500, 40, 60, 'extraZero', 50],
    [5, 40, 60, 'missingZero', 50],
    [12, 100, 150, 'missingZero', 120],
  ])('by %i where %i to %i is usual: %s, %i', (typed, low, high, slip, meant) => {
    expect(likelySlips(typed, { low, high })[0]).toEqual({ slip, meant })
  })

  it('is within the range, and what was typed when that is', () => {
    fc.assert(
      fc.property(fc.nat(5_000), fc.nat(300), fc.nat(300), (typed, low, width) => {
        const range = { low, high: low + width }
        for (const { meant } of likelySlips(typed, range))
          expect(meant >= range.low && meant <= range.high).toBe(true)
        if (typed >= low && typed <= low + width) expect(likelySlips(typed, range)).toEqual([])
      }),
    )
    expect(likelySlips(NaN, { low: 0, high: 5 })).toEqual([])
    // 153 with a digit left out, or any other number: nothing is said.
    expect(likelySlips(13, { low: 140, high: 160 })).toEqual([])
  })
})

describe('the recount', () => {
  it('verifies within a tenth (WHO data quality review toolkit 2017, from memory)', () => {
    expect(recountFactor(90, 100)).toEqual({ factor: 0.9, verdict: 'verified' })
    expect(
      [
        recountFactor(89, 100),
        recountFactor(111, 100),
        recountFactor(0, 0),
        recountFactor(3, 0),
        recountFactor(NaN, 3),
      ].map(({ verdict }) => verdict),
    ).toEqual(['overReported', 'underReported', 'verified', 'underReported', 'unknown'])
  })
})
