import type { CaseRegister } from '#core/cases/register'
import type { FormPart } from '#core/form/question'
import { MEASLES_CASES } from './measles'

/** What the second edition asked for the first time. */
const ADDED = new Set(['travelled', 'travelled_to'])

const without = (parts: readonly FormPart[]): FormPart[] =>
  parts
    .filter(part => !ADDED.has(part.code))
    .map(part => (part.kind === 'section' ? { ...part, parts: without(part.parts) } : part))

/** The measles register as it was at first: nobody was asked about travels. */
export const MEASLES_CASES_FIRST: CaseRegister = {
  ...MEASLES_CASES,
  forms: MEASLES_CASES.forms.map(own => ({
    ...own,
    form: { ...own.form, parts: without(own.form.parts) },
  })),
}
