import { geoDistance, geoMercator } from 'd3-geo'

/** A place on the earth, in degrees (WGS 84). */
export interface Degrees {
  latitude: number
  longitude: number
}

/** The mean radius of the earth (IUGG), in kilometres. */
const EARTH_KM = 6371.0088

const degrees = ({ longitude, latitude }: Degrees): [number, number] => [longitude, latitude]

/** How far two places are from one another along the earth, in kilometres. */
export const kilometresBetween = (one: Degrees, other: Degrees): number =>
  geoDistance(degrees(one), degrees(other)) * EARTH_KM

/** The places that are next to a position, the nearest first, each with its distance. */
export const nearestTo = <Place extends Degrees>(
  at: Degrees,
  places: readonly Place[],
  most: number,
): { place: Place; kilometres: number }[] =>
  places
    .map(place => ({ place, kilometres: kilometresBetween(at, place) }))
    .sort((one, other) => one.kilometres - other.kilometres)
    .slice(0, most)

/** A place in a picture, in its units from the left and from the top. */
export interface Point {
  x: number
  y: number
}

export interface SmallMap {
  /** One for each position, in their order. */
  points: Point[]
  /** A round number of kilometres, and how long they are in the picture. */
  scale: { kilometres: number; length: number }
}

/** Lengths of a scale: round numbers, in kilometres. */
const ROUND = [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50, 100, 200, 500, 1000]
/** The scale is as long as it can be and takes no more than this share of the picture. */
const SCALE_SHARE = 0.35
/** One place alone is in the middle of so many kilometres. */
const ALONE_KM = 1
/** Places that are closer than this are shown as one: nobody measures them apart. */
const CLOSE_KM = 0.01

/**
 * Places in a small picture with north at the top, in Mercator's projection, as large as they can be within its
 * margin.
 * @param size in units of the picture
 */
export function smallMap(
  positions: readonly Degrees[],
  size: { width: number; height: number; margin: number },
): SmallMap {
  const { width, height, margin } = size
  const [first] = positions
  if (!first) return { points: [], scale: { kilometres: 1, length: 0 } }
  const spread = Math.max(...positions.map(other => kilometresBetween(first, other)), 0)
  const around = ALONE_KM / 111
  const all =
    spread > CLOSE_KM
      ? positions.map(degrees)
      : [-around, around].map((by): [number, number] => [first.longitude + by, first.latitude + by])
  const projection = geoMercator().fitExtent(
    [
      [margin, margin],
      [width - margin, height - margin],
    ],
    { type: 'MultiPoint', coordinates: all },
  )
  const points = positions.map((position): Point => {
    const [x, y] = projection(degrees(position))!
    return { x, y }
  })
  const [left, right] = [0, width].map(x => projection.invert!([x, height / 2])!)
  const across = geoDistance(left!, right!) * EARTH_KM
  const kilometres = ROUND.findLast(length => length <= across * SCALE_SHARE) ?? ROUND[0]!
  return { points, scale: { kilometres, length: (width * kilometres) / across } }
}
