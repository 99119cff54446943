import type { CaseRegister } from '#core/cases/register'
import { placesOf } from '#core/define/form-parts'
import type { DoubtNames } from '../reports/useDoubtWords'
import { formIn, questionsOf } from './useCases'

/**
 * Where the doubts about cases of a register find their names: its questions and forms, the rows of its tables,
 * and the questions of the parent register.
 *
 * @param parent the newest definition of the register of the parent case
 */
export function namesOfRegister(register: CaseRegister, parent?: CaseRegister | null): DoubtNames {
  const rows = register.forms
    .flatMap(({ form }) => [
      ...(form.axes ?? []).flatMap(({ bands }) => bands),
      ...placesOf(form.parts).flatMap(({ part }) => (part.kind === 'table' ? part.rows : [])),
    ])
    .map(({ code, name }) => [code, name] as const)
  const bands = new Map(rows)
  return {
    item: (code, source) => {
      const question = questionsOf(source === 'parent' && parent ? parent : register).get(code)
      // A count names the form whose entries it counts.
      if (!question) return { name: formIn(register, code).name, kind: 'wholeNumber' }
      return { ...question, name: question.label } as ReturnType<DoubtNames['item']>
    },
    band: code => bands.get(code),
  }
}
