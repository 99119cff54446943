import ExcelJS from 'exceljs'
import Papa from 'papaparse'
import { readAdx } from '#core/exchange/adx'
import { MEDIA_TYPES } from '#core/exchange/document-files'
import { readMeasureReports } from '#core/exchange/measure-reports'
import { readJsonDocument, type ValueDocument } from '#core/exchange/value-document'
import { readValueTable } from '#core/exchange/value-table'
import type { SheetValue } from '#core/exchange/report-sheet'
import { bad, type Result } from '#core/result'

const tableOf = (rows: SheetValue[][]) =>
  readValueTable({ name: 'delivery', rows: rows.map((values, at) => ({ number: at + 1, values })) })

/** Reads a delivery as the stand-in does, by its media type. */
export async function readDelivery(mediaType: string, body: Buffer): Promise<Result<ValueDocument>> {
  const text = () => body.toString('utf8')
  switch (mediaType) {
    case MEDIA_TYPES.adx:
      return readAdx(text())
    case MEDIA_TYPES.fhir:
      return readMeasureReports(text())
    case MEDIA_TYPES.json:
      return readJsonDocument(text())
    case MEDIA_TYPES.csv:
      return tableOf(Papa.parse<string[]>(text().trimEnd()).data)
    case MEDIA_TYPES.xlsx: {
      const book = new ExcelJS.Workbook()
      await book.xlsx.load(body as never)
      const rows = (book.worksheets[0]!.getSheetValues() as SheetValue[][]).slice(1)
      return tableOf(rows.map(values => Array.from(values.slice(1), value => value ?? null)))
    }
    default:
      return bad({ code: 'media-type', message: `${mediaType} is not read here.` })
  }
}
