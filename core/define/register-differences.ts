import type { CaseRegister } from '../cases/register'
import type { FormPart } from '../form/question'
import type { Words } from '../report/edition'
import { listDifferences, movedAmong } from './differences'
import { insideOf, placesOf } from './form-parts'
import { same } from '../same'

/** One difference between two editions of a case register. */
export interface RegisterDifference {
  what: 'form' | 'question' | 'rule' | 'register'
  change: 'added' | 'removed' | 'changed' | 'moved'
  code: string
  name: Words
  /** Which parts of it changed, by their names in the definition: `shownWhen`, `choices`, `line`, … */
  parts?: string[]
}

/** A part without its inner parts: their differences are listed separately. */
function bare(part: FormPart): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(part).filter(
      ([key, value]) => key !== 'code' && key !== 'label' && value !== insideOf(part),
    ),
  )
}

const questions = (register: CaseRegister) =>
  register.forms.flatMap(({ form }) =>
    placesOf(form.parts).map(({ part, around }) => ({
      code: `${form.code}/${part.code}`,
      name: part.label,
      section: `${form.code}/${around?.code ?? ''}`,
      ...bare(part),
    })),
  )

/** What a newer edition of a register says otherwise than an older one. */
export function registerDifferences(before: CaseRegister, after: CaseRegister): RegisterDifference[] {
  const forms = (register: CaseRegister) =>
    register.forms.map(({ form, role, many, eventDate }) => ({
      code: form.code,
      name: form.name,
      role,
      many,
      eventDate,
    }))
  const [old, now] = [questions(before), questions(after)]
  const parts = [...new Set([...old, ...now].flatMap(one => Object.keys(one)))].filter(
    key => key !== 'code' && key !== 'section',
  )
  const own = (['name', 'subject', 'parent', 'line', 'identity', 'countingDate', 'keeping'] as const).filter(
    part => !same(before[part], after[part]),
  )
  return [
    ...(own.length
      ? [
          {
            what: 'register' as const,
            change: 'changed' as const,
            code: after.code,
            name: after.name,
            parts: own,
          },
        ]
      : []),
    ...listDifferences('form', forms(before), forms(after), ['name', 'role', 'many', 'eventDate']),
    ...listDifferences('question', old, now, parts as 'name'[]),
    ...movedAmong(old, now).map(({ code, name }): RegisterDifference => ({
      what: 'question',
      change: 'moved',
      code,
      name,
    })),
    ...listDifferences('rule', before.rules, after.rules, [
      'name',
      'expression',
      'strength',
      'blanks',
      'forClerk',
      'forOfficer',
    ]),
  ]
}
