import { KIND_CODES, type ColumnTable, type CountedList } from '../report/table'
import { dayOf, minutesOf, type AnswerContent, type AnswerValue, type Position } from './answer'
import type { Placed } from './outline'
import type { QuestionKind } from './question'

/** What the rows of answers lie in besides themselves. */
export interface AnswerSurroundings {
  list?: (code: string) => CountedList | undefined
  other?: (code: string) => ColumnTable | undefined
  back?: (periods: number) => ColumnTable | undefined
  days?: (which: 'start' | 'end') => Float64Array
}

/** The kind of each cell, by its key. */
export const kindsOfCells = (placed: readonly Placed[]): Map<string, QuestionKind> =>
  new Map(placed.flatMap(({ question, cells }) => cells.map(({ key }) => [key, question.kind] as const)))

function numberIn(value: AnswerValue, kind: QuestionKind | undefined): number {
  if (typeof value === 'number') return value
  if (typeof value === 'boolean') return +value
  if (typeof value !== 'string') return NaN
  // A computed day is written as a date too.
  if (kind === 'date' || kind === 'partialDate' || kind === 'computed') return dayOf(value) ?? NaN
  return kind === 'time' ? (minutesOf(value) ?? NaN) : NaN
}

function textIn(value: AnswerValue): string | null {
  if (typeof value === 'string') return value
  if (typeof value !== 'object' || Array.isArray(value)) return null
  return 'hash' in value ? value.hash : `${(value as Position).latitude} ${(value as Position).longitude}`
}

const isAnswers = (value: AnswerValue): value is readonly string[] => Array.isArray(value)

/**
 * Filled forms as a table of columns for the expressions: one row for each.
 * @param read the content of a cell in a row; undefined is blank.
 * @param kindOf the kinds of the cells, by key: {@link kindsOfCells}.
 */
export function answersTable(
  size: number,
  read: (row: number, cell: string) => AnswerContent | undefined,
  kindOf: ReadonlyMap<string, QuestionKind>,
  around: AnswerSurroundings = {},
): ColumnTable {
  const valueAt = (row: number, cell: string): AnswerValue | undefined => {
    const content = read(row, cell)
    return content?.kind === 'value' ? content.value : undefined
  }
  const column = <T>(cell: string, of: (value: AnswerValue) => T): (T | null)[] =>
    Array.from({ length: size }, (_, row) => {
      const value = valueAt(row, cell)
      return value === undefined ? null : of(value)
    })
  return {
    size,
    numbers(cell) {
      // By loops here and below: at each key of a form this is done for each name of what depends on it.
      const numbers = new Float64Array(size)
      const kind = kindOf.get(cell)
      for (let row = 0; row < size; row++) {
        const value = valueAt(row, cell)
        numbers[row] = value === undefined ? NaN : numberIn(value, kind)
      }
      return numbers
    },
    kinds(cell) {
      const kinds = new Uint8Array(size)
      for (let row = 0; row < size; row++) kinds[row] = KIND_CODES[read(row, cell)?.kind ?? 'blank']
      return kinds
    },
    offered: cell => {
      for (let row = 0; row < size; row++) if (read(row, cell)?.kind === 'notOffered') return false
      return true
    },
    texts: cell => column(cell, textIn),
    answers: cell => column(cell, value => (isAnswers(value) ? value : null)),
    back(periods) {
      return periods === 0 ? this : around.back?.(periods)
    },
    ...(around.list && { list: around.list }),
    ...(around.other && { other: around.other }),
    ...(around.days && { days: around.days }),
  }
}
