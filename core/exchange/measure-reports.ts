import { intervalOfDays, parseInterval } from '../calendar/interval'
import { printDay } from '../calendar/day'
import { firstDay, lastDay, type Cycle } from '../calendar/period'
import { bad, good, must, type Result } from '../result'
import { list, record, type Json } from './json-parts'
import { parseJson } from './units-geojson'
import type { DocumentGroup, DocumentValue, ValueDocument } from './value-document'

/** Identifiers and codes are those of the receiver; FHIR wants to know of which system. */
const UNIT_SYSTEM = 'urn:eastward-lantern:sent:unit'
const CODE_SYSTEM = 'urn:eastward-lantern:sent:code'
const MEASURE = 'urn:eastward-lantern:sent:measure:'

const concept = (code: string) => ({ coding: [{ system: CODE_SYSTEM, code }] })
const quantity = (value: number) => ({ value })
/** An id of FHIR: letters, digits, dashes and dots, at most 64. */
const idOf = (kind: string, at: number) => `${kind}-${at + 1}`

/** The values of one data element together: one without axes, and those of its bands. */
function byElement(values: readonly DocumentValue[]): Map<string, DocumentValue[]> {
  const elements = new Map<string, DocumentValue[]>()
  for (const value of values)
    elements.set(value.dataElement, [...(elements.get(value.dataElement) ?? []), value])
  return elements
}

function groupOf(dataElement: string, values: readonly DocumentValue[]) {
  const whole = values.find(({ axes }) => !Object.keys(axes).length)
  const strata = values.filter(value => value !== whole)
  return {
    code: concept(dataElement),
    ...(whole && { measureScore: quantity(whole.value as number) }),
    ...(strata.length && {
      stratifier: [
        {
          code: Object.keys(strata[0]!.axes).map(concept),
          stratum: strata.map(({ axes, value }) => ({
            component: Object.entries(axes).map(([axis, band]) => ({
              code: concept(axis),
              value: concept(band),
            })),
            measureScore: quantity(value as number),
          })),
        },
      ],
    }),
  }
}

/** What is measured: the data elements of a dataset, each with the axes that it is split by. */
function measureOf(dataSet: string, groups: readonly DocumentGroup[], at: number) {
  const elements = byElement(groups.flatMap(({ values }) => values))
  return {
    resourceType: 'Measure',
    id: idOf('measure', at),
    url: MEASURE + encodeURIComponent(dataSet),
    identifier: [{ system: CODE_SYSTEM, value: dataSet }],
    status: 'active',
    group: [...elements].map(([dataElement, values]) => {
      const axes = [...new Set(values.flatMap(value => Object.keys(value.axes)))]
      return {
        code: concept(dataElement),
        ...(axes.length && {
          stratifier: [
            {
              component: axes.map(axis => ({
                code: concept(axis),
                // By name: where the numbers come from, no expression says what a band is.
                criteria: { language: 'text/cql', expression: JSON.stringify(axis) },
              })),
            },
          ],
        }),
      }
    }),
  }
}

/** Who sends, and how the places are called. */
export interface SentNames {
  sender: string
  /** By the code of the unit in the document. */
  units: ReadonlyMap<string, string>
}

/**
 * Writes reports as a FHIR R4 bundle: a Measure for each dataset, an Organization for the sender, a Location for
 * each facility, and a MeasureReport for each of its reports, with a stratum for each band.
 *
 * @param document its values must be numbers
 * @param cycle of the periods
 */
