import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import type { CaseCount } from '#core/report/edition'
import { must } from '#core/result'
import { MEASLES_CASES } from '../registers/measles'
import { words, type Pair } from '../words'

const count = (band: string, where: string, name: Pair): CaseCount => ({
  code: `measles_${band}`,
  name: words(name),
  register: MEASLES_CASES.code,
  cells: [`measles.${band}`],
  where,
  place: 'care',
  date: 'rash_on',
})

/** The suspected measles of a week, held against the register of the facility, by the day of the rash. */
export const WEEKLY_CASE_COUNTS: CaseCount[] = [
  count('u5', 'age_years < 5', ['Suspected measles, under 5 years', 'Rougeole suspectée, moins de 5 ans']),
  count('a5plus', 'age_years >= 5', [
    'Suspected measles, 5 years and over',
    'Rougeole suspectée, 5 ans et plus',
  ]),
]

/** The register as the edition names it. */
export const COUNTED_MEASLES = countedRegister(must(compileRegister(MEASLES_CASES)))
