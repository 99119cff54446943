import { Readable } from 'node:stream'
import { ZipFile } from 'yazl'
import type { ExtractDefinition, ExtractFormat } from '#core/contract/extracts'
import { csvHead, csvRows, GEO_FRAME, geoFeature, jsonLines } from '#core/extract/write-text'
import { now } from '../clock'
import type { OpenExtract } from './open'
import { responseLines } from './response-lines'
import { workbookBytes } from './workbook'

/** One extract of a file. */
export interface Packed {
  name: string
  definition: Pick<ExtractDefinition, 'of' | 'format' | 'language'>
  open: OpenExtract
}

/** A file that stands by itself, or in a zip. */
interface Entry {
  name: string
  bytes: () => AsyncIterable<Buffer>
}

/** Told how many rows were read; it throws where the work is to end. */
type Note = (rows: number) => void

export const MEDIA_TYPES: Readonly<Record<ExtractFormat | 'zip', string>> = {
  csv: 'text/csv; charset=utf-8',
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  jsonl: 'application/jsonl; charset=utf-8',
  geojson: 'application/geo+json; charset=utf-8',
  fhir: 'application/fhir+ndjson; charset=utf-8',
  zip: 'application/zip',
}

/** What the name of a file of a format ends with. */
export const endingOf = (format: ExtractFormat | 'zip'): string =>
  format === 'fhir' ? 'fhir.ndjson' : format

/** A name that every file system takes. @example fileStem('Under 5: Ashmere/Millrace') // 'Under 5- Ashmere-Millrace' */
export const fileStem = (name: string): string =>
  name.replace(/[\u0000-\u001f\u007f\\/:*?"<>|]+/g, '-').replace(/^[\s.-]+|[\s.]+$/g, '') || 'extract'

/** The name of a file. @param mark what tells it from others of the same extract: the day */
export const fileName = (name: string, mark: string, kind: ExtractFormat | 'zip'): string =>
  `${fileStem(name)} ${mark}.${endingOf(kind)}`

async function* csvBytes({ plan, pages }: OpenExtract, at: number, note: Note): AsyncGenerator<Buffer> {
  const sheet = plan.sheets[at]!
  yield Buffer.from(csvHead(sheet))
  for await (const page of pages()) {
    note(at === 0 ? page.length : 0)
    yield Buffer.from(csvRows(sheet, page))
  }
}

async function* jsonBytes({ plan, pages }: OpenExtract, note: Note): AsyncGenerator<Buffer> {
  for await (const page of pages()) {
    note(page.length)
    yield Buffer.from(jsonLines(plan.sheets, page))
  }
}

async function* geoBytes({ plan, pages }: OpenExtract, note: Note): AsyncGenerator<Buffer> {
  const [begin, end] = GEO_FRAME
  let before: string = begin
  for await (const page of pages()) {
    note(page.length)
    yield Buffer.from(before + page.map(row => geoFeature(plan.sheets, row)).join(',\n'))
    before = ',\n'
  }
  yield Buffer.from(before === begin ? begin + end : end)
}

async function* fhirBytes({ definition, open }: Packed, note: Note): AsyncGenerator<Buffer> {
  const line = responseLines(open, definition)
  for await (const page of open.pages()) {
    note(page.length)
    yield Buffer.from(page.map(line).join(''))
  }
}

/** The files of one extract: as CSV, what repeats in the rows is a file of its own. */
function entriesOf(packed: Packed, note: Note): Entry[] {
  const { name, definition, open } = packed
  const { format, language } = definition
  const named = (more: string) => `${fileStem(name)}${more}.${endingOf(format)}`
  if (format === 'csv')
    return open.plan.sheets.map(({ repeat }, at) => ({
      name: named(repeat && `-${repeat}`),
      bytes: () => csvBytes(open, at, note),
    }))
  const bytes = {
    xlsx: () => workbookBytes(open, language, note),
    jsonl: () => jsonBytes(open, note),
    geojson: () => geoBytes(open, note),
    fhir: () => fhirBytes(packed, note),
  }[format]
  return [{ name: named(''), bytes }]
}

async function* zipBytes(entries: readonly Entry[]): AsyncGenerator<Buffer> {
  const zip = new ZipFile()
  const out = zip.outputStream as Readable
  zip.on('error', (error: Error) => out.destroy(error))
  const mtime = new Date(now())
  const taken = new Set<string>()
  for (const { name, bytes } of entries) {
    // Two extracts may have one name.
    let free = name
    for (let next = 2; taken.has(free.toLowerCase()); next++)
      free = name.replace(/(\.\w+(?:\.ndjson)?)$/, ` (${next})$1`)
    taken.add(free.toLowerCase())
    zip.addReadStreamLazy(free, { mtime }, give => {
      const stream = Readable.from(bytes())
      // The library does not listen: without this a failure would end the whole process.
      stream.on('error', error => out.destroy(error))
      give(null, stream)
    })
  }
  zip.end()
  yield* out as AsyncIterable<Buffer>
}

/**
 * The bytes of a file with some extracts: by itself where it is one table, else as a zip of several.
 *
 * @param note is told how many rows were read, and throws where the work is to end
 */
export function packBytes(extracts: readonly Packed[], note: Note): AsyncIterable<Buffer> {
  const entries = extracts.flatMap(one => entriesOf(one, note))
  const [only] = entries
  return entries.length === 1 ? only!.bytes() : zipBytes(entries)
}

/** What a file will be, before anything is read. `tables` says how many tables an extract has as CSV. */
export function kindOfFile(
  extracts: readonly { format: ExtractFormat; tables: number }[],
): ExtractFormat | 'zip' {
  const [first] = extracts
  return extracts.length === 1 && (first!.format !== 'csv' || first!.tables === 1) ? first!.format : 'zip'
}
