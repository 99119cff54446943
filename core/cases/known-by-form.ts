import type { AnswerContent } from '../form/answer'
import type { Form } from '../form/question'
import { shownAnswers, type Shown } from '../form/shown-answers'
import type { CaseFile } from './fold'
import type { CaseRegister } from './register'

/** What one form of a register adds to what is known of a case; without a form, what no form asks any more. */
export interface KnownPart {
  form: Form | null
  shown: Shown[]
}

const isStrange = (one: Shown) => one.kind === 'answer' && one.question === null

/**
 * What is known of a case, form by form in paper order. A question that two forms ask stands with the first;
 * what only an earlier edition asked comes last, by its code. Forms of which nothing is known are left out.
 */
export function knownByForm({ forms }: Pick<CaseRegister, 'forms'>, { values }: CaseFile): KnownPart[] {
  let left: Record<string, AnswerContent> = Object.fromEntries(
    [...values].map(([key, { content }]) => [key, content]),
  )
  const parts: KnownPart[] = []
  for (const { form } of forms) {
    const all = shownAnswers(form, left)
    parts.push({ form, shown: all.filter(one => !isStrange(one)) })
    left = Object.fromEntries(
      all.flatMap(one => (one.kind === 'answer' && isStrange(one) ? [[one.code, one.content]] : [])),
    )
  }
  const strange = Object.entries(left).map(([code, content]): Shown => ({
    kind: 'answer',
    question: null,
    code,
    content,
  }))
  return [...parts, { form: null, shown: strange }].filter(({ shown }) => shown.length > 0)
}
