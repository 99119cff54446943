import { parseDay } from '../calendar/day'
import { computingDay, parsePartialDate } from '../calendar/partial-date'
import { parsePattern } from '../expression/pattern'
import { exampleOf } from '../expression/pattern-example'
import { LARGEST_COUNT, type CellValue, type Content } from '../report/cell'
import { twoReadings } from '../report/read-number'
import { bad, good, type Problem, type Result } from '../result'
import type { AnswerQuestion, QuestionOf } from './question'

/** Where something happened; metres. */
export interface Position {
  latitude: number
  longitude: number
  accuracy?: number
}

/** A picture or a sound, kept elsewhere under the hash of its bytes. */
export interface Attachment {
  /** SHA-256 in hexadecimal. */
  hash: string
  bytes: number
  mediaType: string
}

/**
 * What an answer can be: what a cell of a report can be; a unit or person's code; a time as `14:05`; of a
 * repeat its instances; a position; a picture or sound.
 */
export type AnswerValue = CellValue | Position | Attachment

export type AnswerContent = Content<AnswerValue>

/**
 * The answers of one filled form, by the keys of its cells. A repeat's own key holds its instances in order.
 */
export type Answers = Readonly<Record<string, AnswerContent>>

export const LONGEST_TEXT = 2_000
export const LONGEST_IDENTIFIER = 64
const MOST_BYTES = 8 * 2 ** 20

const refuse = (code: string, message: string, values: Problem['values'] = {}) =>
  bad({ code, message, values })

/** Minutes since midnight of `14:05`; null for no time. */
export function minutesOf(time: string): number | null {
  const found = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(time)
  return found ? Number(found[1]) * 60 + Number(found[2]) : null
}

/** The day number that stands for a date or partial date in an expression; null for no date. */
export function dayOf(text: string): number | null {
  const date = parsePartialDate(text)
  return date.ok ? computingDay(date.value) : null
}

/**
 * The day of an answer as a day number; null where it is no day.
 * @example dayIn({ kind: 'value', value: '2026-10-05' }) // 20731
 */
export const dayIn = (content: AnswerContent | undefined): number | null =>
  content?.kind === 'value' && typeof content.value === 'string' ? dayOf(content.value) : null

/**
 * Checks a value from outside before it may be an answer to a question. NaN, infinity and whatever has
 * another shape are rejected. Other answers (cascades, conditions) are not considered here. Errors:
 * `answer-shape`, `cell-two-readings`, `answer-text-long`, `answer-pattern`, `answer-number`, `answer-whole`,
 * `answer-least`, `answer-most`, `answer-choice`, `answer-time`, `answer-position`, `answer-attachment`, and
 * those of dates.
 */
export function checkAnswer(question: AnswerQuestion, value: unknown): Result<AnswerValue> {
  switch (question.kind) {
    case 'text':
      return checkText(value, question.pattern, question.longest)
    case 'identifier':
      return checkText(value, question.pattern, LONGEST_IDENTIFIER)
    case 'unit':
    case 'person':
      return checkText(value, undefined, 64)
    case 'wholeNumber':
    case 'decimal':
      return checkNumeric(question, value)
    case 'date':
      return typeof value === 'string' ? whole(parseDay(value), value) : shape()
    case 'partialDate':
      return typeof value === 'string' ? whole(parsePartialDate(value), value) : shape()
    case 'time':
      return typeof value === 'string' && minutesOf(value) !== null
        ? good(value)
        : refuse('answer-time', 'A time is written as 14:05.')
    case 'yesNo':
      return typeof value === 'boolean' ? good(value) : shape()
    case 'oneOf':
      return typeof value === 'string' && question.choices.some(({ code }) => code === value)
        ? good(value)
        : noChoice(value)
    case 'severalOf': {
      if (!Array.isArray(value)) return shape()
      const strange = value.find(one => !question.choices.some(({ code }) => code === one))
      if (strange !== undefined) return noChoice(strange)
      // Kept in the order of the list, so that two people who choose the same say the same.
      return good(question.choices.map(({ code }) => code).filter(code => value.includes(code)))
    }
    case 'position':
      return checkPosition(value)
    case 'picture':
    case 'sound':
      return checkAttachment(question.kind, value, question.mostBytes ?? MOST_BYTES)
    case 'computed':
      return refuse('answer-computed', 'This is computed, and cannot be typed.')
  }
}

