import { fold } from '../form/code'
import { checkCell, readItem } from '../form/check-cell'
import { BLANK, type CellContent } from '../report/cell'
import { cellsOf, nameCell, type Cell, type Edition } from '../report/edition'
import { bad, good, type Problem, type Result } from '../result'

/**
 * What stands in one place of a sheet: a day as `2026-10-05`; or, where it cannot be read, the code of the reason.
 */
export type SheetValue = null | string | number | boolean | { day: string } | { bad: string }

export interface SheetRow {
  /** As the spreadsheet counts it, from 1. */
  number: number
  values: readonly SheetValue[]
}
export interface Sheet {
  name: string
  rows: readonly SheetRow[]
}

/** A place of a sheet: its row and column as the spreadsheet shows them. */
export interface SheetPlace {
  sheet: string
  row: number
  /** As `AB`; empty for a whole row. */
  column: string
}
/** What was refused, where, and under which heading it stands. */
export interface SheetProblem extends SheetPlace {
  heading: string
  problem: Problem
}

/** One report as a row of a sheet tells it. */
export interface SheetLine {
  row: number
  /** A code, or a name. */
  unit: string
  /** As it is written, or a day within the period; empty where the sheet has no such column. */
  period: string
  contents: ReadonlyMap<string, CellContent>
}

/** What was read of a sheet. */
export interface SheetRead {
  lines: SheetLine[]
  refused: SheetProblem[]
  /** Headings that have no place in the dataset. */
  passedOver: string[]
}

/** The name of a column, from 0. @example columnName(27) // 'AB' */
export function columnName(at: number): string {
  const letter = String.fromCharCode(65 + (at % 26))
  return at < 26 ? letter : columnName(Math.floor(at / 26) - 1) + letter
}

/** How the columns may be called that say which report a row is, folded. */
const CODE_HEADS = new Set([
  'unit',
  'unit code',
  'facility code',
  'code',
  "code de l'etablissement",
  'code unite',
])
const NAME_HEADS = new Set([
  'unit name',
  'facility',
  'facility name',
  'name',
  'etablissement',
  'nom',
  'unite',
])
const PERIOD_HEADS = new Set([
  'period',
  'periode',
  'month',
  'mois',
  'week',
  'semaine',
  'quarter',
  'trimestre',
])
/** So many rows may stand above the headings. */
const ROWS_ABOVE = 20

const headOf = (value: SheetValue): string =>
  typeof value === 'string'
    ? fold(value)
        .replace(/[_\s]+/g, ' ')
        .replace(/’/g, "'")
        .trim()
    : ''

/** What each column of a row of headings holds. */
interface Head {
  row: number
  code: number | null
  name: number | null
  period: number | null
  cells: Map<number, Cell>
  passedOver: string[]
  /** A cell that stands in more than one column. */
  twice: { at: number; heading: string }[]
}

/** The cells of an edition by every name that a heading may give them, folded. */
function cellNames(edition: Edition): Map<string, Cell> {
  const names = new Map<string, Cell>()
  const languages = new Set(['en', ...Object.keys(edition.name)])
  for (const cell of cellsOf(edition)) {
    if (cell.item.kind === 'computed') continue
    for (const name of [cell.key, ...[...languages].map(language => nameCell(cell, language))])
      if (!names.has(headOf(name))) names.set(headOf(name), cell)
  }
  return names
}

function headIn(row: SheetRow, names: ReadonlyMap<string, Cell>): Head {
  const head: Head = {
    ...{ row: row.number, code: null, name: null, period: null },
    ...{ cells: new Map(), passedOver: [], twice: [] },
  }
  for (const [at, value] of row.values.entries()) {
    const heading = headOf(value)
    if (!heading) continue
    const cell = names.get(heading)
    if (cell) {
      if ([...head.cells.values()].includes(cell)) head.twice.push({ at, heading: String(value) })
      else head.cells.set(at, cell)
    } else if (CODE_HEADS.has(heading)) head.code ??= at
    else if (NAME_HEADS.has(heading)) head.name ??= at
    else if (PERIOD_HEADS.has(heading)) head.period ??= at
    else head.passedOver.push(String(value))
  }
  return head
}

