import { civilDate } from '../calendar/conversions'
import { parsePartialDate, type PartialDate } from '../calendar/partial-date'
import type { KnownCase } from '../cases/fold'
import type { CaseRegister } from '../cases/register'
import { fold } from '../form/code'
import { dayOf } from '../form/answer'

/** What is known of who a case is about, made ready for comparing. */
export interface Subject {
  id: string
  /**
   * Parts of the name without case and accents, in the order of the alphabet: families write them in either
   * order.
   */
  name: readonly string[]
  born: PartialDate | null
  /** The year of birth, from the date or from the age on the counting day; null when neither is known. */
  birthYear: number | null
  /** By how many years that may be wrong: a told age is rounded and guessed, the more so the older one is. */
  birthYearWithin: number
  sex: string | null
  place: string | null
  /** Letters and digits only, without fillers such as “none”. */
  identifiers: readonly string[]
}

/** The parts of a name: letters and their signs only, folded. */
export const nameParts = (text: string): string[] =>
  fold(text)
    .replace(/['’`\p{Cf}]/gu, '')
    .split(/[^\p{L}\p{M}]+/u)
    .filter(part => part !== '')
    .sort()

/**
 * A date of birth is wrong by a year at the most (a slip), a told age by two years or a tenth, at most five
 * (common practice).
 */
const DATE_WITHIN = 1
const ageWithin = (age: number): number => Math.min(5, Math.max(2, Math.ceil(age / 10)))

/** What people write where there is no number, without signs and accents. */
const FILLERS: ReadonlySet<string> = new Set([
  'none',
  'no',
  'nil',
  'null',
  'na',
  'nan',
  'unknown',
  'notknown',
  'notavailable',
  'notapplicable',
  'missing',
  'pending',
  'test',
  'inconnu',
  'inconnue',
  'aucun',
  'aucune',
  'neant',
  'sans',
  'nonconnu',
  'nondisponible',
  'hayana',
  'hakuna',
  'desconhecido',
  'nenhum',
  '123',
  '1234',
  '12345',
  '123456',
  '1234567',
  '12345678',
  '123456789',
  '1234567890',
])

/**
 * An identifier as it is compared: letters and digits only; nothing for one that says “none”, or one sign
 * over and over.
 */
export function identifierOf(text: string): string | null {
  const tidy = fold(text).replace(/[^\p{L}\p{N}]/gu, '')
  return tidy === '' || FILLERS.has(tidy) || /^(.)\1*$/u.test(tidy) ? null : tidy
}

/** The year of birth by an age on a day: a whole age is taken from the year, part of a year from the day. */
const yearByAge = (day: number, age: number): number =>
  Number.isInteger(age) ? civilDate(day).year - age : civilDate(Math.round(day - age * 365.2425)).year

/** Who a case is about, by what its register says identifies a subject. */
export function subjectOf(
  { identity, countingDate }: Pick<CaseRegister, 'identity' | 'countingDate'>,
  file: Pick<KnownCase, 'case' | 'values'>,
): Subject {
  const value = (code: string | undefined) => {
    const content = code === undefined ? undefined : file.values.get(code)?.content
    return content?.kind === 'value' ? content.value : null
  }
  const text = (code: string | undefined) => {
    const found = value(code)
    return typeof found === 'string' ? found : null
  }
  const typed = text(identity.birthDate)
  const born = typed === null ? null : parsePartialDate(typed)
  const age = value(identity.ageYears)
  const counted = dayOf(text(countingDate) ?? '')
  const byAge = typeof age === 'number' && age >= 0 && counted !== null ? yearByAge(counted, age) : null
  return {
    id: file.case,
    name: nameParts(text(identity.name) ?? ''),
    born: born?.ok ? born.value : null,
    birthYear: born?.ok ? born.value.year : byAge,
    birthYearWithin: born?.ok || typeof age !== 'number' ? DATE_WITHIN : ageWithin(age),
    sex: text(identity.sex),
    place: text(identity.place),
    identifiers: identity.identifiers.flatMap(code => identifierOf(text(code) ?? '') ?? []),
  }
}
