import type { CaseRegister } from '../cases/register'
import type { FormPart } from '../form/question'
import type { Words } from '../report/edition'
import { placesOf } from './form-parts'

/** What a register says of its cases by naming questions. */
export type RegisterSetting = 'line' | 'identity' | 'countingDate' | 'eventDate' | 'follow' | 'keeping'
/** Where a question is used: another part, or a rule, by its name; or a setting of the register. */
export type QuestionUse = { name: Words } | { setting: RegisterSetting }

/** The codes that an expression names, also one with mistakes in it. What stands in quotes is a text. */
const namesIn = (expression: string): string[] =>
  expression.replaceAll(/"(?:[^"]|"")*"/g, '').match(/[a-z][a-z0-9_]*/g) ?? []

/** The expressions of one part of a form. */
function expressionsOf(part: FormPart): string[] {
  const {
    shownWhen,
    expression,
    required,
    acceptedIf,
    default: standard,
  } = part as {
    shownWhen?: string
    expression?: string
    required?: unknown
    acceptedIf?: readonly { expression: string }[]
    default?: unknown
  }
  const when =
    typeof required === 'object' && required !== null ? (required as { when: string }).when : undefined
  return [
    shownWhen,
    expression,
    when,
    typeof standard === 'string' ? standard : undefined,
    ...(acceptedIf ?? []).map(one => one.expression),
  ].filter(text => text !== undefined)
}

/**
 * What uses some questions of a form: to be shown before they are removed. Where another form asks the same
 * question, the register's settings and rules still stand.
 * @param form the code of the form that asks them
 * @example usesOfQuestions(register, 'visit', ['fever']) // [{ name: { en: 'Days of fever' } }]
 */
export function usesOfQuestions(
  register: CaseRegister,
  form: string,
  codes: readonly string[],
): QuestionUse[] {
  const owner = register.forms.find(one => one.form.code === form)!
  const gone = new Set(codes)
  const inParts = placesOf(owner.form.parts)
    .filter(
      ({ part }) =>
        !gone.has(part.code) &&
        (expressionsOf(part).some(text => namesIn(text).some(name => gone.has(name))) ||
          ('cascade' in part && gone.has(part.cascade ?? ''))),
    )
    .map(({ part }): QuestionUse => ({ name: part.label }))
  const elsewhere = new Set(
    register.forms
      .filter(one => one !== owner)
      .flatMap(one => placesOf(one.form.parts).map(({ part }) => part.code)),
  )
  const missing = new Set(codes.filter(code => !elsewhere.has(code)))
  const inRules = register.rules
    .filter(({ expression }) => namesIn(expression).some(name => missing.has(name)))
    .map(({ name }): QuestionUse => ({ name }))
  const {
    line,
    identity: { identifiers, ...single },
    countingDate,
    follow = {},
    keeping,
  } = register
  const named: Record<RegisterSetting, readonly (string | undefined)[]> = {
    line,
    identity: [...identifiers, ...Object.values(single)],
    countingDate: [countingDate],
    eventDate: gone.has(owner.eventDate) ? [owner.eventDate] : [],
    follow: [follow.nextVisit, follow.result, ...(follow.household ?? [])],
    keeping: keeping?.personal ?? [],
  }
  const settings = (Object.keys(named) as RegisterSetting[])
    .filter(setting =>
      named[setting].some(code => code !== undefined && (setting === 'eventDate' ? gone : missing).has(code)),
    )
    .map((setting): QuestionUse => ({ setting }))
  return [...inParts, ...inRules, ...settings]
}
