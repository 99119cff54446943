import { printNumber, printText } from '../expression/print'
import type { AnswerQuestion } from '../form/question'
import type { QuestionnaireItem } from './fhir-marks'

/** What a condition needs to know of the question that it asks about. */
export interface AskedAbout {
  /** Its code here. */
  code: string
  kind: AnswerQuestion['kind'] | 'section' | 'note' | 'table' | 'repeat' | undefined
  /** The codes of its choices here, by what the resource calls them: their code, or their text. */
  choices: ReadonlyMap<string, string>
}

const OPERATORS: ReadonlySet<string> = new Set(['=', '!=', '<', '<=', '>', '>='])
const TEXTS: ReadonlySet<string | undefined> = new Set(['text', 'identifier', 'unit', 'person'])

type Condition = NonNullable<QuestionnaireItem['enableWhen']>[number]

/** One condition of the standard as an expression; null where it cannot be said. */
function conditionText(condition: Condition, about: AskedAbout | undefined): string | null {
  const [key, answer] = Object.entries(condition).find(([name]) => name.startsWith('answer')) ?? []
  if (!about || key === undefined) return null
  const { code, kind, choices } = about
  const { operator } = condition
  if (operator === 'exists') return answer === false ? `not filled(${code})` : `filled(${code})`
  if (!OPERATORS.has(operator)) return null
  const isEqual = operator === '=' || operator === '!='
  if (typeof answer === 'number')
    return kind === 'wholeNumber' || kind === 'decimal' || kind === 'computed'
      ? `${code} ${operator} ${signedNumber(answer)}`
      : null
  if (typeof answer === 'boolean')
    return kind === 'yesNo' && isEqual ? ((operator === '=') === answer ? code : `not ${code}`) : null
  if (key === 'answerDate' && typeof answer === 'string')
    return (kind === 'date' || kind === 'partialDate') && /^\d{4}-\d\d-\d\d$/.test(answer)
      ? `${code} ${operator} date("${answer}")`
      : null
  const text =
    key === 'answerCoding'
      ? ((answer as { code?: string; display?: string }).code ?? (answer as { display?: string }).display)
      : key === 'answerString' && typeof answer === 'string'
        ? answer
        : undefined
  if (text === undefined || !isEqual) return null
  if (kind === 'oneOf' || kind === 'severalOf') {
    const choice = choices.get(text)
    if (choice === undefined) return null
    const chosen = printText(choice)
    return kind === 'oneOf'
      ? `${code} ${operator} ${chosen}`
      : operator === '='
        ? `includes(${code}, ${chosen})`
        : `not includes(${code}, ${chosen})`
  }
  return TEXTS.has(kind) ? `${code} ${operator} ${printText(text)}` : null
}

/** Any number as the language reads it: a sign in brackets, so that it can stand behind any other. */
export const signedNumber = (value: number): string =>
  value < 0 ? `(0 - ${printNumber(-value)})` : printNumber(value)

/**
 * The conditions of an item as one expression; undefined when it has none, null when one of them cannot be
 * said.
 */
export function conditionsText(
  item: QuestionnaireItem,
  about: (question: string) => AskedAbout | undefined,
): string | null | undefined {
  const parts = (item.enableWhen ?? []).map(condition => conditionText(condition, about(condition.question)))
  if (!parts.length) return undefined
  return parts.includes(null) ? null : parts.join(item.enableBehavior === 'any' ? ' or ' : ' and ')
}

/** Two conditions that must both hold: that of a section, and that of what was in it. */
export const bothHold = (one: string | undefined, other: string | undefined): string | undefined =>
  one && other ? `(${one}) and (${other})` : (one ?? other)
