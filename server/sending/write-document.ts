import ExcelJS from 'exceljs'
import { writeAdx } from '#core/exchange/adx'
import { writeCsv } from '#core/exchange/csv'
import { writeMeasureReports, type SentNames } from '#core/exchange/measure-reports'
import { writeJsonDocument, type DocumentFormat, type ValueDocument } from '#core/exchange/value-document'
import { documentRows } from '#core/exchange/value-table'
import type { Cycle } from '#core/calendar/period'

async function workbookOf(document: ValueDocument): Promise<string> {
  const book = new ExcelJS.Workbook()
  const sheet = book.addWorksheet('Values', { views: [{ state: 'frozen', ySplit: 1 }] })
  sheet.addRows(documentRows(document))
  sheet.getRow(1).font = { bold: true }
  return Buffer.from(await book.xlsx.writeBuffer()).toString('base64')
}

/** Writes a document in a format, as it is kept: a workbook in base64, all else as text. */
export async function writeDocument(
  format: DocumentFormat,
  document: ValueDocument,
  cycle: Cycle,
  names: SentNames,
): Promise<string> {
  switch (format) {
    case 'adx':
      return writeAdx(document)
    case 'fhir':
      return writeMeasureReports(document, cycle, names)
    case 'json':
      return writeJsonDocument(document)
    case 'csv':
      return writeCsv(documentRows(document))
    case 'xlsx':
      return workbookOf(document)
  }
}

/** A document as it was kept, as it goes out. */
export const documentBytes = (format: DocumentFormat, kept: string): Buffer =>
  Buffer.from(kept, format === 'xlsx' ? 'base64' : 'utf8')
