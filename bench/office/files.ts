import ExcelJS from 'exceljs'
import { FACILITIES, province } from '../../demo/large/province'
import { otherFigures } from '../../demo/large/reports'
import type { Access } from '../../server/access/access'
import { database, type Sql } from '../../server/database'
import { previewReportFile } from '../../server/files/plan'
import { applyReportFile, undoReportFile } from '../../server/files/ask'
import { importReports } from '../../server/files/import-reports'
import { reportTemplate } from '../../server/files/template'
import { UNWATCHED } from '../../server/queue/turn'

const XLSX = { format: 'xlsx', language: 'en' } as const
/** The columns before the places of the file to fill, and the row with their keys. */
const BEFORE = { columns: 3, keys: 2 }
/** The newest month of the province, counted from its first. */
const NEWEST_MONTH = 23
/** The province has another size when the bench is asked for one. */
const SIZE = process.argv.includes('--facilities')
  ? Number(process.argv[process.argv.indexOf('--facilities') + 1])
  : FACILITIES

const made = new Map<string, Promise<Buffer>>()
/** The workbook of a round in a branch, filled: made once, outside of what is measured. */
export function filledWorkbook(access: Access, round: string, unit: string): Promise<Buffer> {
  const key = `${round} ${unit}`
  let book = made.get(key)
  if (!book) made.set(key, (book = fill(access, round, unit)))
  return book
}
const fill = async (access: Access, round: string, unit: string): Promise<Buffer> =>
  fillWorkbook((await reportTemplate(access, round, { ...XLSX, unit })).bytes)

/** A template of the newest month with figures that its facilities might report. */
export async function fillWorkbook(bytes: Uint8Array): Promise<Buffer> {
  const book = new ExcelJS.Workbook()
  await book.xlsx.load(bytes as never)
  const [sheet] = book.worksheets
  const figures = otherFigures(
    province(SIZE).filter(({ level }) => level === 4),
    NEWEST_MONTH,
  )
  for (let row = BEFORE.keys + 1; row <= sheet!.rowCount; row++)
    for (let column = BEFORE.columns + 1; column <= sheet!.columnCount; column++) {
      const key = sheet!.getCell(BEFORE.keys, column).text
      const content = figures.get(sheet!.getCell(row, 1).text)?.[key]
      if (content?.kind === 'value') sheet!.getCell(row, column).value = content.value as number
    }
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

/** The same number of cells of the same reports, written with their events and back, and nothing else. */
export async function writePlainly(tx: Sql, round: string, unit: string): Promise<void> {
  const reports = await tx.query<{ id: number }>(
    'SELECT id FROM report WHERE round = $1 AND path @> $2::text[]',
    [round, [unit]],
  )
  for (let turn = 0; turn < 2; turn++)
    for (const { id } of reports) {
      await tx.query(
        `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new)
         SELECT gen_random_uuid(), report, cell, now(), NULL, 'bench', '{"kind":"blank"}', '{"kind":"blank"}'
         FROM cell_value WHERE report = $1`,
        [id],
      )
      await tx.query('UPDATE cell_value SET version = version + 1, value = value + 1 WHERE report = $1', [id])
    }
}

/** What reading the same workbook takes that library alone, without asking or storing anything. */
export async function readPlainly(access: Access, round: string, unit: string): Promise<void> {
  await new ExcelJS.Workbook().xlsx.load((await filledWorkbook(access, round, unit)) as never)
}
