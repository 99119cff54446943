import { bad, good, type Result } from '../result'
import { readNumber, type CellNumber } from './read-number'

export type { CellNumber } from './read-number'

/**
 * What a cell, or the answer to a question, holds. Blank is not zero: nobody has answered a blank cell, while
 * a zero was typed on purpose. *Not offered* says that the facility does not give this service; *not known*
 * carries a reason.
 */
export type Content<Value> =
  | { kind: 'value'; value: Value }
  | { kind: 'notKnown'; reason: string }
  | { kind: 'notOffered' }
  | { kind: 'blank' }

/**
 * What a cell can hold: a number; `true` or `false`; a text, a chosen code, a day as `2026-10-05` or a
 * partial date as `2026-10`; several chosen codes.
 */
export type CellValue = number | boolean | string | readonly string[]

export type CellContent = Content<CellValue>

export type CellKind = CellContent['kind']

export const BLANK = { kind: 'blank' } as const

/** The largest count that a facility could mean: anything above is a slip of the finger. */
export const LARGEST_COUNT = 9_999_999

/**
 * Reads what a person of a language typed or pasted into a number cell. Empty text is a blank. Errors: those
 * of `readNumber` and `checkNumber`.
 */
export function readCell(text: string, number: CellNumber, language: string): Result<CellContent> {
  const read = readNumber(text, number, language)
  if (!read.ok) return read
  return read.value === null ? good(BLANK) : checkNumber(read.value, number)
}

/** Checks a number from outside before it becomes the value of a cell. Rejects NaN and infinity. */
export function checkNumber(value: number, number: CellNumber = 'count'): Result<CellContent> {
  if (!Number.isFinite(value))
    return bad({ code: 'cell-letters', message: 'That is not a number.', values: { text: String(value) } })
  if (value < 0) return bad({ code: 'cell-negative', message: 'A count cannot be below zero.' })
  if (number === 'count' && !Number.isInteger(value)) {
    return bad({ code: 'cell-decimals', message: 'A count is a whole number.' })
  }
  if (value > LARGEST_COUNT) {
    return bad({
      code: 'cell-too-large',
      message: `${value} is more than a facility could count.`,
      values: { largest: LARGEST_COUNT },
    })
  }
  return good({ kind: 'value', value: value === 0 ? 0 : value })
}

/** The number of a cell, or null when it holds none. */
export const numberOf = (content: Content<unknown> | undefined): number | null =>
  content?.kind === 'value' && typeof content.value === 'number' ? content.value : null

/** Has somebody answered it? Everything but blank is an answer. */
export const isAnswered = (content: Content<unknown> | undefined): boolean =>
  content !== undefined && content.kind !== 'blank'

const sameValue = (one: CellValue, other: CellValue): boolean =>
  Array.isArray(one) && Array.isArray(other)
    ? one.length === other.length && one.every((code, at) => code === other[at])
    : one === other

/** Do two cells say the same? Several choices are kept in the order of their list. */
export function sameContent(one: CellContent, other: CellContent): boolean {
  if (one.kind !== other.kind) return false
  if (one.kind === 'value' && other.kind === 'value') return sameValue(one.value, other.value)
  if (one.kind === 'notKnown' && other.kind === 'notKnown') return one.reason === other.reason
  return true
}
