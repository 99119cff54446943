import type { CaseRegister } from '#core/cases/register'
import { MEASLES_CASES, MEASLES_CONTACTS } from './measles'
import { MEASLES_CASES_FIRST } from './measles-first'
import { NEWBORNS } from './newborn'
import { WATER_VISITS } from './water-visit'

const FIRST_DAY = '2024-04-15'
/** From this day on devices fill the second edition of the measles register, once they have heard of it. */
export const SECOND_EDITION_DAY = '2026-02-02'

export interface RegisterEdition {
  number: number
  definition: CaseRegister
  publishedOn: string
}

/** The editions of the case registers, older ones first. */
export const REGISTER_EDITIONS: readonly RegisterEdition[] = [
  { number: 1, definition: MEASLES_CASES_FIRST, publishedOn: FIRST_DAY },
  { number: 2, definition: MEASLES_CASES, publishedOn: SECOND_EDITION_DAY },
  ...[MEASLES_CONTACTS, NEWBORNS, WATER_VISITS].map(definition => ({
    number: 1,
    definition,
    publishedOn: FIRST_DAY,
  })),
]
