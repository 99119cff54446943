import * as reference from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { places } from './places'
import { randomFrom } from './random'

const drawn = (draw: (random: ReturnType<typeof randomFrom>) => number, count = 20_000) => {
  const random = randomFrom(5)
  return Array.from({ length: count }, () => draw(random))
}

describe('random figures', () => {
  it.each([
    [0.4, 'small'],
    [7, 'middling'],
    [300, 'big'],
  ])('of a Poisson count around %s have its mean and its variance', mean => {
    const values = drawn(random => random.poisson(mean))
    expect(reference.mean(values) / mean).toBeCloseTo(1, 1)
    expect(reference.variance(values) / mean).toBeCloseTo(1, 1)
    expect(Math.min(...values)).toBeGreaterThanOrEqual(0)
  })

  it('of a negative binomial scatter more: mean + mean² / size', () => {
    const values = drawn(random => random.negativeBinomial(50, 20))
    expect(reference.mean(values) / 50).toBeCloseTo(1, 1)
    expect(reference.variance(values) / (50 + 50 ** 2 / 20)).toBeCloseTo(1, 1)
  })

  it('of a part never exceed their whole', () => {
    const values = drawn(random => random.binomial(12, 0.3))
    expect(Math.max(...values)).toBeLessThanOrEqual(12)
    expect(reference.mean(values)).toBeCloseTo(3.6, 1)
  })

  it('are the same from the same seed', () => {
    expect(drawn(random => random.share(), 50)).toEqual(drawn(random => random.share(), 50))
  })
})

describe('the places', () => {
  const all = places()
  const codes = new Set(all.map(({ code }) => code))

  it('have codes of their own and parents one level above that come before them', () => {
    expect(codes.size).toBe(all.length)
    const before = new Map<string, number>()
    for (const place of all) {
      if (place.parent) expect(before.get(place.parent), place.code).toBe(place.level - 1)
      before.set(place.code, place.level)
    }
    expect(all.filter(({ moves }) => moves && !codes.has(moves.to))).toEqual([])
  })

  it('lie in the open ocean', () => {
    for (const { latitude, longitude } of all) {
      expect(latitude).toBeGreaterThan(41)
      expect(latitude).toBeLessThan(42.2)
      expect(longitude).toBeGreaterThan(-30.6)
      expect(longitude).toBeLessThan(-29)
    }
  })

  it('are four districts of 22, 18, 12 and 20 facilities', () => {
    const zonesOf = (district: string) =>
      all.filter(({ parent }) => parent === district).map(({ code }) => code)
    const facilities = (district: string) =>
      all.filter(({ level, parent }) => level === 4 && zonesOf(district).includes(parent!)).length
    expect(
      ['ashmere_district', 'tolben_vale_district', 'quillan_isles_district', 'sorrel_downs_district'].map(
        facilities,
      ),
    ).toEqual([22, 18, 12, 20])
  })
})
