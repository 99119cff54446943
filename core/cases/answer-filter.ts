import { parseDay } from '../calendar/day'
import type { AnswerValue } from '../form/answer'
import type { AnswerQuestion } from '../form/question'
import { bad, good, type Result } from '../result'
import { listQuestions } from './list-questions'
import type { CaseRegister } from './register'

/** What a list asks of one answer of a case. */
export type AnswerFilter = { code: string } & (
  | { is: 'value'; value: AnswerValue }
  /** Nobody has said it: blank, or *not known*. */
  | { is: 'missing' }
  /** A number or a day between two, both of them included. */
  | { is: 'between'; from: number | string | null; to: number | string | null }
)

/** More filters than this find nothing. */
export const MOST_FILTERS = 12

const NUMBERS = new Set<AnswerQuestion['kind']>(['wholeNumber', 'decimal', 'computed'])
const DAYS = new Set<AnswerQuestion['kind']>(['date', 'partialDate'])

/** How a question can be filtered: by a value of its list, by a range, or only by whether it is there. */
export const filterKind = ({ kind }: Pick<AnswerQuestion, 'kind'>): 'choice' | 'number' | 'day' | 'text' =>
  NUMBERS.has(kind)
    ? 'number'
    : DAYS.has(kind)
      ? 'day'
      : ['yesNo', 'oneOf', 'severalOf', 'unit'].includes(kind)
        ? 'choice'
        : 'text'

const refused = (code: string, message: string, question: string) =>
  bad({ code, message, at: `answers/${question}`, values: { question } })

function limitOf(question: AnswerQuestion, text: string): Result<number | string> {
  if (filterKind(question) === 'number') {
    const value = Number(text)
    return text.trim() && Number.isFinite(value)
      ? good(value)
      : refused('filter-number', `${text} is no number.`, question.code)
  }
  return parseDay(text).ok ? good(text) : refused('filter-day', `${text} is no day.`, question.code)
}

function valueOf(question: AnswerQuestion, text: string): Result<AnswerValue> {
  if (question.kind === 'yesNo')
    return text === 'true' || text === 'false'
      ? good(text === 'true')
      : refused('filter-choice', `${text} is neither true nor false.`, question.code)
  if (filterKind(question) === 'number') return limitOf(question, text)
  return good(question.kind === 'severalOf' ? [text] : text)
}

/**
 * Reads what a list asks of answers: pairs as in a web form (application/x-www-form-urlencoded). `code=value`
 * wants the value (of several, that it is among them), `code=` that it is missing, `code.from` and `code.to`
 * a number or a day between two. Problems: `filter-question`, `filter-number`, `filter-day`, `filter-choice`,
 * `filter-many`.
 * @example readFilters(measles, 'sex=f&age_years.to=4') // [{ code: 'sex', is: 'value', … }, { code: 'age_years', is: 'between', from: null, to: 4 }]
 */
export function readFilters(register: CaseRegister, text: string): Result<AnswerFilter[]> {
  const questions = listQuestions(register)
  const filters = new Map<string, AnswerFilter>()
  for (const [key, asked] of new URLSearchParams(text)) {
    const [code = '', end] = key.split('.')
    const question = questions.get(code)?.question
    if (!question || (end !== undefined && end !== 'from' && end !== 'to'))
      return refused('filter-question', `No list of ${register.code} is filtered by ${key}.`, code)
    if (end === undefined) {
      const value = asked === '' ? null : valueOf(question, asked)
      if (value && !value.ok) return value
      filters.set(code, value ? { code, is: 'value', value: value.value } : { code, is: 'missing' })
      continue
    }
    const kind = filterKind(question)
    if (kind !== 'number' && kind !== 'day')
      return refused('filter-question', `${code} has no order to be filtered by.`, code)
    const limit = limitOf(question, asked)
    if (!limit.ok) return limit
    const known = filters.get(code)
    filters.set(code, {
      code,
      is: 'between',
      ...(known?.is === 'between' ? { from: known.from, to: known.to } : { from: null, to: null }),
      [end]: limit.value,
    })
  }
  if (filters.size > MOST_FILTERS)
    return refused('filter-many', `More than ${MOST_FILTERS} filters are not taken.`, register.code)
  return good([...filters.values()])
}

/** Filters as the text that {@link readFilters} reads. */
export function writeFilters(filters: readonly AnswerFilter[]): string {
  const text = new URLSearchParams()
  for (const filter of filters) {
    if (filter.is === 'missing') text.append(filter.code, '')
    else if (filter.is === 'value') text.append(filter.code, String(filter.value))
    else {
      if (filter.from !== null) text.append(`${filter.code}.from`, String(filter.from))
      if (filter.to !== null) text.append(`${filter.code}.to`, String(filter.to))
    }
  }
  return text.toString()
}
