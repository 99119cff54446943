import { NOTHING, type Name, type Vocabulary } from '../expression/vocabulary'
import { compileForm, type CompiledForm } from '../form/compile-form'
import type { QuestionKind } from '../form/question'
import { bad, good, type Problem, type Result } from '../result'
import { compileRuleList, type CompiledRule } from '../rule/compile-rules'
import type { CaseRegister } from './register'

/** A register ready for work. */
export interface CompiledRegister {
  register: CaseRegister
  forms: ReadonlyMap<string, CompiledForm>
  /**
   * The names of its rules: a bare name is the latest known of the case, `specimen.taken_on` that of the last
   * entry of one form, `parent.rash_on` that of the parent case; `count(home_visit where …)` counts entries
   * of a form.
   */
  vocabulary: Vocabulary
  rules: CompiledRule[]
  kindOf: ReadonlyMap<string, QuestionKind>
}

const problem = (code: string, register: string, message: string, values: Problem['values']): Problem => ({
  code,
  message,
  at: `registers/${register}`,
  values,
})

/**
 * Compiles a register with its forms and rules. A question that stands in two forms under one code is one
 * question of the case, so both must ask alike.
 * @param parent the register of the parent case, compiled before. Problems: `register-code-differs`,
 *   `register-form-double`, `register-no-question` (of its line, its identity, its counting date or an event
 *   date), and those of its forms and rules.
 */
export function compileRegister(
  register: CaseRegister,
  parent?: Pick<CompiledRegister, 'vocabulary'>,
): Result<CompiledRegister> {
  const forms = new Map<string, CompiledForm>()
  const problems: Problem[] = []
  for (const { form } of register.forms) {
    if (forms.has(form.code))
      problems.push(
        problem('register-form-double', register.code, `There are two forms ${form.code}.`, {
          form: form.code,
        }),
      )
    const compiled = compileForm(form)
    if (compiled.ok) forms.set(form.code, compiled.value)
    else
      problems.push(...compiled.problems.map(one => ({ ...one, values: { ...one.values, form: form.code } })))
  }
  if (problems.length) return bad(...problems)

  const names = new Map<string, Name>()
  const others = new Map<string, Vocabulary>()
  for (const [code, { vocabulary }] of forms) {
    const own: Vocabulary = {
      label: vocabulary.whole.label,
      names: vocabulary.whole.names,
      others: NOTHING,
      lists: NOTHING,
      noPeriods: true,
    }
    others.set(code, own)
    for (const name of own.names.values()) {
      const known = names.get(name.code)
      if (known && (known.type !== name.type || known.unitOfMeasure !== name.unitOfMeasure)) {
        problems.push(
          problem(
            'register-code-differs',
            register.code,
            `${name.code} is asked in two ways: it is a ${known.type} and a ${name.type}.`,
            { question: name.code },
          ),
        )
      }
      names.set(name.code, name)
    }
  }
  if (parent) others.set('parent', { ...parent.vocabulary, others: NOTHING, lists: NOTHING })
  problems.push(
    ...[
      ...questionsNamed(register).filter(code => !names.has(code)),
      // What is asked in a repeat is no answer of the case, and may be personal all the same.
      ...(register.keeping?.personal ?? []).filter(
        code => ![...forms.values()].some(({ stepOf }) => stepOf.has(code)),
      ),
    ].map(code =>
      problem('register-no-question', register.code, `No form of ${register.code} asks ${code}.`, {
        question: code,
      }),
    ),
  )
  const vocabulary: Vocabulary = {
    label: register.name,
    names,
    others,
    noPeriods: true,
    lists: new Map([...others].filter(([code]) => forms.has(code))),
  }
  const rules = compileRuleList(register.rules, vocabulary)
  if (!rules.ok) problems.push(...rules.problems)
  if (problems.length || !rules.ok) return bad(...problems)
  const kindOf = new Map([...forms.values()].flatMap(form => [...form.kindOf]))
  return good({ register, forms, vocabulary, rules: rules.value, kindOf })
}

/** All questions that the register itself names. */
function questionsNamed({ line, identity, countingDate, forms, follow = {} }: CaseRegister): string[] {
  const { identifiers, ...single } = identity
  return [
    ...new Set([
      ...line,
      ...identifiers,
      ...Object.values(single),
      countingDate,
      ...forms.map(({ eventDate }) => eventDate),
      ...[follow.nextVisit, follow.result].filter(code => code !== undefined),
      ...(follow.household ?? []),
    ]),
  ]
}
