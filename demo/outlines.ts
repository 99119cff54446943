import type { Position } from '#core/geography/outline'
import { places, type Place } from './places'

/** A district of the scenario on the map, as GeoJSON (RFC 7946) has it. */
interface OutlineFeature {
  type: 'Feature'
  properties: { unit: string; name: string }
  geometry: { type: 'Polygon'; coordinates: Position[][] }
}

const STEPS = 60
/** How far the coast lies beyond the farthest facility, and how much it winds. */
const BEYOND = 1.22
const WINDS = [
  { times: 3, share: 0.06 },
  { times: 7, share: 0.035 },
  { times: 13, share: 0.02 },
]
const round = (degrees: number): number => Number(degrees.toFixed(4))

/** A coast around some places, like an island: as far out in each direction as the places there need. */
function coastAround(own: readonly Place[], turn: number): Position[] {
  const centre = {
    latitude: own.reduce((sum, { latitude }) => sum + latitude, 0) / own.length,
    longitude: own.reduce((sum, { longitude }) => sum + longitude, 0) / own.length,
  }
  const arms = own.map(({ latitude, longitude }) => {
    const [north, east] = [latitude - centre.latitude, longitude - centre.longitude]
    return { angle: Math.atan2(north, east), length: Math.hypot(north, east) }
  })
  const least = Math.max(...arms.map(({ length }) => length)) * 0.6
  const reach = (angle: number) =>
    Math.max(
      least,
      ...arms.map(
        arm => arm.length * Math.max(0, Math.cos(Math.min(Math.PI / 2, Math.abs(turned(arm.angle - angle))))),
      ),
    )
  const ring = Array.from({ length: STEPS }, (_, step): Position => {
    const angle = (2 * Math.PI * step) / STEPS
    const winding = WINDS.reduce((sum, { times, share }) => sum + share * Math.sin(times * angle + turn), 0)
    const length = reach(angle) * (BEYOND + winding)
    return [
      round(centre.longitude + length * Math.cos(angle)),
      round(centre.latitude + length * Math.sin(angle)),
    ]
  })
  return [...ring, ring[0]!]
}
/** An angle as the shorter way round. */
const turned = (angle: number): number => Math.atan2(Math.sin(angle), Math.cos(angle))

/** The made-up outlines of the four districts: islands in the open ocean. */
export function outlines(): { type: 'FeatureCollection'; features: OutlineFeature[] } {
  const all = places()
  const parentOf = new Map(all.map(({ code, parent }) => [code, parent]))
  return {
    type: 'FeatureCollection',
    features: all
      .filter(({ level }) => level === 2)
      .map(({ code, name }, at) => {
        const own = all.filter(({ level, parent }) => level === 4 && parentOf.get(parent ?? '') === code)
        return {
          type: 'Feature',
          properties: { unit: code, name },
          geometry: { type: 'Polygon', coordinates: [coastAround(own, at * 1.7)] },
        }
      }),
  }
}
