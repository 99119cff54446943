import type { AnswerQuestion, Choice, FormPart, FormSection, QuestionOf } from '#core/form/question'
import type { Words } from '#core/report/edition'

/** Short ways of writing questions in two languages. */
export const words = (en: string, fr: string): Words => ({ en, fr })

type More<Kind extends AnswerQuestion['kind']> = Partial<Omit<QuestionOf<Kind>, 'kind' | 'code' | 'label'>>

export const ask = <Kind extends AnswerQuestion['kind']>(
  kind: Kind,
  code: string,
  en: string,
  fr: string,
  more: More<Kind> = {},
): AnswerQuestion => ({ kind, code, label: words(en, fr), ...more }) as AnswerQuestion

export const section = (
  code: string,
  en: string,
  fr: string,
  parts: FormPart[],
  shownWhen?: string,
): FormSection => ({
  kind: 'section',
  code,
  label: words(en, fr),
  parts,
  ...(shownWhen !== undefined && { shownWhen }),
})

export const choice = (code: string, en: string, fr: string, under?: string): Choice => ({
  code,
  label: words(en, fr),
  ...(under !== undefined && { under }),
})

export const mustBe = (expression: string, en: string, fr: string) => ({ expression, message: words(en, fr) })
