import {
  readUnitRows,
  UNIT_COLUMNS,
  type UnitColumn,
  type UnitFields,
  type UnitRows,
} from '../geography/unit-row'
import type { UnitTree } from '../geography/unit-tree'
import { bad, good, type Result } from '../result'
import { daysOf, unitsInOrder } from './units-csv'

/** One unit as a GeoJSON feature (RFC 7946); `geometry` is null where no position is known. */
interface UnitFeature {
  type: 'Feature'
  id: string
  geometry: { type: 'Point'; coordinates: [longitude: number, latitude: number] } | null
  properties: Record<string, string | number | null>
}

export interface UnitFeatures {
  type: 'FeatureCollection'
  features: UnitFeature[]
}

const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value)

/** A scalar as text; anything else is as if it were not there. */
export const asText = (value: unknown): string | undefined =>
  typeof value === 'string' ? value : typeof value === 'number' ? String(value) : undefined

/** JSON or the problem `file-not-json`. */
export function parseJson(text: string): Result<Record<string, unknown>> {
  try {
    const value: unknown = JSON.parse(text.replace(/^\uFEFF/, ''))
    if (isRecord(value)) return good(value)
  } catch (error) {
    return bad({
      code: 'file-not-json',
      message: `This is not JSON: ${error instanceof Error ? error.message : String(error)}`,
    })
  }
  return bad({ code: 'file-not-json', message: 'This is JSON, but no object.' })
}

/**
 * Reads units from a GeoJSON feature collection: points, or features without a geometry; what is known
 * besides stands in their properties, under the names of our columns. A line is the place of a feature.
 * Errors: `file-not-json`, `geojson-no-features`.
 */
export function readUnitsGeoJson(text: string): Result<UnitRows> {
  const parsed = parseJson(text)
  if (!parsed.ok) return parsed
  const { type, features } = parsed.value
  if (type !== 'FeatureCollection' || !Array.isArray(features))
    return bad({ code: 'geojson-no-features', message: 'This is no GeoJSON feature collection.' })
  const passedOver = features.flatMap((feature: unknown) => {
    const { properties, geometry, ...rest } = isRecord(feature) ? feature : {}
    return [
      ...Object.keys(rest).filter(key => !['type', 'id', 'bbox'].includes(key)),
      ...(isRecord(properties)
        ? Object.keys(properties).filter(key => !UNIT_COLUMNS.includes(key as UnitColumn))
        : []),
      ...(isRecord(geometry) && geometry.type !== 'Point' ? [`geometry ${String(geometry.type)}`] : []),
    ]
  })
  return good(
    readUnitRows(
      features.map((feature: unknown, at) => {
        const { properties, geometry, id } = isRecord(feature) ? feature : {}
        const known = isRecord(properties) ? properties : {}
        const fields: UnitFields = Object.fromEntries(
          UNIT_COLUMNS.flatMap(column =>
            asText(known[column]) === undefined ? [] : [[column, asText(known[column])]],
          ),
        )
        const [longitude, latitude] =
          isRecord(geometry) && geometry.type === 'Point' && Array.isArray(geometry.coordinates)
            ? geometry.coordinates.map(asText)
            : []
        return {
          line: at + 1,
          fields: {
            code: asText(id),
            ...fields,
            ...(latitude !== undefined && { latitude }),
            ...(longitude !== undefined && { longitude }),
          },
        }
      }),
      passedOver,
    ),
  )
}

/** The units that are open on a day as a GeoJSON feature collection, parents first. */
export function writeUnitsGeoJson(tree: UnitTree, day: number): UnitFeatures {
  return {
    type: 'FeatureCollection',
    features: unitsInOrder(tree, day).map(({ code, name, parent, level, kind, from, to }): UnitFeature => {
      const position = tree.history(code)!.position
      return {
        type: 'Feature',
        id: code,
        geometry: position ? { type: 'Point', coordinates: [position.longitude, position.latitude] } : null,
        properties: { code, name, parent, level, kind, ...daysOf(tree, code, { from, to }) },
      }
    }),
  }
}
