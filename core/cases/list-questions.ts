import type { AnswerQuestion, FormPart } from '../form/question'
import type { CaseRegister } from './register'

/** A question that a list of cases can show, filter and sort by, and the form that asks it first. */
export interface ListQuestion {
  question: AnswerQuestion
  form: string
}

/** Has one value for a whole case, which fits into a column. */
const isListed = (part: FormPart): part is AnswerQuestion =>
  !['section', 'note', 'table', 'repeat', 'picture', 'sound', 'position'].includes(part.kind) &&
  !('axes' in part && part.axes?.length)

const questionsOf = (parts: readonly FormPart[]): AnswerQuestion[] =>
  parts.flatMap(part => (part.kind === 'section' ? questionsOf(part.parts) : isListed(part) ? [part] : []))

/**
 * The questions of a register that a list can have as columns, in paper order, each once: those with one
 * answer. Tables, repeats, pictures, sounds and positions are read on the page of the case.
 */
export function listQuestions(register: Pick<CaseRegister, 'forms'>): ReadonlyMap<string, ListQuestion> {
  const found = new Map<string, ListQuestion>()
  for (const { form } of register.forms)
    for (const question of questionsOf(form.parts))
      if (!found.has(question.code)) found.set(question.code, { question, form: form.code })
  return found
}
