import type { DocumentFormat } from './value-document'

/** How each format is called where files travel, and how its files end. */
export const MEDIA_TYPES: Readonly<Record<DocumentFormat, string>> = {
  adx: 'application/adx+xml',
  fhir: 'application/fhir+json',
  json: 'application/json',
  csv: 'text/csv',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
}
export const FILE_ENDINGS: Readonly<Record<DocumentFormat, string>> = {
  adx: 'xml',
  fhir: 'json',
  json: 'json',
  csv: 'csv',
  xlsx: 'xlsx',
}
