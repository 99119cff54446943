import { readUnitRows, type UnitFields, type UnitRows } from '../geography/unit-row'
import type { UnitTree } from '../geography/unit-tree'
import { bad, good, type Result } from '../result'
import { list, record, type Json } from './json-parts'
import { daysOf, unitsInOrder } from './units-csv'
import { asText, parseJson } from './units-geojson'

/** The code of a unit as an identifier of its own system, because a FHIR id may not hold an underscore. */
const CODE_SYSTEM = 'urn:eastward-lantern:unit'
/** The level and the days stand in extensions: FHIR has no place for them. */
const LEVEL = 'urn:eastward-lantern:level'
const OPENED = 'urn:eastward-lantern:opened'
const CLOSED = 'urn:eastward-lantern:closed'
/** What of a resource has a place here, or says nothing about a unit. */
const READ: ReadonlySet<string> = new Set([
  'resourceType',
  'id',
  'meta',
  'text',
  'extension',
  'identifier',
  'status',
  'active',
  'name',
  'mode',
  'type',
  'position',
  'partOf',
])

interface FhirLocation {
  resourceType: 'Location'
  id: string
  extension: { url: string; valueInteger?: number; valueDate?: string }[]
  identifier: { system: string; value: string }[]
  status: 'active'
  name: string
  mode: 'instance'
  type?: { text: string }[]
  position?: { longitude: number; latitude: number }
  partOf?: { reference: string }
}

export interface FhirBundle {
  resourceType: 'Bundle'
  type: 'collection'
  entry: { fullUrl: string; resource: FhirLocation }[]
}

/** The unit code of a resource: its identifier of our system, else its id. */
function codeOf(resource: Json): string {
  const own = list(resource.identifier).find(({ system }) => system === CODE_SYSTEM)
  return asText(own?.value) ?? asText(resource.id) ?? ''
}

/**
 * Reads units from an HL7 FHIR R4 bundle of Location or Organization resources, tied by `partOf`. A line is
 * the place of an entry; other resources are passed over. Errors: `file-not-json`, `fhir-no-bundle`.
 */
export function readUnitsFhir(text: string): Result<UnitRows> {
  const parsed = parseJson(text)
  if (!parsed.ok) return parsed
  if (parsed.value.resourceType !== 'Bundle')
    return bad({ code: 'fhir-no-bundle', message: 'This is no FHIR bundle.' })
  const all = list(parsed.value.entry).map(({ resource, fullUrl }, at) => ({
    line: at + 1,
    resource: record(resource),
    fullUrl: asText(fullUrl),
  }))
  const passedOver = all.flatMap(({ resource }) => {
    const type = asText(resource.resourceType) ?? '?'
    if (type !== 'Location' && type !== 'Organization') return [`resource ${type}`]
    const strange = list(resource.extension).flatMap(({ url }) =>
      [LEVEL, OPENED, CLOSED].includes(asText(url) ?? '') ? [] : [asText(url) ?? 'extension'],
    )
    return [
      ...Object.keys(resource).filter(key => !READ.has(key)),
      ...strange,
      ...(list(resource.type).length > 1 ? ['type, the second'] : []),
      ...(list(resource.identifier).some(({ system }) => system !== CODE_SYSTEM) ? ['identifier'] : []),
    ]
  })
  const resources = all.filter(
    ({ resource }) => resource.resourceType === 'Location' || resource.resourceType === 'Organization',
  )
  const byReference = new Map(
    resources.flatMap(
      ({ resource, fullUrl }) =>
        [
          [`${asText(resource.resourceType)}/${asText(resource.id)}`, codeOf(resource)],
          ...(fullUrl ? [[fullUrl, codeOf(resource)]] : []),
        ] as [string, string][],
    ),
  )
  return good(
    readUnitRows(
      resources.map(({ line, resource }) => {
        const reference = asText(record(resource.partOf).reference)
        const position = record(resource.position)
        const own = (name: string) => list(resource.extension).find(({ url }) => url === name)
        const fields: UnitFields = {
          code: codeOf(resource),
          name: asText(resource.name) ?? '',
          // What a bundle refers to may be here already, under the same code.
          parent:
            reference === undefined
              ? ''
              : (byReference.get(reference) ?? reference.slice(reference.lastIndexOf('/') + 1)),
          kind: asText(list(resource.type)[0]?.text),
          level: asText(own(LEVEL)?.valueInteger),
          opened: asText(own(OPENED)?.valueDate),
          closed: asText(own(CLOSED)?.valueDate),
          latitude: asText(position.latitude),
          longitude: asText(position.longitude),
        }
        return { line, fields }
      }),
      passedOver,
    ),
  )
}

/**
 * An id of FHIR for each code: letters, digits, dashes and dots only. Codes that would get the same are
 * numbered.
 */
function idsOf(codes: readonly string[]): Map<string, string> {
  const taken = new Set<string>()
  return new Map(
    codes.map(code => {
      const plain = code.replace(/[^A-Za-z0-9.-]/g, '-')
      let id = plain
      for (let number = 2; taken.has(id); number++) id = `${plain}-${number}`
      taken.add(id)
      return [code, id]
    }),
  )
}

/** The units that are open on a day as a FHIR R4 bundle of Location resources, parents first. */
export function writeUnitsFhir(tree: UnitTree, day: number): FhirBundle {
  const units = unitsInOrder(tree, day)
  const ids = idsOf(units.map(({ code }) => code))
  return {
    resourceType: 'Bundle',
    type: 'collection',
    entry: units.map(({ code, name, parent, level, kind, from, to }) => {
      const position = tree.history(code)!.position
      const { opened, closed } = daysOf(tree, code, { from, to })
      return {
        fullUrl: `${CODE_SYSTEM}:${encodeURIComponent(code)}`,
        resource: {
          resourceType: 'Location',
          id: ids.get(code)!,
          extension: [
            { url: LEVEL, valueInteger: level },
            { url: OPENED, valueDate: opened },
            ...(closed === null ? [] : [{ url: CLOSED, valueDate: closed }]),
          ],
          identifier: [{ system: CODE_SYSTEM, value: code }],
          status: 'active',
          name,
          mode: 'instance',
          ...(kind && { type: [{ text: kind }] }),
          ...(position && { position: { longitude: position.longitude, latitude: position.latitude } }),
          ...(parent !== null && { partOf: { reference: `Location/${ids.get(parent)!}` } }),
        },
      }
    }),
  }
}
