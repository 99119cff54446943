import type { AnswerContent } from './answer'
import type { AnswerQuestion, Choice } from './question'

/** Is a unit in the branch of another? Asked of the unit tree, which the form does not know. */
export type UnitWithin = (unit: string, branch: string) => boolean

/**
 * The choices of a question that go with the answer it depends on. While that one has no value, all do; a
 * choice that is under nothing always does.
 */
export function choicesUnder(
  question: Extract<AnswerQuestion, { choices: unknown }>,
  above: AnswerContent | undefined,
): readonly Choice[] {
  if (question.cascade === undefined || above?.kind !== 'value') return question.choices
  return question.choices.filter(({ under }) => under === undefined || under === above.value)
}

/**
 * What of an answer goes with the answer that its choices depend on: itself, a part of it, or nothing (null).
 */
export function keepUnder(
  question: AnswerQuestion,
  content: AnswerContent,
  above: AnswerContent | undefined,
  unitWithin: UnitWithin,
): AnswerContent | null {
  if (content.kind !== 'value' || above?.kind !== 'value') return content
  if (question.kind === 'unit') return unitWithin(String(content.value), String(above.value)) ? content : null
  if (question.kind !== 'oneOf' && question.kind !== 'severalOf') return content
  const offered = new Set(choicesUnder(question, above).map(({ code }) => code))
  if (question.kind === 'oneOf') return offered.has(String(content.value)) ? content : null
  const chosen = content.value as readonly string[]
  const remaining = chosen.filter(code => offered.has(code))
  return remaining.length === chosen.length
    ? content
    : remaining.length
      ? { kind: 'value', value: remaining }
      : null
}
