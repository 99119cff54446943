import ExcelJS, { type Cell, type CellValue, type Worksheet } from 'exceljs'
import Papa from 'papaparse'
import { textOfBytes } from '#core/exchange/text'
import type { Sheet, SheetRow, SheetValue } from '#core/exchange/report-sheet'
import { readAdx } from '#core/exchange/adx'
import { readMeasureReports } from '#core/exchange/measure-reports'
import { readJsonDocument, type ValueDocument } from '#core/exchange/value-document'
import { isValueTable, readValueTable } from '#core/exchange/value-table'
import type { Result } from '#core/result'
import { Refusal, refusedBy } from '../refusal'
import { checkZip } from './check-zip'

/** More rows, or more places in all, are no table of reports. */
const MOST_ROWS = 20_000
const MOST_PLACES = 1_500_000

/** A file as a person chose it. */
export interface FileGiven {
  name: string
  base64: string
}
/** What is in it, and what was left out of it. */
export interface FileRead {
  sheets: Sheet[]
  /** Reports as other systems send them: the file is of one of their formats, and has no sheets then. */
  document: ValueDocument | null
  /** The names of sheets that are hidden: nobody sees what stands there. */
  hidden: string[]
  /** How many places held a formula, of which the saved result was taken. */
  formulas: number
}

/** The first bytes of a zip file, and of the container of old and of locked workbooks ([MS-CFB]). */
const ZIP = Buffer.from([0x50, 0x4b, 0x03, 0x04])
const CONTAINER = Buffer.from([0xd0, 0xcf, 0x11, 0xe0, 0xa1, 0xb1, 0x1a, 0xe1])
const startsWith = (bytes: Buffer, start: Buffer) => bytes.subarray(0, start.length).equals(start)

const tooMany = (sheet: string) =>
  new Refusal(422, 'file-rows', `${sheet} has more than ${MOST_ROWS} rows.`, [
    { code: 'file-rows', message: '', values: { sheet, most: MOST_ROWS } },
  ])

/** A day without its time; a time of day alone (before 1900) is none. */
const dayOf = (date: Date): SheetValue =>
  Number.isNaN(date.getTime()) || date.getUTCFullYear() < 1900
    ? { bad: 'sheet-time' }
    : { day: date.toISOString().slice(0, 10) }

function valueOf(value: CellValue): SheetValue {
  if (value === null || value === undefined) return null
  if (value instanceof Date) return dayOf(value)
  if (typeof value !== 'object') return value
  if ('richText' in value) return value.richText.map(({ text }) => text).join('')
  if ('text' in value) return typeof value.text === 'string' ? value.text : valueOf(value.text as CellValue)
  if ('error' in value) return { bad: 'sheet-error' }
  return { bad: 'sheet-formula' }
}

/** What a place shows: of a formula its saved result, of merged places only the first. */
function shownIn(cell: Cell): { value: SheetValue; isFormula: boolean } {
  if (cell.isMerged && cell.master.address !== cell.address)
    return { value: { bad: 'sheet-merged' }, isFormula: false }
  if (cell.type !== ExcelJS.ValueType.Formula) return { value: valueOf(cell.value), isFormula: false }
  const { result } = cell
  return {
    value: result === undefined || result === null ? { bad: 'sheet-formula' } : valueOf(result),
    isFormula: true,
  }
}

function sheetOf(worksheet: Worksheet): { sheet: Sheet; formulas: number } {
  if (worksheet.actualRowCount > MOST_ROWS) throw tooMany(worksheet.name)
  if (worksheet.actualRowCount * worksheet.actualColumnCount > MOST_PLACES) throw tooMany(worksheet.name)
  const rows: SheetRow[] = []
  let formulas = 0
  worksheet.eachRow((row, number) => {
    const values: SheetValue[] = []
    row.eachCell({ includeEmpty: true }, (cell, column) => {
      const { value, isFormula } = shownIn(cell)
      if (isFormula) formulas++
      values[column - 1] = value
    })
    rows.push({ number, values: Array.from(values, value => value ?? null) })
  })
  return { sheet: { name: worksheet.name, rows }, formulas }
}

async function readWorkbook(bytes: Buffer): Promise<FileRead> {
  await checkZip(bytes)
  const workbook = new ExcelJS.Workbook()
  try {
    await workbook.xlsx.load(bytes as never)
  } catch {
    throw new Refusal(422, 'file-broken', 'This is no whole workbook.')
  }
  const seen = workbook.worksheets.filter(({ state }) => state === 'visible')
  const read = seen.map(sheetOf)
  return {
    sheets: read.map(({ sheet }) => sheet),
    hidden: workbook.worksheets.filter(({ state }) => state !== 'visible').map(({ name }) => name),
    formulas: read.reduce((sum, { formulas }) => sum + formulas, 0),
    document: null,
  }
}

function readCsv(name: string, bytes: Buffer): FileRead {
  const { data } = Papa.parse<string[]>(textOfBytes(bytes).replace(/^\uFEFF/, ''), { skipEmptyLines: false })
  if (data.length > MOST_ROWS + 1) throw tooMany(name)
  // What was defused for spreadsheets is as it was (see core/exchange/csv).
  const rows = data.map((values, at) => ({
    number: at + 1,
    values: values.map(value => (value === '' ? null : value.replace(/^'(?='*[=+\-@\t\r])/, ''))),
  }))
  return { sheets: [{ name, rows }], hidden: [], formulas: 0, document: null }
}

const NOTHING: FileRead = { sheets: [], hidden: [], formulas: 0, document: null }

/** A document of another system by its first sign: XML is ADX, an object of JSON is FHIR where it says so. */
function readDocument(text: string): Result<ValueDocument> | null {
  const tidy = text.replace(/^\uFEFF/, '').trimStart()
  if (tidy.startsWith('<')) return readAdx(tidy)
  if (!tidy.startsWith('{')) return null
  return /"resourceType"\s*:/.test(tidy) ? readMeasureReports(tidy) : readJsonDocument(tidy)
}

/** @throws Refusal 422 with what is wrong, or `file-rows` */
function documentRead(name: string, read: Result<ValueDocument>, file: FileRead = NOTHING): FileRead {
  if (!read.ok) throw refusedBy(422, read.problems)
  if (read.value.groups.length > MOST_ROWS) throw tooMany(name)
  return { ...file, sheets: [], document: read.value }
}

/** A table with a row for each value is a document too. */
function withDocument(name: string, file: FileRead): FileRead {
  const [first] = file.sheets
  return first && isValueTable(first) ? documentRead(name, readValueTable(first), file) : file
}

/**
 * Reads the sheets of a workbook (Office Open XML, ECMA-376) or a CSV file (RFC 4180), or the reports of another
 * system (ADX, FHIR, JSON, or a table of values). They are told apart by their first bytes: endings lie.
 *
 * @throws Refusal 422 `file-locked` (with a password, or of the old kind), `file-broken`, `file-unpacked`,
 *   `file-rows`, `xml-…`, `adx-none`, `document-…`, `file-not-json`, `fhir-no-bundle`
 */
export async function readSheets({ name, base64 }: FileGiven): Promise<FileRead> {
  const bytes = Buffer.from(base64, 'base64')
  if (startsWith(bytes, CONTAINER))
    throw new Refusal(422, 'file-locked', 'This workbook has a password, or is of the old kind (.xls).')
  if (startsWith(bytes, ZIP)) return withDocument(name, await readWorkbook(bytes))
  const document = readDocument(textOfBytes(bytes))
  return document ? documentRead(name, document) : withDocument(name, readCsv(name, bytes))
}
