import { once } from 'node:events'
import { PassThrough } from 'node:stream'
import ExcelJS from 'exceljs'
import { dayOf } from '#core/form/answer'
import type { ExtractColumn, ExtractValue } from '#core/extract/columns'
import type { ValueType } from '#core/extract/about'
import { dictionaryRows } from '#core/extract/dictionary'
import { betweenParts } from '../give-way'
import { Refusal } from '../refusal'
import type { OpenExtract } from './open'

const DAY_MS = 86_400_000
/** After so many rows others have their turn. */
const SLICE = 250
/** A sheet of the format has no more rows (common practice: 2 to the power of 20). */
const MOST_SHEET_ROWS = 1_048_576

const FORMATS: Partial<Record<ValueType, string>> = { day: 'yyyy-mm-dd', instant: 'yyyy-mm-dd hh:mm' }

/** A value with the type that a spreadsheet knows. A partial date stays a text. */
function typed(value: ExtractValue, type: ValueType): ExtractValue | Date {
  if (typeof value !== 'string' || !FORMATS[type]) return value
  if (type === 'instant') return new Date(value)
  const day = value.length === 10 ? dayOf(value) : null
  return day === null ? value : new Date(day * DAY_MS)
}

/** What a program lets a sheet be called: 31 letters, none of `: \ / ? * [ ]`, and no two alike. */
export function sheetName(wanted: string, taken: Set<string>): string {
  const clean =
    wanted
      .replace(/[:\\/?*[\]]/g, ' ')
      .replace(/^'+|'+$/g, '')
      .trim() || 'Sheet'
  let name = clean.slice(0, 31)
  for (let next = 2; taken.has(name.toLowerCase()); next++) {
    const end = ` ${next}`
    name = clean.slice(0, 31 - end.length) + end
  }
  taken.add(name.toLowerCase())
  return name
}

const SAYS = {
  en: { rows: 'Rows', dictionary: 'Columns' },
  fr: { rows: 'Lignes', dictionary: 'Colonnes' },
} as const

function addSheet(book: ExcelJS.stream.xlsx.WorkbookWriter, name: string, columns: readonly ExtractColumn[]) {
  const sheet = book.addWorksheet(name, { views: [{ state: 'frozen', ySplit: 1 }] })
  sheet.columns = columns.map(({ type }) => ({
    width: type === 'text' ? 22 : 14,
    ...(FORMATS[type] && { style: { numFmt: FORMATS[type] } }),
  }))
  const head = sheet.addRow(columns.map(one => one.head))
  head.font = { bold: true }
  head.commit()
  return sheet
}

/**
 * Writes a workbook: a sheet for the rows, one for each thing that repeats in them, and one that says what each
 * column is. Texts stay texts, whatever they begin with.
 *
 * @param note gets the number of rows written, and may throw to end the work
 * @returns the bytes as they come
 */
export function workbookBytes(
  { plan, pages }: OpenExtract,
  language: 'en' | 'fr',
  note: (rows: number) => void,
): AsyncIterable<Buffer> {
  const out = new PassThrough()
  const book = new ExcelJS.stream.xlsx.WorkbookWriter({
    stream: out,
    useSharedStrings: false,
    useStyles: true,
  })
  const closed = new AbortController()
  out.once('close', () => closed.abort())
  // What was written is taken first: the workbook must not pile up in memory. Others have their turn meanwhile.
  const rest = () => (out.writableNeedDrain ? once(out, 'drain', { signal: closed.signal }) : betweenParts())
  const write = async () => {
    const taken = new Set<string>()
    for (const [at, { repeat, columns, rowsOf }] of plan.sheets.entries()) {
      const sheet = addSheet(book, sheetName(repeat || SAYS[language].rows, taken), columns)
      let lines = 1
      for await (const page of pages()) {
        for (const row of page)
          for (const one of rowsOf(row)) {
            if (++lines > MOST_SHEET_ROWS)
              throw new Refusal(
                422,
                'extract-sheet-full',
                'A sheet has no more than 1,048,576 rows. Take it as CSV, or a shorter time.',
              )
            sheet.addRow(columns.map(({ read, type }) => typed(read(one), type))).commit()
            if (lines % SLICE === 0) await rest()
          }
        note(at === 0 ? page.length : 0)
      }
      sheet.commit()
    }
    const rows = dictionaryRows(
      plan.sheets.flatMap(({ columns }) => columns),
      language,
    )
    const sheet = book.addWorksheet(sheetName(SAYS[language].dictionary, taken), {
      views: [{ state: 'frozen', ySplit: 1 }],
    })
    sheet.columns = rows[0]!.map(() => ({ width: 26 }))
    for (const row of rows) sheet.addRow(row).commit()
    sheet.commit()
    await book.commit()
  }
  write().catch((error: unknown) => out.destroy(error instanceof Error ? error : new Error(String(error))))
  return out
}
