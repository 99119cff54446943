import { writeCsv } from '../exchange/csv'
import type { Position } from '../form/answer'
import type { ExtractColumn, ExtractRow, ExtractValue } from './columns'
import type { ExtractSheet } from './sheets'

const cellsOf = (columns: readonly ExtractColumn[], row: ExtractRow): (string | number | null)[] =>
  columns.map(({ read }) => {
    const value = read(row)
    return typeof value === 'boolean' ? String(value) : value
  })

/** The head of a table as CSV, with the mark by which spreadsheets know UTF-8. */
export const csvHead = ({ columns }: ExtractSheet): string =>
  `\uFEFF${writeCsv([columns.map(({ head }) => head)])}`

/** Rows as CSV (RFC 4180). */
export function csvRows(sheet: ExtractSheet, rows: readonly ExtractRow[]): string {
  const all = sheet.repeat ? rows.flatMap(row => [...sheet.rowsOf(row)]) : rows
  const table = all.map(row => cellsOf(sheet.columns, row))
  return table.length ? writeCsv(table) : ''
}

const objectOf = (columns: readonly ExtractColumn[], row: ExtractRow): Record<string, ExtractValue> =>
  Object.fromEntries(columns.map(({ head, read }) => [head, read(row)]))

/** A row as an object: what repeats in it is a list under the code of the repeat. */
function objectWithRepeats(sheets: readonly ExtractSheet[], row: ExtractRow): Record<string, unknown> {
  const whole: Record<string, unknown> = {}
  for (const { repeat, columns, rowsOf } of sheets)
    if (repeat) whole[repeat] = Array.from(rowsOf(row), one => objectOf(columns, one))
    else Object.assign(whole, objectOf(columns, row))
  return whole
}

/** Rows as JSON Lines: an object a line (RFC 8259), each line ends with a line feed. */
export const jsonLines = (sheets: readonly ExtractSheet[], rows: readonly ExtractRow[]): string =>
  rows.map(row => `${JSON.stringify(objectWithRepeats(sheets, row))}\n`).join('')

/** The beginning and the end of a file of GeoJSON (RFC 7946); features stand between, with commas. */
export const GEO_FRAME = ['{"type":"FeatureCollection","features":[', ']}\n'] as const

/** Where a row happened: the first position among its columns. */
function positionIn(sheets: readonly ExtractSheet[], row: ExtractRow): Position | null {
  const fields = sheets.flatMap(({ columns }) => columns.map(({ field }) => field))
  for (const { question, key, repeat } of fields) {
    if (question?.kind !== 'position' || repeat) continue
    const content = row.answers[key]
    if (content?.kind === 'value') return content.value as Position
  }
  return null
}

/**
 * A row as a feature. One without a position has no geometry, as RFC 7946 (3.2) has it: it is not lost.
 * @example geoFeature(sheets, row) // '{"type":"Feature","geometry":{"type":"Point","coordinates":[12.5,-3.2]},"properties":{…}}'
 */
export function geoFeature(sheets: readonly ExtractSheet[], row: ExtractRow): string {
  const position = positionIn(sheets, row)
  return JSON.stringify({
    type: 'Feature',
    geometry: position && { type: 'Point', coordinates: [position.longitude, position.latitude] },
    properties: objectWithRepeats(sheets, row),
  })
}
