import type { LocationQuery } from 'vue-router'
import type { FillingOptions } from '#core/form/filling'
import type { Units } from '../units/useUnits'

/**
 * What is filled: a new case, a visit or result, a case that belongs to another, or a correction of an entry.
 */
export interface Asked {
  register: string
  form: string | null
  case: string | null
  corrects: string | null
  parent: string | null
  /** The facility of a new case, where the page came from there. */
  unit: string | null
}

/** What the address of a page asks for. */
export function askedIn(query: LocationQuery): Asked {
  const text = (key: string) => (query[key] ? String(query[key]) : null)
  return {
    register: text('register') ?? '',
    form: text('form'),
    case: text('case'),
    corrects: text('corrects'),
    parent: text('parent'),
    unit: text('unit'),
  }
}

/** By which its draft is found. */
export const askedKey = ({ register, form, case: of, corrects, parent }: Asked): string =>
  [register, form, of, corrects, parent].map(part => part ?? '').join('|')

/** How a form of a case is filled here: on which day, and which place lies within which. */
export const fillingOptions = (units: Pick<Units, 'above'>, today: number): FillingOptions => ({
  today,
  unitWithin: (unit, branch) => unit === branch || units.above(unit).some(({ code }) => code === branch),
})
