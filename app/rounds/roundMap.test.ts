import { describe, expect, it } from 'vitest'
import type { BranchMap } from '#core/contract/map'
import type { BoardRow } from '#core/contract/rounds'
import { MAP_SIZE, roundMap } from './roundMap'

const row = (code: string) => ({ unit: { code, name: code } }) as BoardRow
const SQUARE: BranchMap['outlines'][number] = {
  unit: { code: 'north', name: 'North' },
  geometry: {
    type: 'Polygon',
    coordinates: [
      [
        [-30, 41],
        [-29, 41],
        [-29, 42],
        [-30, 42],
        [-30, 41],
      ],
    ],
  },
}
const MAP: BranchMap = {
  unit: { code: 'north', name: 'North' },
  outlines: [SQUARE],
  places: [
    { code: 'elm', latitude: 41.5, longitude: -29.5 },
    { code: 'oak', latitude: 41.9, longitude: -29.1 },
    { code: 'gone', latitude: 60, longitude: 10 },
  ],
}

describe('a round on the map', () => {
  it('lies within its outline, north at the top and east at the right', () => {
    const { placed, outlines, unplaced } = roundMap(MAP, [row('elm'), row('oak'), row('ash')])
    const [elm, oak] = placed
    expect(placed.map(one => one.row.unit.code)).toEqual(['elm', 'oak'])
    expect(oak!.y).toBeLessThan(elm!.y)
    expect(oak!.x).toBeGreaterThan(elm!.x)
    const numbers = outlines[0]!.path.match(/-?\d+(\.\d+)?/g)!.map(Number)
    const xs = numbers.filter((_, at) => at % 2 === 0)
    expect(elm!.x).toBeGreaterThan(Math.min(...xs))
    expect(elm!.x).toBeLessThan(Math.max(...xs))
    for (const { x, y } of placed) {
      expect(x).toBeGreaterThan(0)
      expect(x).toBeLessThan(MAP_SIZE.width)
      expect(y).toBeGreaterThan(0)
      expect(y).toBeLessThan(MAP_SIZE.height)
    }
    expect(unplaced.map(({ unit }) => unit.code)).toEqual(['ash'])
  })

  it('without an outline shows the places alone, and without places says who has none', () => {
    expect(roundMap({ ...MAP, outlines: [] }, [row('elm')])).toMatchObject({ outlines: [], placed: [{}] })
    expect(roundMap({ ...MAP, places: [], outlines: [] }, [row('elm')])).toMatchObject({
      placed: [],
      unplaced: [row('elm')],
    })
  })

  it('puts lanterns apart that would hide one another, and moves no other', () => {
    const near = ['a', 'b', 'c'].map((code, at) => ({ code, latitude: 41.5 + at * 0.001, longitude: -29.5 }))
    const alone = { code: 'd', latitude: 41.1, longitude: -29.9 }
    const map = { ...MAP, places: [...near, alone] }
    const rows = ['a', 'b', 'c', 'd'].map(row)
    const { placed } = roundMap(map, rows)
    for (const [at, one] of placed.entries())
      for (const other of placed.slice(at + 1))
        expect(Math.hypot(one.x - other.x, one.y - other.y)).toBeGreaterThan(16)
    const lonely = roundMap({ ...MAP, places: [near[1]!, alone] }, rows).placed
    expect(placed[3]).toMatchObject({ x: lonely[1]!.x, y: lonely[1]!.y })
  })

  it('draws every ring of several polygons', () => {
    const [ring] = SQUARE.geometry.coordinates as [number, number][][]
    const several = { type: 'MultiPolygon' as const, coordinates: [[ring!], [ring!, ring!]] }
    expect(roundMap({ ...MAP, outlines: [{ ...SQUARE, geometry: several }] }, []).outlines).toHaveLength(3)
  })
})
