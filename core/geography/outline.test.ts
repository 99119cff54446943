import { describe, expect, it } from 'vitest'
import { checkOutline, MOST_POSITIONS, ringsOf, type Position } from './outline'

const SQUARE: Position[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
  [0, 0],
]

describe('an outline', () => {
  it('is a polygon or several, by itself, in a feature, or in a collection of one', () => {
    const polygon = { type: 'Polygon', coordinates: [SQUARE] }
    const feature = { type: 'Feature', properties: {}, geometry: polygon }
    for (const given of [polygon, feature, { type: 'FeatureCollection', features: [feature] }])
      expect(checkOutline(given)).toEqual({ ok: true, value: polygon })
    const several = { type: 'MultiPolygon', coordinates: [[SQUARE], [SQUARE, SQUARE]] }
    const read = checkOutline(several)
    expect(read.ok && ringsOf(read.value)).toHaveLength(3)
  })

  it('drops heights', () => {
    const high = SQUARE.map(([east, north]) => [east, north, 12])
    expect(checkOutline({ type: 'Polygon', coordinates: [high] })).toEqual({
      ok: true,
      value: { type: 'Polygon', coordinates: [SQUARE] },
    })
  })

  it.each([
    [null, 'outline-kind'],
    [{ type: 'Point', coordinates: [0, 0] }, 'outline-kind'],
    [{ type: 'FeatureCollection', features: [{}, {}] }, 'outline-kind'],
    [{ type: 'Polygon', coordinates: [] }, 'outline-ring'],
    [{ type: 'Polygon', coordinates: [SQUARE.slice(0, 3)] }, 'outline-ring'],
    [{ type: 'Polygon', coordinates: [SQUARE.slice(0, 4)] }, 'outline-open'],
    [{ type: 'Polygon', coordinates: [[...SQUARE.slice(0, 4), ['0', 0]]] }, 'outline-position'],
    [{ type: 'Polygon', coordinates: [[[200, 0], ...SQUARE, [200, 0]]] }, 'outline-position'],
    [{ type: 'MultiPolygon', coordinates: [[]] }, 'outline-ring'],
    [
      { type: 'Polygon', coordinates: [[...Array.from({ length: MOST_POSITIONS }, () => [0, 0]), [0, 0]]] },
      'outline-long',
    ],
  ])('%j is refused: %s', (given, code) =>
    expect(checkOutline(given)).toMatchObject({ ok: false, problems: [{ code }] }),
  )
})
