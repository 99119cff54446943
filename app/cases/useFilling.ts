import type { AnswerContent, Answers, AnswerValue } from '#core/form/answer'
import { checkAnswer } from '#core/form/answer'
import type { CompiledForm } from '#core/form/compile-form'
import { beginFilling, choicesNow, give } from '#core/form/fill'
import {
  contentAt,
  NOTHING_FILLED,
  type Filling,
  type FillingOptions,
  type FillingStep,
} from '#core/form/filling'
import { splitKey } from '#core/form/outline'
import type { AnswerQuestion } from '#core/form/question'
import type { Problem } from '#core/result'

/** The questions that a form still lacks, or whose answers it refused. */
export const lacksOf = (filling: Filling | undefined): string[] => [
  ...(filling?.missing ?? []),
  ...(filling?.refused.keys() ?? []),
]

/**
 * One form being filled. Each answer goes through core; one that would clear others first says which, and
 * waits; what was cleared comes back with one act.
 */
export function useFilling(
  compiled: () => CompiledForm,
  start: Answers = {},
  options: () => FillingOptions = () => ({}),
) {
  const filling = shallowRef<Filling>(NOTHING_FILLED)
  const problems = reactive<Record<string, Problem>>({})
  /** An answer that would clear others, until the person says go on. */
  const pending = shallowRef<FillingStep | null>(null)
  /** The filling before answers were cleared. */
  const before = shallowRef<Filling | null>(null)

  /** Opens the form, or opens it anew with what was answered: after the form itself changed. */
  function open(
    answers: Answers = Object.fromEntries(
      [...filling.value.answers].filter(([key]) => filling.value.touched.has(key)),
    ),
  ) {
    filling.value = beginFilling(compiled(), answers, options()).filling
    pending.value = null
    before.value = null
  }
  open(start)

  function put(changes: Answers): void {
    const step = give(compiled(), filling.value, changes, options())
    const lost = step.cleared.filter(({ key }) => !(key in changes))
    if (lost.length) pending.value = { ...step, cleared: lost }
    else filling.value = step.filling
  }

  /**
   * Sets an answer; null clears it. An invalid value shows a problem at the question, and the previous answer
   * stays.
   */
  function answer(question: AnswerQuestion, key: string, value: AnswerValue | null): void {
    delete problems[key]
    if (value === null) {
      put({ [key]: { kind: 'blank' } })
      return
    }
    const checked = checkAnswer(question, value)
    if (checked.ok) put({ [key]: { kind: 'value', value: checked.value } })
    else problems[key] = checked.problems[0]!
  }
  const notKnown = (key: string, reason: string) => {
    delete problems[key]
    put({ [key]: { kind: 'notKnown', reason } })
  }

  function confirm() {
    if (!pending.value) return
    before.value = filling.value
    filling.value = pending.value.filling
    pending.value = null
  }
  function bringBack() {
    if (!before.value) return
    filling.value = before.value
    before.value = null
  }

  const contentOf = (key: string): AnswerContent | undefined => contentAt(filling.value, key)
  const isHidden = (code: string, key?: string) => {
    const inside = key ? splitKey(key) : null
    return filling.value.hidden.has(inside ? `${inside.repeat}/${inside.instance}/${code}` : code)
  }
  const instancesOf = (repeat: string): readonly string[] => {
    const content = contentOf(repeat)
    return content?.kind === 'value' ? (content.value as readonly string[]) : []
  }

  return {
    filling,
    problems,
    pending,
    before,
    open,
    put,
    answer,
    notKnown,
    confirm,
    bringBack,
    contentOf,
    isHidden,
    instancesOf,
    leave: () => {
      pending.value = null
    },
    choices: (key: string) => choicesNow(compiled(), filling.value, key),
    isMissing: (key: string) => filling.value.missing.has(key),
    refusals: (key: string) => filling.value.refused.get(key) ?? [],
  }
}

export type FillingWork = ReturnType<typeof useFilling>
/** What one answer needs: of a form, or of a report. */
export type AnswerWork = Pick<
  FillingWork,
  'problems' | 'contentOf' | 'isMissing' | 'refusals' | 'answer' | 'notKnown' | 'choices'
>
