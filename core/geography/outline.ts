import { bad, good, type Problem, type Result } from '../result'

/** A place on the earth as GeoJSON writes it: degrees east, degrees north. */
export type Position = [longitude: number, latitude: number]

/** The outline of a unit: a Polygon or MultiPolygon (RFC 7946, 3.1.6 and 3.1.7). */
export type Outline =
  { type: 'Polygon'; coordinates: Position[][] } | { type: 'MultiPolygon'; coordinates: Position[][][] }

/** More than these make a map slow and nobody sees them. */
export const MOST_POSITIONS = 20_000

const isPosition = (value: unknown): value is Position =>
  Array.isArray(value) &&
  value.length >= 2 &&
  value.slice(0, 2).every(Number.isFinite) &&
  Math.abs(value[0] as number) <= 180 &&
  Math.abs(value[1] as number) <= 90

/** What is wrong with a ring; null when it is one: closed, of four positions at least. */
function ringProblem(ring: unknown): Problem | null {
  if (!Array.isArray(ring) || ring.length < 4)
    return { code: 'outline-ring', message: 'A ring of an outline has four positions at least.' }
  if (!ring.every(isPosition))
    return { code: 'outline-position', message: 'A position is degrees east and north (WGS 84).' }
  const [first, last] = [ring[0] as Position, ring.at(-1) as Position]
  return first[0] === last[0] && first[1] === last[1]
    ? null
    : { code: 'outline-open', message: 'A ring of an outline ends where it begins.' }
}

/** All rings of an outline, holes too. */
export const ringsOf = ({ type, coordinates }: Outline): Position[][] =>
  type === 'Polygon' ? coordinates : coordinates.flat()

/**
 * Checks a geometry from outside before it becomes the outline of a unit. A Feature, or a collection of one, stands
 * for its geometry. Heights are dropped; the sense in which a ring goes round does not matter here.
 *
 * @example checkOutline({ type: 'Point', coordinates: [0, 0] }) // bad: `outline-kind`
 */
export function checkOutline(value: unknown): Result<Outline> {
  if (typeof value !== 'object' || value === null)
    return bad({ code: 'outline-kind', message: 'This is no GeoJSON.' })
  const { type, coordinates, geometry, features } = value as Record<string, unknown>
  if (type === 'Feature') return checkOutline(geometry)
  if (type === 'FeatureCollection' && Array.isArray(features) && features.length === 1)
    return checkOutline(features[0])
  if ((type !== 'Polygon' && type !== 'MultiPolygon') || !Array.isArray(coordinates))
    return bad({ code: 'outline-kind', message: 'An outline is one Polygon or MultiPolygon of GeoJSON.' })
  const polygons = (type === 'Polygon' ? [coordinates] : coordinates) as unknown[]
  if (!polygons.length || !polygons.every(polygon => Array.isArray(polygon) && polygon.length))
    return bad({ code: 'outline-ring', message: 'An outline has a ring.' })
  const rings = polygons.flat() as unknown[]
  for (const ring of rings) {
    const problem = ringProblem(ring)
    if (problem) return bad(problem)
  }
  const positions = rings.reduce<number>((sum, ring) => sum + (ring as unknown[]).length, 0)
  if (positions > MOST_POSITIONS)
    return bad({
      code: 'outline-long',
      message: `An outline has at most ${MOST_POSITIONS} positions.`,
      values: { most: MOST_POSITIONS },
    })
  const flat = (polygon: unknown) =>
    (polygon as Position[][]).map(ring => ring.map(([east, north]): Position => [east, north]))
  return good(
    type === 'Polygon' ? { type, coordinates: flat(coordinates) } : { type, coordinates: polygons.map(flat) },
  )
}
