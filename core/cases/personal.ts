import { civilDate, dayNumber, daysInMonth } from '../calendar/conversions'
import type { AnswerContent, Answers } from '../form/answer'
import { splitKey } from '../form/outline'
import { placesOf } from '../define/form-parts'
import type { CaseRegister } from './register'

/** Without the letters that are taken for digits (Crockford's base 32). */
const SIGNS = '0123456789ABCDEFGHJKMNPQRSTVWXYZ'
const LENGTH = 8

/**
 * What stands for a person whose personal answers were replaced. It is made of the case's identifier, which is
 * random: the same for ever, and it tells nothing of the person.
 * @example pseudonymOf('01a220cf-2fad-71c7-b4d9-5a1cb1958c41') // 'P-…', eight signs
 */
export function pseudonymOf(caseId: string): string {
  let rest = BigInt(`0x${caseId.replaceAll('-', '').slice(-12)}`)
  let text = ''
  for (let at = 0; at < LENGTH; at++) {
    text = SIGNS[Number(rest % 32n)]! + text
    rest /= 32n
  }
  return `P-${text}`
}

/** The last day that is so many years before another, both in days since 1970. */
export function yearsBefore(day: number, years: number): number {
  const { year, month, day: date } = civilDate(day)
  return dayNumber({ year: year - years, month, day: Math.min(date, daysInMonth(year - years, month)) })
}

/** The question that a key of an answer is of: without its instance in a repeat, and its bands. */
export const questionOfKey = (key: string): string => (splitKey(key)?.cell ?? key).split('.')[0]!

/**
 * The answers of an entry without what is personal, by the register's own list. The name and what is an
 * identifier by its kind become the pseudonym of the case; of a day the year stays; everything else is left out. Nothing that is
 * counted is touched: the days by which a case counts cannot be personal.
 */
export function withoutPersonal(register: CaseRegister, answers: Answers, caseId: string): Answers {
  const personal = new Set(register.keeping?.personal)
  const kinds = new Map(
    register.forms.flatMap(({ form }) => placesOf(form.parts).map(({ part }) => [part.code, part.kind])),
  )
  const replaced = (code: string, content: AnswerContent): AnswerContent[] => {
    if (content.kind !== 'value') return content.kind === 'notKnown' ? [] : [content]
    if (code === register.identity.name || kinds.get(code) === 'identifier')
      return [{ kind: 'value', value: pseudonymOf(caseId) }]
    const isDay = ['date', 'partialDate'].includes(kinds.get(code) ?? '')
    return isDay ? [{ kind: 'value', value: String(content.value).slice(0, 4) }] : []
  }
  return Object.fromEntries(
    Object.entries(answers).flatMap(([key, content]) => {
      const code = questionOfKey(key)
      if (!personal.has(code)) return [[key, content] as const]
      return replaced(code, content).map(now => [key, now] as const)
    }),
  )
}
