import { Type, type Static } from '@sinclair/typebox'
import { MOST_POSITIONS, type Outline } from '../geography/outline'
import { exact, orNull, shapeOf, UnitCode, UnitRef } from './common'

/** The outlines and the facilities of a branch, for a map without tiles. */
export const BranchMap = exact({
  unit: UnitRef,
  outlines: Type.Array(exact({ unit: UnitRef, geometry: shapeOf<Outline>('GeoJSON (RFC 7946)') })),
  /** Facilities that have a position. */
  places: Type.Array(exact({ code: UnitCode, latitude: Type.Number(), longitude: Type.Number() })),
})
export type BranchMap = Static<typeof BranchMap>

const Position = Type.Array(Type.Number(), { minItems: 2, maxItems: 3 })
const Ring = Type.Array(Position, { maxItems: MOST_POSITIONS })
const Rings = Type.Array(Ring, { maxItems: 500 })
/** An outline from outside; null takes it away. What it must be is checked by core. */
export const OutlineSave = exact({
  geometry: orNull(
    Type.Unsafe<Outline>(
      Type.Union([
        exact({ type: Type.Literal('Polygon'), coordinates: Rings }),
        exact({ type: Type.Literal('MultiPolygon'), coordinates: Type.Array(Rings, { maxItems: 500 }) }),
      ]),
    ),
  ),
})
