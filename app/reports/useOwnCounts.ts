import { parsePeriod } from '#core/calendar/period-text'
import { unitOn } from '#core/cases/life'
import type { CaseRegister } from '#core/cases/register'
import type { ReportFile } from '#core/contract/reports'
import { dayIn } from '#core/form/answer'
import {
  casesCounted,
  countFigures,
  countsIn,
  filledUp,
  type CaseCounting,
  type CountedUnit,
  type CountFigures,
} from '#core/reconcile/count-figures'
import { earlierPeriods } from '#core/report/period-table'
import { must } from '#core/result'
import { lookBackOf } from '#core/rule/compile-rules'
import type { DeskCase } from '../cases/useCases'
import { readyRules } from './readyRules'
import { registerToCount, type OwnCases } from './useOwnCases'

/** The registers that some counts are about, with the cases of this device that count for a unit. */
export function countedUnits(
  countings: readonly CaseCounting[],
  registers: ReadonlyMap<string, CaseRegister>,
  cases: readonly DeskCase[],
  unit: string,
  since: number,
): Map<string, CountedUnit> {
  const found = new Map<string, CountedUnit>()
  for (const code of new Set(countings.map(({ register }) => register))) {
    const definition = registers.get(code)
    const register = definition && registerToCount(definition)
    if (!register?.ok) continue
    const { countingDate } = register.value.register
    const own = cases.filter(
      one =>
        one.register === code && unitOn(one.life, dayIn(one.file.values.get(countingDate)?.content)) === unit,
    )
    found.set(code, { register: register.value, cases: own.map(({ file }) => file), since })
  }
  return found
}

/**
 * How many cases the rules of a report count, from the cases of this device: those that are not sent yet are
 * among them. Before they are ready, and for periods of which this device has deleted cases, what the district
 * said.
 */
export function useOwnCounts(file: ReportFile, own: OwnCases) {
  const counting = readyRules(file.edition).filter(rule => countsIn([rule]).length)
  const countings = countsIn(counting)
  if (!countings.length || !own)
    return { figures: computed<CountFigures | undefined>(() => file.counts), casesOf: () => [] }
  const { registers, cases, today, since } = own
  const period = must(parsePeriod(file.round.period))
  const lookBack = lookBackOf(
    counting.map(({ compiled }) => compiled),
    0,
  )
  const periods = [period, ...earlierPeriods(period, lookBack)]
  const units = computed(
    () => cases.value && countedUnits(countings, registers.value, cases.value, file.unit.code, since),
  )
  const figures = computed(() =>
    units.value ? filledUp(countFigures(countings, units.value, periods, today), file.counts) : file.counts,
  )
  /** The cases of this device that a count of this period is made of. @param text the count as it is printed */
  function casesOf(text: string): DeskCase[] {
    const one = countings.find(counted => counted.text === text)
    const unit = one && units.value?.get(one.register)
    const ids = new Set(unit ? (casesCounted(one, unit, period, today) ?? []) : [])
    return (cases.value ?? []).filter(({ id }) => ids.has(id))
  }
  return { figures, casesOf }
}
