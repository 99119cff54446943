import { KIND_CODES, sumOfCells, type CellMap, type ColumnTable } from '../report/table'
import { cellsOfItem, itemsOf, type Cell, type Edition, type RollUp, type Words } from '../report/edition'

/** A rolled-up number, and how many reports are in it. */
export interface Figure {
  /**
   * null when no report has a value, or when the item is not rolled up to one: of a share the part that says
   * yes, of the latest day its day number.
   */
  value: number | null
  reportsIn: number
}

/**
 * Is a figure an amount, that can be compared, divided and moved? A day is not, and several counts are not.
 */
export const isAmount = (operator: RollUp): boolean =>
  operator === 'sum' || operator === 'mean' || operator === 'last'

/**
 * Rolls one item or cell up over the units of a table: *sum* and *last* (stock at the end) add units up,
 * *mean* averages those that answered, *none* stays unrolled. Blanks are left out, never counted as zero.
 * @param cells the keys that the figure adds up within each report.
 */
export function overUnits(table: ColumnTable, cells: readonly string[], operator: RollUp): Figure {
  if (operator === 'counts' || operator === 'none')
    return { value: null, reportsIn: answeredIn(table, cells) }
  const column = sumOfCells(table, cells)
  let sum = 0
  let latest = -Infinity
  let reportsIn = 0
  for (const value of column) {
    if (Number.isNaN(value)) continue
    sum += value
    if (value > latest) latest = value
    reportsIn++
  }
  // A choice has no number: what its share is made of stands in its answers.
  if (reportsIn === 0) return { value: null, reportsIn: answeredIn(table, cells) }
  if (operator === 'latest') return { value: latest, reportsIn }
  return { value: operator === 'mean' || operator === 'share' ? sum / reportsIn : sum, reportsIn }
}

/** How many reports have a value in one of these cells at least. */
function answeredIn(table: ColumnTable, cells: readonly string[]): number {
  const columns = cells.map(cell => table.kinds(cell))
  let count = 0
  for (let row = 0; row < table.size; row++)
    if (columns.some(kinds => kinds[row] === KIND_CODES.value)) count++
  return count
}

/** One answer, and the rows of a table that gave it. */
export interface AnswerRows {
  code: string
  label: Words
  rows: number[]
}

const YES_NO: readonly { code: string; label: Words }[] = [
  { code: 'yes', label: { en: 'Yes', fr: 'Oui' } },
  { code: 'no', label: { en: 'No', fr: 'Non' } },
]

/** What is answered in words. */
const ANSWERED: ReadonlySet<string> = new Set(['yesNo', 'oneOf', 'severalOf', 'text'])

/**
 * Which reports gave each answer of a cell, in the order of its choices; an answer that nobody gave has no
 * rows. A choice that left the list in a newer edition comes last, by its code; so do texts, each as it was
 * written. Nothing for numbers and days.
 * @example rowsByAnswer(table, working) // [{ code: 'yes', label, rows: [0, 2] }, { code: 'no', label, rows: [1] }]
 */
export function rowsByAnswer(table: ColumnTable, { key, item }: Cell): AnswerRows[] {
  const choices = item.kind === 'yesNo' ? YES_NO : (item.choices ?? [])
  if (!ANSWERED.has(item.kind)) return []
  const found = new Map(
    choices.map(({ code, label }): [string, AnswerRows] => [code, { code, label, rows: [] }]),
  )
  const [numbers, texts, answers] = [table.numbers(key), table.texts?.(key), table.answers?.(key)]
  const givenIn = (row: number): readonly string[] => {
    if (item.kind === 'severalOf') return answers?.[row] ?? []
    if (item.kind === 'oneOf' || item.kind === 'text') return texts?.[row] == null ? [] : [texts[row]]
    return Number.isNaN(numbers[row]!) ? [] : [numbers[row] === 1 ? 'yes' : 'no']
  }
  for (let row = 0; row < table.size; row++)
    for (const code of givenIn(row)) {
      const one = found.get(code) ?? { code, label: { en: code }, rows: [] }
      found.set(code, one)
      one.rows.push(row)
    }
  return [...found.values()]
}

/**
 * How many of some reports offer what these cells count: those that do not answer all of them with *not
 * offered here*.
 */
export const offeringIn = (reports: Iterable<CellMap>, cells: readonly string[]): number =>
  [...reports].filter(report => cells.some(cell => report[cell]?.kind !== 'notOffered')).length

/**
 * The district figure of every item, by its code. Each cell is rolled up by itself, so that a report that
 * lacks one band still counts with the others; an item is the sum of its cells' figures. The figure of an
 * item that is averaged and split is therefore the sum of its bands' means, each over the reports that
 * answered that band.
 */
export function itemFigures(edition: Edition, table: ColumnTable): Map<string, Figure> {
  return new Map(
    itemsOf(edition).map(item => {
      const parts = cellsOfItem(edition, item).map(cell => overUnits(table, [cell.key], item.rollUp))
      const known = parts.filter(part => part.value !== null)
      const value = known.length ? known.reduce((sum, part) => sum + part.value!, 0) : null
      return [item.code, { value, reportsIn: Math.max(0, ...parts.map(part => part.reportsIn)) }] as const
    }),
  )
}
