import { isTypedNumber } from '../report/asked'
import { BLANK, checkNumber, readCell, type CellContent, type CellValue } from '../report/cell'
import { numberKind, type Item } from '../report/edition'
import { bad, good, type Result } from '../result'
import { checkAnswer, type AnswerValue } from './answer'
import { fold } from './code'
import { questionOf } from './form-of-edition'

/** A number that is within what its item takes. */
function withinLimits({ least, most }: Item, content: CellContent): Result<CellContent> {
  if (content.kind !== 'value' || typeof content.value !== 'number') return good(content)
  if (least !== undefined && content.value < least)
    return bad({ code: 'answer-least', message: `At least ${least}.`, values: { least } })
  if (most !== undefined && content.value > most)
    return bad({ code: 'answer-most', message: `At most ${most}.`, values: { most } })
  return good(content)
}

/**
 * Checks a value from outside before it becomes the value of an item's cell. Errors: those of `checkNumber`
 * for numbers, of `checkAnswer` for other answers (`answer-computed` for what is never typed), `answer-least`
 * and `answer-most`.
 * @example checkCell(working, 'maybe') // { ok: false, problems: [{ code: 'answer-shape' }] }
 */
export function checkCell(item: Item, value: unknown): Result<CellContent> {
  if (isTypedNumber(item.kind)) {
    if (typeof value !== 'number')
      return bad({
        code: 'cell-letters',
        message: `“${String(value)}” is not a number.`,
        values: { text: String(value) },
      })
    const checked = checkNumber(value, numberKind(item)!)
    return checked.ok ? withinLimits(item, checked.value) : checked
  }
  const checked = checkAnswer(questionOf(item), value)
  return checked.ok ? good({ kind: 'value', value: checked.value as CellValue }) : checked
}

const YES = new Set(['yes', 'y', 'oui', 'o', 'true', 'vrai', '1'])
const NO = new Set(['no', 'n', 'non', 'false', 'faux', '0'])

/**
 * What a text from a file or a spreadsheet stands for in an item: a choice by its code or by a label of it.
 */
function valueIn(item: Item, text: string): AnswerValue {
  const folded = fold(text)
  if (item.kind === 'yesNo') return YES.has(folded) ? true : NO.has(folded) ? false : text
  const codeOf = (one: string) =>
    item.choices?.find(({ code, label }) =>
      [code, ...Object.values(label)].some(name => fold(name) === fold(one.trim())),
    )?.code ?? one.trim()
  if (item.kind === 'oneOf') return codeOf(text)
  return item.kind === 'severalOf'
    ? text
        .split(/[;,]/)
        .filter(one => one.trim())
        .map(codeOf)
    : text
}

/**
 * Reads what a person of a language typed or pasted into a cell of any kind. Empty text is a blank. Errors:
 * those of `readCell` and {@link checkCell}; `answer-not-yes-no` for anything but yes and no.
 */
export function readItem(item: Item, text: string, language: string): Result<CellContent> {
  const number = item.kind === 'computed' ? null : numberKind(item)
  if (number) {
    const read = readCell(text, number, language)
    return read.ok ? withinLimits(item, read.value) : read
  }
  const tidy = text.trim()
  if (tidy === '') return good(BLANK)
  const value = valueIn(item, tidy)
  if (item.kind === 'yesNo' && typeof value !== 'boolean')
    return bad({
      code: 'answer-not-yes-no',
      message: `“${tidy}” is neither yes nor no.`,
      values: { text: tidy },
    })
  return checkCell(item, value)
}
