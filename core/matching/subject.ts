import { civilDate } from '../calendar/conversions'
import { parsePartialDate, type PartialDate } from '../calendar/partial-date'
import type { CaseFile } from '../cases/fold'
import type { CaseRegister } from '../cases/register'
import { fold } from '../form/code'
import { dayOf } from '../form/answer'

/** What is known of who a case is about, made ready for comparing. */
export interface Subject {
  id: string
  /** Parts of the name without case and accents, in the order of the alphabet: families write them in either order. */
  name: readonly string[]
  born: PartialDate | null
  /** The year of birth, from the date or from the age on the counting day; null when neither is known. */
  birthYear: number | null
  sex: string | null
  place: string | null
  /** Letters and digits only. */
  identifiers: readonly string[]
}

/** The parts of a name: letters only, folded, the single ones left out. */
export const nameParts = (text: string): string[] =>
  fold(text).replace(/['’`]/g, '').split(/[^\p{L}]+/u).filter(part => part.length > 1).sort()

/** Who a case is about, by what its register says identifies a subject. */
export function subjectOf({ identity, countingDate }: Pick<CaseRegister, 'identity' | 'countingDate'>, file: CaseFile): Subject {
  const value = (code: string | undefined) => {
    const content = code === undefined ? undefined : file.values.get(code)?.content
    return content?.kind === 'value' ? content.value : null
  }
  const text = (code: string | undefined) => {
    const found = value(code)
    return typeof found === 'string' ? found : null
  }
  const told = text(identity.birthDate)
  const born = told === null ? null : parsePartialDate(told)
  const age = value(identity.ageYears)
  const counted = dayOf(text(countingDate) ?? '')
  const byAge = typeof age === 'number' && counted !== null ? civilDate(counted).year - age : null
  return {
    id: file.case,
    name: nameParts(text(identity.name) ?? ''),
    born: born?.ok ? born.value : null,
    birthYear: born?.ok ? born.value.year : byAge,
    sex: text(identity.sex),
    place: text(identity.place),
    identifiers: identity.identifiers.flatMap(code => fold(text(code) ?? '').replace(/[^a-z0-9]/g, '') || []),
  }
}