const shape = () => refuse('answer-shape', 'This is not an answer to this question.')
const noChoice = (value: unknown) =>
  refuse('answer-choice', `“${String(value)}” is not among the choices.`, { text: String(value) })
/** A year from 1800 to 2199: what a person types beyond is a slip, and the database could not store it. */
function whole(result: Result<unknown>, value: string): Result<AnswerValue> {
  if (!result.ok) return result
  const year = Number(value.slice(0, 4))
  return year >= 1800 && year <= 2199 ? good(value) : refuse('day-none', `There is no day ${value}.`)
}

/** How a pattern is shown to people: as an example, where one can be made. */
const formOf = (pattern: string): string => exampleOf(pattern) ?? pattern

function checkText(value: unknown, pattern: string | undefined, longest = LONGEST_TEXT): Result<AnswerValue> {
  if (typeof value !== 'string' || value.trim() === '') return shape()
  if (value.length > longest)
    return refuse('answer-text-long', `At most ${longest} characters.`, { most: longest })
  const matcher = pattern === undefined ? undefined : parsePattern(pattern)
  if (matcher?.ok && !matcher.value(value))
    return refuse('answer-pattern', `“${value}” does not have the form of ${formOf(pattern!)}.`, {
      text: value,
      example: formOf(pattern!),
    })
  return good(value)
}

function checkNumeric(question: QuestionOf<'wholeNumber'>, value: unknown): Result<AnswerValue> {
  const readings = typeof value === 'string' ? twoReadings(value) : undefined
  if (readings) {
    const [one, other] = readings
    return refuse('cell-two-readings', `“${String(value)}” can mean ${one} or ${other}.`, {
      text: String(value),
      one,
      other,
    })
  }
  if (question.kind === 'wholeNumber' && typeof value === 'string' && /^[-+]?\d+[.,]\d*$/.test(value))
    return refuse('answer-whole', 'This is a whole number.')
  if (typeof value !== 'number' || !Number.isFinite(value))
    return refuse('answer-number', 'That is not a number.')
  if (question.kind === 'wholeNumber' && !Number.isInteger(value))
    return refuse('answer-whole', 'This is a whole number.')
  const [least, most] = [question.least ?? 0, question.most ?? LARGEST_COUNT]
  if (value < least) return refuse('answer-least', `At least ${least}.`, { least })
  if (value > most) return refuse('answer-most', `At most ${most}.`, { most })
  return good(value === 0 ? 0 : value)
}

function checkPosition(value: unknown): Result<AnswerValue> {
  const { latitude, longitude, accuracy } = (
    typeof value === 'object' && value !== null ? value : {}
  ) as Partial<Position>
  const within = (number: unknown, most: number) => typeof number === 'number' && Math.abs(number) <= most
  if (!within(latitude, 90) || !within(longitude, 180))
    return refuse('answer-position', 'Latitude is from −90 to 90, longitude from −180 to 180.')
  if (accuracy !== undefined && !(Number.isFinite(accuracy) && accuracy >= 0))
    return refuse('answer-position', 'The accuracy is in metres.')
  return good({ latitude: latitude!, longitude: longitude!, ...(accuracy !== undefined && { accuracy }) })
}

function checkAttachment(kind: 'picture' | 'sound', value: unknown, most: number): Result<AnswerValue> {
  const { hash, bytes, mediaType } = (
    typeof value === 'object' && value !== null ? value : {}
  ) as Partial<Attachment>
  const ofKind =
    typeof mediaType === 'string' && mediaType.startsWith(kind === 'picture' ? 'image/' : 'audio/')
  if (typeof hash !== 'string' || !/^[0-9a-f]{64}$/.test(hash) || !ofKind || !Number.isInteger(bytes))
    return refuse('answer-attachment', `This is no ${kind}.`)
  if (bytes! > most) return refuse('answer-most', `At most ${most} bytes.`, { most })
  return good({ hash, bytes: bytes!, mediaType })
}
