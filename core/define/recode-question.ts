import { compileRegister } from '../cases/compile-register'
import type { CaseRegister } from '../cases/register'
import { renameCode } from '../expression/rename'
import type { Vocabulary } from '../expression/vocabulary'
import { formVocabulary } from '../form/form-vocabulary'
import { outline } from '../form/outline'
import type { FormPart } from '../form/question'
import { placesOf } from './form-parts'

type Part = Record<string, unknown> & { code: string }

/**
 * Gives a question another code, in place, and takes along what names it: conditions, limits, computed
 * answers and cascades of its form, rules, and what the register says of it. An expression that has mistakes
 * in it is left as it is.
 * @param form the code of the form that asks it.
 */
export function recodeQuestion(register: CaseRegister, form: string, from: string, to: string): void {
  const owner = register.forms.find(one => one.form.code === form)!
  const compiled = compileRegister(register)
  const { vocabulary } = formVocabulary(owner.form, outline(owner.form))
  const places = placesOf(owner.form.parts)
  const renameIn =
    (vocabularyOf: Vocabulary, sources: string[]) =>
    (text: string): string =>
      [
        ...sources.map(source => ({ what: 'item' as const, from, to, source })),
        ...[...vocabularyOf.lists.keys()].map(list => ({ what: 'item' as const, from, to, list })),
        { what: 'item' as const, from, to },
      ].reduce((now, renaming) => renameCode(now, renaming, vocabularyOf), text)
  for (const { part, around } of places) {
    const here =
      around?.kind === 'repeat'
        ? (vocabulary.inRepeat.get(around.code) ?? vocabulary.whole)
        : vocabulary.whole
    renameExpressions(part as unknown as Part, renameIn(here, []), from, to)
  }
  const named = places.find(({ part }) => part.code === from)
  if (named) (named.part as FormPart & { code: string }).code = to
  if (owner.eventDate === from) owner.eventDate = to
  const inRules = compiled.ok ? renameIn(compiled.value.vocabulary, [form]) : (text: string) => text
  for (const rule of register.rules) rule.expression = inRules(rule.expression)
  const now = (code: string) => (code === from ? to : code)
  register.line = register.line.map(now)
  register.countingDate = now(register.countingDate)
  const { identifiers, ...single } = register.identity
  register.identity = {
    ...Object.fromEntries(Object.entries(single).map(([key, code]) => [key, now(code)])),
    identifiers: identifiers.map(now),
  }
  if (register.keeping)
    register.keeping = { ...register.keeping, personal: register.keeping.personal.map(now) }
  const { nextVisit, result, household } = register.follow ?? {}
  if (register.follow)
    register.follow = {
      ...(nextVisit && { nextVisit: now(nextVisit) }),
      ...(result && { result: now(result) }),
      ...(household && { household: household.map(now) }),
    }
}

function renameExpressions(part: Part, rename: (text: string) => string, from: string, to: string): void {
  for (const key of ['shownWhen', 'default', 'expression'])
    if (typeof part[key] === 'string') part[key] = rename(part[key])
  const { required, acceptedIf } = part as { required?: unknown; acceptedIf?: { expression: string }[] }
  if (typeof required === 'object' && required !== null)
    part.required = { when: rename((required as { when: string }).when) }
  for (const one of acceptedIf ?? []) one.expression = rename(one.expression)
  if (part.cascade === from) part.cascade = to
}
