import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { kilometresBetween, nearestTo, smallMap, type Degrees } from './nearby'

/** To the centimetre: PostgreSQL refuses differences that are next to nothing. */
const degrees = (least: number, most: number) =>
  fc.integer({ min: least * 10_000_000, max: most * 10_000_000 }).map(parts => parts / 10_000_000)
const position = fc.record({ latitude: degrees(-80, 80), longitude: degrees(-179, 179) })
let database: PGlite
beforeAll(async () => {
  database = await PGlite.create()
}, 60_000)
afterAll(() => database.close())

describe('how far two places are', () => {
  it('is a degree of the meridian: 111.19 km on the mean sphere (common practice)', () => {
    const far = kilometresBetween({ latitude: 41, longitude: -29 }, { latitude: 42, longitude: -29 })
    expect(far).toBeCloseTo(111.195, 2)
  })

  it('is what the haversine formula gives in PostgreSQL (property)', async () => {
    await fc.assert(
      fc.asyncProperty(position, position, async (one, other) => {
        const { rows } = await database.query<{ km: number }>(
          `SELECT 2 * 6371.0088 * asin(least(1, sqrt(power(sind(($3::float8 - $1) / 2), 2)
             + cosd($1) * cosd($3) * power(sind(($4::float8 - $2) / 2), 2)))) AS km
           FROM (SELECT $1::float8, $2::float8) AS given`,
          [one.latitude, one.longitude, other.latitude, other.longitude],
        )
        expect(kilometresBetween(one, other)).toBeCloseTo(rows[0]!.km, 2)
      }),
      { numRuns: 50 },
    )
  })
})

describe('the places next to a position', () => {
  it('come the nearest first, and no more than are asked for', () => {
    const at = { latitude: 41.5, longitude: -29.5 }
    const places = [0.3, 0.1, 0.2].map(by => ({ name: by, latitude: 41.5 + by, longitude: -29.5 }))
    expect(nearestTo(at, places, 2).map(({ place }) => place.name)).toEqual([0.1, 0.2])
  })
})

describe('a small map', () => {
  const SIZE = { width: 320, height: 200, margin: 20 }
  const anywhere = fc.record({ latitude: degrees(41, 42), longitude: degrees(-31, -29) })
  const tiny = fc.integer({ min: -60, max: 60 }).map(parts => parts / 10_000_000)
  /** Positions far from one another, and some next to the first. */
  const places = fc
    .tuple(anywhere, fc.array(anywhere, { maxLength: 4 }), fc.array(fc.tuple(tiny, tiny), { maxLength: 4 }))
    .map(([first, far, close]) => [
      first,
      ...far,
      ...close.map(([north, east]) => ({
        latitude: first.latitude + north,
        longitude: first.longitude + east,
      })),
    ])

  it('has every place inside its margin, north above and east to the right (property)', () => {
    fc.assert(
      fc.property(places, positions => {
        const { points } = smallMap(positions, SIZE)
        for (const { x, y } of points) {
          expect(x).toBeGreaterThanOrEqual(SIZE.margin - 1e-6)
          expect(x).toBeLessThanOrEqual(SIZE.width - SIZE.margin + 1e-6)
          expect(y).toBeGreaterThanOrEqual(SIZE.margin - 1e-6)
          expect(y).toBeLessThanOrEqual(SIZE.height - SIZE.margin + 1e-6)
        }
        const [first] = positions as [Degrees]
        positions.forEach(({ latitude, longitude }, at) => {
          if (latitude > first.latitude) expect(points[at]!.y).toBeLessThanOrEqual(points[0]!.y + 1e-6)
          if (longitude > first.longitude) expect(points[at]!.x).toBeGreaterThanOrEqual(points[0]!.x - 1e-6)
        })
      }),
    )
  })

  it('has a scale that measures what is in it', () => {
    const here = { latitude: 41.5, longitude: -29.8 }
    const east = { latitude: 41.5, longitude: -29.6 }
    const { points, scale } = smallMap([here, east], SIZE)
    const measured = ((points[1]!.x - points[0]!.x) / scale.length) * scale.kilometres
    expect(measured / kilometresBetween(here, east)).toBeCloseTo(1, 2)
    expect(scale.length).toBeLessThanOrEqual(SIZE.width * 0.36)
  })

  it('shows one place alone in the middle', () => {
    const { points, scale } = smallMap([{ latitude: 41.5, longitude: -29.8 }], SIZE)
    expect(points[0]!.x).toBeCloseTo(160, 0)
    expect(points[0]!.y).toBeCloseTo(100, 0)
    expect(scale.kilometres).toBeLessThanOrEqual(2)
  })
})
