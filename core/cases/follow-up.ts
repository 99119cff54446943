import { dayOf } from '../form/answer'
import { isAnswered } from '../report/cell'
import type { CaseFile } from './fold'
import type { CaseRegister } from './register'

/** What a case still needs. */
export interface FollowUp {
  /** The day of the next visit, in days since 1970; null when none is set, or one came after it was set. */
  nextVisit: number | null
  /** Something was sent away, and its result has not come. */
  resultAwaited: boolean
}

/**
 * What a case still needs, by what its register says it follows. A next visit stands in the last entry of its
 * form: once that form is filled again, what the earlier one said is over. A result is awaited in each entry
 * of its form that leaves it blank. A closed case needs nothing.
 */
export function followUp(
  { follow, forms }: Pick<CaseRegister, 'follow' | 'forms'>,
  { values, entries }: CaseFile,
  isClosed: boolean,
): FollowUp {
  if (isClosed) return { nextVisit: null, resultAwaited: false }
  const next = follow?.nextVisit ? values.get(follow.nextVisit) : undefined
  const last = next && entries.findLast(({ form }) => form === next.form)
  const day =
    next?.content.kind === 'value' && typeof next.content.value === 'string'
      ? dayOf(next.content.value)
      : null
  const { result } = follow ?? {}
  const asks = new Set(forms.flatMap(({ form }) => (result && asksIn(form.parts, result) ? [form.code] : [])))
  return {
    nextVisit: last && last.id === next.entry ? day : null,
    resultAwaited:
      result !== undefined &&
      entries.some(
        ({ form, answers }) => asks.has(form) && !isAnswered(answers[result] ?? { kind: 'blank' }),
      ),
  }
}

type Parts = CaseRegister['forms'][number]['form']['parts']
const asksIn = (parts: Parts, code: string): boolean =>
  parts.some(part => part.code === code || (part.kind === 'section' && asksIn(part.parts, code)))
