import ExcelJS, { type DataValidation, type Worksheet } from 'exceljs'
import { columnName } from '#core/exchange/report-sheet'
import { writeCsv } from '#core/exchange/csv'
import { cellsOf, nameCell, wordsIn, type Cell, type Edition } from '#core/report/edition'
import type { Access } from '../access/access'
import { unitAsked } from '../access/access'
import { editionOf } from '../datasets/editions'
import { database } from '../database'
import { roundById, type Round } from '../rounds/round'
import { expectedUnits, type ExpectedUnit } from '../units/expected-units'

/** The columns before the items, and the rows before the reports. */
const BEFORE = ['unit', 'unit_name', 'period'] as const
const HEAD_ROWS = 2

const SAYS = {
  en: {
    unit: 'Code',
    unit_name: 'Facility',
    period: 'Period',
    sheet: 'Reports',
    choices: 'Choices',
    number:
      'A number of 0 or more. Leave it empty if nobody knows yet; write ? and the reason if it cannot be known.',
    several: 'Several of these, with ; between them:',
  },
  fr: {
    unit: 'Code',
    unit_name: 'Établissement',
    period: 'Période',
    sheet: 'Rapports',
    choices: 'Choix',
    number:
      "Un nombre d'au moins 0. Laissez vide si personne ne sait encore ; écrivez ? et la raison si cela ne peut être su.",
    several: 'Plusieurs de ceux-ci, séparés par ; :',
  },
} as const
type Language = keyof typeof SAYS

const typedCells = (edition: Edition): Cell[] =>
  cellsOf(edition).filter(({ item }) => item.kind !== 'computed')

/** What a place takes, as a spreadsheet checks it. @param listOf the range that holds the choices of an item */
function validationOf({ item }: Cell, language: Language, listOf: string | null): DataValidation | null {
  const common = { allowBlank: true, showErrorMessage: true, error: SAYS[language].number } as const
  const { least = 0, most = 9_999_999 } = item
  if (item.kind === 'wholeNumber' || item.kind === 'decimal')
    // Not *stop*: a question mark with the reason stands here, too.
    return {
      ...common,
      type: item.kind === 'wholeNumber' ? 'whole' : 'decimal',
      ...{ operator: 'between', formulae: [least, most], errorStyle: 'warning' },
    }
  if (item.kind === 'yesNo')
    return { ...common, type: 'list', formulae: [language === 'fr' ? '"oui,non"' : '"yes,no"'] }
  if (item.kind === 'oneOf' && listOf)
    return { ...common, type: 'list', formulae: [listOf], errorStyle: 'warning' }
  return null
}

/** The note at a heading: what to count and what not, and the choices of a question with several. */
function noteOf({ item }: Cell, language: Language): string {
  const choices = (item.choices ?? []).map(({ label }) => wordsIn(label, language))
  return [
    wordsIn(item.definition, language),
    ...(item.kind === 'severalOf' ? [`${SAYS[language].several} ${choices.join('; ')}`] : []),
  ]
    .filter(Boolean)
    .join('\n')
}

/** A sheet of choices, one column for each item that has some. @returns the range of each, by the item's code */
function addChoices(
  workbook: ExcelJS.Workbook,
  cells: readonly Cell[],
  language: Language,
): Map<string, string> {
  const items = [...new Set(cells.map(({ item }) => item))].filter(({ kind }) => kind === 'oneOf')
  const ranges = new Map<string, string>()
  if (!items.length) return ranges
  const sheet = workbook.addWorksheet(SAYS[language].choices, { state: 'hidden' })
  for (const [at, { code, choices = [] }] of items.entries()) {
    sheet.getColumn(at + 1).values = choices.map(({ label }) => wordsIn(label, language))
    const column = columnName(at)
    ranges.set(code, `'${sheet.name}'!$${column}$1:$${column}$${Math.max(1, choices.length)}`)
  }
  return ranges
}

