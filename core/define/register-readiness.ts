import { compileRegister, type CompiledRegister } from '../cases/compile-register'
import type { CaseRegister } from '../cases/register'
import type { Problem } from '../result'
import { partsOf } from './form-parts'
import type { Lack } from './readiness'
import { textsOf } from './texts'

/** More than this share of questions required is too much to ask: people then invent answers. */
const MUCH_REQUIRED = 0.6

const isAbout = ({ values }: Problem): string => {
  if (values?.question) return `questions/${values.question}`
  if (values?.rule) return `rules/${values.rule}`
  return values?.form ? `forms/${values.form}` : 'register'
}

/**
 * What stands between a register's draft and its publishing.
 * @param parent the register of the parent case; null where it names one that is not published.
 */
export function registerReadiness(
  draft: CaseRegister,
  parent: Pick<CompiledRegister, 'vocabulary'> | null,
  languages: readonly string[],
): Lack[] {
  const must = (code: string, at: string): Lack => ({ weight: 'must', code, at })
  const should = (code: string, at: string, values: Lack['values'] = {}): Lack => ({
    weight: 'should',
    code,
    at,
    values,
  })
  const found: Lack[] = []
  if (!draft.forms.some(({ role }) => role === 'registration'))
    found.push(must('no-registration', 'register'))
  for (const { form } of draft.forms)
    if (!partsOf(form.parts).some(part => part.kind !== 'section' && part.kind !== 'note'))
      found.push(must('no-questions', `forms/${form.code}`))
  if (draft.parent && !parent) found.push(must('no-parent', 'register'))
  const compiled = compileRegister(draft, parent ?? undefined)
  if (!compiled.ok)
    found.push(
      ...compiled.problems.map((problem): Lack => ({
        weight: 'must',
        code: 'register',
        at: isAbout(problem),
        problem,
      })),
    )
  const counted = new Set([draft.countingDate, ...draft.forms.map(({ eventDate }) => eventDate)])
  for (const code of draft.keeping?.personal ?? [])
    if (counted.has(code)) found.push(must('personal-counted', `questions/${code}`))
  if (draft.line.length === 0) found.push(should('no-line', 'register'))
  if (draft.subject === 'person' && !draft.identity.name && draft.identity.identifiers.length === 0)
    found.push(should('no-identity', 'register'))
  for (const { form } of draft.forms) {
    const asked = partsOf(form.parts).filter(
      part => !['section', 'note', 'table', 'repeat', 'computed'].includes(part.kind),
    )
    const required = asked.filter(part => 'required' in part && part.required === 'always')
    if (asked.length >= 5 && required.length / asked.length > MUCH_REQUIRED)
      found.push(should('much-required', `forms/${form.code}`, { count: required.length, of: asked.length }))
    for (const part of asked)
      if ((part.kind === 'wholeNumber' || part.kind === 'decimal') && part.most === undefined && !part.range)
        found.push(should('no-bound', `questions/${part.code}`))
  }
  const missing = textsOf(draft, languages).filter(text => text.missing.length)
  for (const { of, missing: without, part } of missing)
    found.push(should('no-text-in', `questions/${of}`, { languages: without.join(', '), part }))
  return found
}