/** The row of headings: the one that names most cells, and of several alike the last. */
function findHead(edition: Edition, sheet: Sheet): Head | undefined {
  const names = cellNames(edition)
  const heads = sheet.rows.slice(0, ROWS_ABOVE).map(row => headIn(row, names))
  const most = Math.max(0, ...heads.map(({ cells }) => cells.size))
  if (!most) return undefined
  const found = heads.findLast(({ cells }) => cells.size === most)!
  // Codes in one row, and what they mean in the row above it: the columns of either.
  const or = (of: 'code' | 'name' | 'period') =>
    found[of] ?? heads.find(head => head[of] !== null)?.[of] ?? null
  return { ...found, code: or('code'), name: or('name'), period: or('period') }
}

/** *Not known* as a sheet says it: a question mark, then the reason. */
const NOT_KNOWN = /^\?\s*(\S.*)$/s

/**
 * Reads what stands in a place of a sheet as the content of a cell.
 *
 * @example readSheetValue(item, '? the register got wet', 'en') // good: { kind: 'notKnown', reason: 'the register got wet' }
 */
export function readSheetValue(item: Cell['item'], value: SheetValue, language: string): Result<CellContent> {
  if (value === null) return good(BLANK)
  if (typeof value === 'string') {
    const reason = NOT_KNOWN.exec(value.trim())?.[1]
    return reason ? good({ kind: 'notKnown', reason: reason.trim() }) : readItem(item, value, language)
  }
  if (typeof value === 'object') {
    if ('bad' in value) return bad({ code: value.bad, message: 'This place of the sheet cannot be read.' })
    const isDay = item.kind === 'date' || item.kind === 'partialDate'
    return isDay
      ? checkCell(item, value.day)
      : bad({
          code: 'sheet-date',
          message: 'A date stands where something else belongs.',
          values: { day: value.day },
        })
  }
  if (typeof value === 'boolean')
    return item.kind === 'yesNo' ? checkCell(item, value) : readItem(item, String(value), language)
  if (item.kind === 'date' || item.kind === 'partialDate')
    return bad({
      code: 'sheet-number',
      message: `The number ${value} stands where a date belongs.`,
      values: { value },
    })
  return item.kind === 'wholeNumber' || item.kind === 'decimal'
    ? checkCell(item, value)
    : readItem(item, String(value), language)
}

/** What stands in a place of a sheet, as text; empty for what cannot be read. */
export const textOf = (value: SheetValue | undefined): string => {
  if (value === null || value === undefined) return ''
  if (typeof value === 'object') return 'day' in value ? value.day : ''
  return String(value).trim()
}

/**
 * Reads the reports of a sheet: finds its headings by the codes or names of cells, and each row's unit, period
 * and contents. Blank places are left out: they change nothing.
 *
 * @param language of the numbers in texts
 * @returns what was read and what was refused, with places; or `sheet-head` when no heading names a cell, and
 *   `sheet-unit` when no column says which facility a row is
 */
export function readReportSheet(edition: Edition, sheet: Sheet, language: string): Result<SheetRead> {
  const head = findHead(edition, sheet)
  if (!head)
    return bad({
      code: 'sheet-head',
      message: `No heading of ${sheet.name} is an item of this dataset.`,
      values: { sheet: sheet.name },
    })
  if (head.code === null && head.name === null)
    return bad({
      code: 'sheet-unit',
      message: `No column of ${sheet.name} says which facility a row is.`,
      values: { sheet: sheet.name },
    })
  const read: SheetRead = { lines: [], refused: [], passedOver: head.passedOver }
  const refuse = (row: number, at: number | null, heading: string, problem: Problem) =>
    read.refused.push({ sheet: sheet.name, row, column: at === null ? '' : columnName(at), heading, problem })
  for (const { at, heading } of head.twice)
    refuse(head.row, at, heading, { code: 'sheet-twice', message: 'This item stands in another column too.' })

  for (const { number, values } of sheet.rows) {
    if (number <= head.row || values.every(value => textOf(value) === '')) continue
    const unit = textOf(values[head.code ?? -1]) || textOf(values[head.name ?? -1])
    if (!unit) {
      refuse(number, head.code ?? head.name, '', {
        code: 'sheet-no-unit',
        message: 'No facility stands here.',
      })
      continue
    }
    const contents = new Map<string, CellContent>()
    for (const [at, cell] of head.cells) {
      const content = readSheetValue(cell.item, values[at] ?? null, language)
      if (!content.ok) refuse(number, at, nameCell(cell, language), content.problems[0]!)
      else if (content.value.kind !== 'blank') contents.set(cell.key, content.value)
    }
    read.lines.push({ row: number, unit, period: textOf(values[head.period ?? -1]), contents })
  }
  return good(read)
}
