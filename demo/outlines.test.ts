import { check } from '@placemarkio/check-geojson'
import { describe, expect, it } from 'vitest'
import { checkOutline, type Position } from '#core/geography/outline'
import { outlines } from './outlines'
import { places } from './places'

describe('the outlines of the scenario', () => {
  it('are GeoJSON (RFC 7946), as a linter of it says', () => {
    const text = JSON.stringify(outlines())
    expect(check(text)).toBeTruthy()
    expect(outlines().features).toHaveLength(4)
    for (const feature of outlines().features) expect(checkOutline(feature).ok).toBe(true)
  })

  /** Is a place within a ring? By the number of its sides east of it (common practice). */
  const isWithin = (ring: readonly Position[], [east, north]: Position) =>
    ring.slice(1).filter(([x, y], at) => {
      const [x0, y0] = ring[at]!
      return y0 > north !== y > north && east < x0 + ((x - x0) * (north - y0)) / (y - y0)
    }).length %
      2 ===
    1

  it('hold every facility of their district', () => {
    const byCode = new Map(places().map(place => [place.code, place]))
    for (const { properties, geometry } of outlines().features)
      for (const place of byCode.values()) {
        const district = byCode.get(byCode.get(place.parent ?? '')?.parent ?? '')?.code
        if (place.level === 4 && district === properties.unit)
          expect(isWithin(geometry.coordinates[0]!, [place.longitude, place.latitude])).toBe(true)
      }
  })
})
