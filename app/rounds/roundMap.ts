import type { BranchMap } from '#core/contract/map'
import type { BoardRow } from '#core/contract/rounds'
import { smallMap, type Degrees, type Point, type SmallMap } from '#core/geography/nearby'
import { ringsOf } from '#core/geography/outline'

/** How large the picture is, in its own units. */
export const MAP_SIZE = { width: 720, height: 560, margin: 26 }

/** A facility of the round on the map. */
export interface PlacedRow extends Point {
  row: BoardRow
}
export interface RoundMap {
  /** The outlines as paths of SVG. */
  outlines: { name: string; path: string }[]
  placed: PlacedRow[]
  /** Facilities of the round that nobody gave a position. */
  unplaced: BoardRow[]
  scale: SmallMap['scale']
}

/** Lanterns that are closer than this hide one another, in units of the picture; and how far apart they are put. */
const HIDES = 18
const APART = 17

/** Puts points that hide one another around their middle, the first one at the left: lanterns are higher than wide. */
function spread(points: readonly Point[]): Point[] {
  const groups: number[][] = []
  for (const [at, point] of points.entries()) {
    const group = groups.find(([first]) => {
      const { x, y } = points[first!]!
      return Math.hypot(x - point.x, y - point.y) < HIDES
    })
    if (group) group.push(at)
    else groups.push([at])
  }
  const placed = [...points]
  for (const group of groups.filter(({ length }) => length > 1)) {
    const middle = (of: 'x' | 'y') => group.reduce((sum, at) => sum + points[at]![of], 0) / group.length
    const [x, y] = [middle('x'), middle('y')]
    // Two are an APART from one another; more need a larger circle.
    const radius = APART / (2 * Math.sin(Math.PI / group.length))
    for (const [step, at] of group.entries()) {
      const angle = (2 * Math.PI * step) / group.length + Math.PI
      placed[at] = { x: x + radius * Math.cos(angle), y: y + radius * Math.sin(angle) }
    }
  }
  return placed
}

/** Lays a round out on the map of its branch, north at the top. */
export function roundMap({ outlines, places }: BranchMap, rows: readonly BoardRow[]): RoundMap {
  const placeOf = new Map(places.map(place => [place.code, place]))
  const here = rows.flatMap(row => {
    const place = placeOf.get(row.unit.code)
    return place ? [{ row, place }] : []
  })
  const rings = outlines.flatMap(({ unit, geometry }) =>
    ringsOf(geometry).map(ring => ({
      name: unit.name,
      ring: ring.map(([longitude, latitude]): Degrees => ({ longitude, latitude })),
    })),
  )
  const { points, scale } = smallMap(
    [...here.map(({ place }) => place), ...rings.flatMap(({ ring }) => ring)],
    MAP_SIZE,
  )
  let at = here.length
  const paths = rings.map(({ name, ring }) => {
    const own = points.slice(at, at + ring.length)
    at += ring.length
    return {
      name,
      path: `${own.map(({ x, y }, step) => `${step ? 'L' : 'M'}${x.toFixed(1)} ${y.toFixed(1)}`).join('')}Z`,
    }
  })
  return {
    outlines: paths,
    placed: spread(points.slice(0, here.length)).map((point, index) => ({ row: here[index]!.row, ...point })),
    unplaced: rows.filter(({ unit }) => !placeOf.has(unit.code)),
    scale,
  }
}