export function writeMeasureReports(document: ValueDocument, cycle: Cycle, names: SentNames): string {
  const dataSets = [...new Set(document.groups.map(({ dataSet }) => dataSet))]
  const units = [...new Set(document.groups.map(({ orgUnit }) => orgUnit))]
  const locationOf = new Map(units.map((unit, at) => [unit, idOf('location', at)]))
  const sender = 'sender'
  const resources = [
    ...dataSets.map((dataSet, at) =>
      measureOf(
        dataSet,
        document.groups.filter(group => group.dataSet === dataSet),
        at,
      ),
    ),
    { resourceType: 'Organization', id: sender, name: names.sender },
    ...units.map(unit => ({
      resourceType: 'Location',
      id: locationOf.get(unit)!,
      identifier: [{ system: UNIT_SYSTEM, value: unit }],
      name: names.units.get(unit) ?? unit,
      managingOrganization: { reference: `Organization/${sender}` },
    })),
    ...document.groups.map(({ dataSet, period, orgUnit, values }, at) => {
      const of = must(parseInterval(period, cycle))
      return {
        resourceType: 'MeasureReport',
        id: idOf('report', at),
        status: 'complete',
        type: 'summary',
        measure: MEASURE + encodeURIComponent(dataSet),
        subject: { reference: `Location/${locationOf.get(orgUnit)!}` },
        date: document.exported,
        reporter: { reference: `Organization/${sender}` },
        period: { start: printDay(firstDay(of)), end: printDay(lastDay(of)) },
        group: [...byElement(values)].map(([dataElement, own]) => groupOf(dataElement, own)),
      }
    }),
  ]
  const entry = resources.map(resource => ({
    fullUrl: `urn:eastward-lantern:sent:${resource.resourceType}/${resource.id}`,
    resource,
  }))
  return `${JSON.stringify({ resourceType: 'Bundle', type: 'collection', timestamp: document.exported, entry }, null, 2)}\n`
}

const text = (value: unknown): string => (typeof value === 'string' ? value : '')
const codeIn = (value: unknown): string => text(list(record(value).coding)[0]?.code)

function valuesOf(group: Json): DocumentValue[] {
  const dataElement = codeIn(group.code)
  const scored = (of: Json, axes: Record<string, string>): DocumentValue[] => {
    const { value } = record(of.measureScore)
    return typeof value === 'number' ? [{ dataElement, axes, value }] : []
  }
  const strata = list(group.stratifier).flatMap(({ stratum }) => list(stratum))
  return [
    ...scored(group, {}),
    ...strata.flatMap(stratum =>
      scored(
        stratum,
        Object.fromEntries(
          list(stratum.component).map(({ code, value }) => [codeIn(code), codeIn(value)] as const),
        ),
      ),
    ),
  ]
}

/**
 * Reads the MeasureReports of a FHIR R4 bundle: facilities by the identifier of their Location, data elements and
 * bands by the first code of each. Errors: `file-not-json`, `fhir-no-bundle`, `document-empty`, `document-part`
 * (with the place of the entry and what it lacks).
 */
export function readMeasureReports(content: string): Result<ValueDocument> {
  const parsed = parseJson(content)
  if (!parsed.ok) return parsed
  if (parsed.value.resourceType !== 'Bundle')
    return bad({ code: 'fhir-no-bundle', message: 'This is no FHIR bundle.' })
  const resources = list(parsed.value.entry).map(({ resource }) => record(resource))
  const unitOf = new Map(
    resources
      .filter(({ resourceType }) => resourceType === 'Location')
      .map(({ id, identifier }) => [`Location/${text(id)}`, text(list(identifier)[0]?.value)]),
  )
  const dataSetOf = new Map(
    resources
      .filter(({ resourceType }) => resourceType === 'Measure')
      .map(({ url, identifier }) => [text(url), text(list(identifier)[0]?.value)]),
  )
  const groups: DocumentGroup[] = []
  for (const [at, resource] of resources.entries()) {
    if (resource.resourceType !== 'MeasureReport') continue
    const odd = (part: string) =>
      bad({ code: 'document-part', message: `Entry ${at + 1}: ${part}.`, values: { group: at + 1, part } })
    const reference = text(record(resource.subject).reference)
    const orgUnit = unitOf.get(reference) || reference.replace(/^Location\//, '')
    const dataSet =
      dataSetOf.get(text(resource.measure)) ||
      text(resource.measure).slice(text(resource.measure).lastIndexOf('/') + 1)
    const { start, end } = record(resource.period)
    const period = intervalOfDays(text(start).slice(0, 10), text(end).slice(0, 10))
    if (!orgUnit) return odd('subject')
    if (!dataSet) return odd('measure')
    if (!period) return odd('period')
    groups.push({ dataSet, period, orgUnit, values: list(resource.group).flatMap(valuesOf) })
  }
  if (!groups.length) return bad({ code: 'document-empty', message: 'No reports stand in this file.' })
  return good({ exported: text(parsed.value.timestamp), groups })
}
