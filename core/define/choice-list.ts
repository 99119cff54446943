import type { Choice } from '../form/question'
import type { Words } from '../report/edition'
import type { CaseRegister } from '../cases/register'
import { partsOf } from './form-parts'

/**
 * A list of choices that several questions share. Where it has a parent, each choice may say under which one
 * there it is.
 */
export interface ChoiceList {
  code: string
  name: Words
  parent?: string
  choices: Choice[]
}

/** Codes of the lists that a register's questions take their choices from. */
export const listsUsed = (register: CaseRegister): string[] => [
  ...new Set(
    register.forms
      .flatMap(({ form }) => partsOf(form.parts))
      .flatMap(part => ('list' in part && part.list ? [part.list] : [])),
  ),
]
