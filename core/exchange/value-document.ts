import type { CellValue } from '../report/cell'
import { bad, good, type Result } from '../result'
import { parseJson } from './units-geojson'

/** One value, under the codes of the system that writes or reads it. */
export interface DocumentValue {
  dataElement: string
  /** The code of a band for each axis: `{ age: 'u5' }`. */
  axes: Readonly<Record<string, string>>
  value: CellValue
}

/** The values of one facility in one period of one dataset. */
export interface DocumentGroup {
  dataSet: string
  /** An interval of ISO 8601: `2026-10-01/P1M`. */
  period: string
  orgUnit: string
  values: readonly DocumentValue[]
}

/** Reports as they go from one system to another, whatever format they are written in. */
export interface ValueDocument {
  /** An instant of ISO 8601. */
  exported: string
  groups: readonly DocumentGroup[]
}

/** Formats in which reports are sent on. All of them are read, too. */
export const DOCUMENT_FORMATS = ['adx', 'fhir', 'json', 'csv', 'xlsx'] as const
export type DocumentFormat = (typeof DOCUMENT_FORMATS)[number]

/** FHIR measures numbers; the other formats hold answers of every kind. */
export const holdsNumbersOnly = (format: DocumentFormat): boolean => format === 'fhir'

/**
 * A value as a text. Several codes are separated by spaces: a code has none.
 *
 * @example documentText(['well', 'tank']) // 'well tank'
 */
export const documentText = (value: CellValue): string =>
  typeof value === 'object' ? value.join(' ') : String(value)

/** A document as JSON, with its keys in a fixed order. */
export const writeJsonDocument = (document: ValueDocument): string => `${JSON.stringify(document, null, 2)}\n`

const isText = (value: unknown): value is string => typeof value === 'string' && value !== ''
const isValue = (value: unknown): value is CellValue =>
  ['number', 'boolean', 'string'].includes(typeof value) ||
  (Array.isArray(value) && value.every(one => typeof one === 'string'))

/** A group of a JSON file, or what is wrong with it, by its place from 1. */
function groupOf(group: unknown, at: number): Result<DocumentGroup> {
  const { dataSet, period, orgUnit, values } = (group ?? {}) as Partial<Record<keyof DocumentGroup, unknown>>
  const odd = (what: string) =>
    bad({ code: 'document-part', message: `Group ${at}: ${what}.`, values: { group: at, part: what } })
  if (!isText(dataSet)) return odd('dataSet')
  if (!isText(period)) return odd('period')
  if (!isText(orgUnit)) return odd('orgUnit')
  if (!Array.isArray(values)) return odd('values')
  const read: DocumentValue[] = []
  for (const one of values as unknown[]) {
    const { dataElement, axes = {}, value } = (one ?? {}) as Partial<Record<keyof DocumentValue, unknown>>
    const isAxes = typeof axes === 'object' && axes !== null && Object.values(axes).every(isText)
    if (!isText(dataElement) || !isAxes || !isValue(value)) return odd('values')
    read.push({ dataElement, axes: axes as Record<string, string>, value })
  }
  return good({ dataSet, period, orgUnit, values: read })
}

/**
 * Reads a document as {@link writeJsonDocument} writes it. Errors: `file-not-json`, `document-empty` (no list of
 * groups, or an empty one), `document-part` (with the group and the part that is not as it should be).
 */
export function readJsonDocument(text: string): Result<ValueDocument> {
  const parsed = parseJson(text)
  if (!parsed.ok) return parsed
  const { exported, groups } = parsed.value
  if (!Array.isArray(groups) || !groups.length)
    return bad({ code: 'document-empty', message: 'No reports stand in this file.' })
  const read: DocumentGroup[] = []
  for (const [at, one] of groups.entries()) {
    const group = groupOf(one, at + 1)
    if (!group.ok) return group
    read.push(group.value)
  }
  return good({ exported: isText(exported) ? exported : '', groups: read })
}
