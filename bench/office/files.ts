import ExcelJS from 'exceljs'
import type { Access } from '../../server/access/access'
import { database } from '../../server/database'
import { previewReportFile } from '../../server/files/plan'
import { applyReportFile, undoReportFile } from '../../server/files/ask'
import { importReports } from '../../server/files/import-reports'
import { reportTemplate } from '../../server/files/template'
import { UNWATCHED } from '../../server/queue/turn'

const XLSX = { format: 'xlsx', language: 'en' } as const
/** The columns and rows before the places of the file to fill. */
const BEFORE = { columns: 3, rows: 2 }

const made = new Map<string, Promise<Buffer>>()
/** The workbook of a round in a branch, with a number in each place: made once, outside of what is measured. */
export function filledWorkbook(access: Access, round: string, unit: string): Promise<Buffer> {
  const key = `${round} ${unit}`
  let book = made.get(key)
  if (!book) made.set(key, (book = fill(access, round, unit)))
  return book
}
const fill = async (access: Access, round: string, unit: string): Promise<Buffer> =>
  fillWorkbook((await reportTemplate(access, round, { ...XLSX, unit })).bytes)

/** A template with a number in each place. */
export async function fillWorkbook(bytes: Uint8Array): Promise<Buffer> {
  const book = new ExcelJS.Workbook()
  await book.xlsx.load(bytes as never)
  const [sheet] = book.worksheets
  for (let row = BEFORE.rows + 1; row <= sheet!.rowCount; row++)
    for (let column = BEFORE.columns + 1; column <= sheet!.columnCount; column++)
      sheet!.getCell(row, column).value = 1 + ((row * 7 + column) % 9)
  return Buffer.from(await book.xlsx.writeBuffer())
}

/** Looks at the file of a round, as the office does. @returns its identifier */
export async function lookAtFile(access: Access, round: string, unit: string): Promise<string> {
  const base64 = (await filledWorkbook(access, round, unit)).toString('base64')
  const [dataset] = round.split('~') as [string]
  const view = await previewReportFile(access, { dataset, round, name: 'bench.xlsx', base64, language: 'en' })
  if (!view.line.counts.reports) throw new Error('The file changes nothing: there is nothing to measure.')
  return view.line.id
}
export async function forgetFile(id: string): Promise<void> {
  const sql = await database()
  await sql.query('DELETE FROM report_file WHERE id = $1', [id])
}

/** Takes the file of a round in, and back, so that the next time finds what this one found. */
export async function importAndUndo(access: Access, round: string, unit: string): Promise<void> {
  const id = await lookAtFile(access, round, unit)
  await applyReportFile(access, id, 'A trial of its speed')
  await importReports(UNWATCHED)
  await undoReportFile(access, id)
  await importReports(UNWATCHED)
}

/** What reading the same workbook takes that library alone, without asking or storing anything. */
export async function readPlainly(access: Access, round: string, unit: string): Promise<void> {
  await new ExcelJS.Workbook().xlsx.load((await filledWorkbook(access, round, unit)) as never)
}
