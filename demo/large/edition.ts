import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import { MONTHLY_SUMMARY } from '../monthly/edition'
import { NEWBORNS } from '../registers/newborn'
import { words } from '../words'

/** The monthly summary of the province: its girls that were born alive are held against the register. */
export const PROVINCE_SUMMARY: Edition = {
  ...MONTHLY_SUMMARY,
  counts: [...(MONTHLY_SUMMARY.counts ?? []), countedRegister(must(compileRegister(NEWBORNS)))],
  caseCounts: [
    {
      code: 'girls_born',
      name: words(['Girls born alive', 'Filles nées vivantes']),
      register: NEWBORNS.code,
      cells: ['live_births.f'],
      where: 'baby_sex = "f"',
      place: 'care',
      date: 'baby_born_on',
    },
  ],
}