function addHead(sheet: Worksheet, cells: readonly Cell[], language: Language): void {
  sheet.addRow([
    ...BEFORE.map(column => SAYS[language][column]),
    ...cells.map(cell => nameCell(cell, language)),
  ])
  sheet.addRow([...BEFORE, ...cells.map(({ key }) => key)])
  sheet.getRow(1).font = { bold: true }
  sheet.getRow(1).alignment = { wrapText: true, vertical: 'top' }
  sheet.getRow(2).font = { color: { argb: 'FF7A7068' }, size: 9 }
  for (const [at, cell] of cells.entries()) {
    const note = noteOf(cell, language)
    if (note) sheet.getCell(1, BEFORE.length + at + 1).note = note
  }
}

/** The workbook of a round: headings that cannot be changed, a row for each facility, places to fill. */
async function writeWorkbook(
  edition: Edition,
  round: Round,
  units: readonly ExpectedUnit[],
  language: Language,
): Promise<Buffer> {
  const workbook = new ExcelJS.Workbook()
  const sheet = workbook.addWorksheet(SAYS[language].sheet, {
    views: [{ state: 'frozen', xSplit: BEFORE.length, ySplit: HEAD_ROWS }],
  })
  const cells = typedCells(edition)
  const ranges = addChoices(workbook, cells, language)
  sheet.columns = [
    ...BEFORE.map(column => ({ width: column === 'unit_name' ? 28 : 14 })),
    ...cells.map(() => ({ width: 13 })),
  ]
  // By their columns the places are open; the headings, and who reports, are not.
  for (const at of cells.keys()) sheet.getColumn(BEFORE.length + at + 1).protection = { locked: false }
  addHead(sheet, cells, language)
  for (const { code, name } of units) sheet.addRow([code, name, round.period])
  for (const row of [1, 2])
    sheet.getRow(row).eachCell(cell => {
      cell.protection = { locked: true }
    })
  const last = HEAD_ROWS + Math.max(1, units.length)
  for (const [at, cell] of cells.entries()) {
    const validation = validationOf(cell, language, ranges.get(cell.item.code) ?? null)
    const column = columnName(BEFORE.length + at)
    // The list of ranges is no part of the library's types.
    const { dataValidations } = sheet as unknown as {
      dataValidations: { add: (range: string, of: DataValidation) => void }
    }
    if (validation) dataValidations.add(`${column}${HEAD_ROWS + 1}:${column}${last}`, validation)
  }
  // Against slips, not against people: there is no password.
  await sheet.protect('', { formatColumns: true, formatRows: true, sort: true, autoFilter: true })
  return Buffer.from(await workbook.xlsx.writeBuffer())
}

/** A file for the reports of a round, to be filled and taken in. */
export interface Template {
  name: string
  type: string
  bytes: Buffer
}

/** The file to fill for the reports of a round in a branch. @throws Refusal 403, 404 */
export async function reportTemplate(
  access: Access,
  roundId: string,
  { unit: asked, format, language }: { unit?: string; format: 'xlsx' | 'csv'; language: Language },
): Promise<Template> {
  const sql = await database()
  const unit = await unitAsked(access, asked)
  const round = await roundById(sql, roundId)
  const { edition } = await editionOf(sql, round.dataset, round.edition)
  const units = await expectedUnits(sql, round, unit.code)
  const name = `${round.dataset}-${round.period}-${unit.code}.${format}`
  if (format === 'xlsx')
    return {
      name,
      type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
      bytes: await writeWorkbook(edition, round, units, language),
    }
  const cells = typedCells(edition)
  const rows = [
    [...BEFORE.map(column => SAYS[language][column]), ...cells.map(cell => nameCell(cell, language))],
    [...BEFORE, ...cells.map(({ key }) => key)],
    ...units.map(({ code, name: facility }) => [code, facility, round.period, ...cells.map(() => null)]),
  ]
  return { name, type: 'text/csv; charset=utf-8', bytes: Buffer.from(`\uFEFF${writeCsv(rows)}`) }
}
