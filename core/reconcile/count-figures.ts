import { contains, firstDay, type Period } from '../calendar/period'
import { parsePeriod, printPeriod } from '../calendar/period-text'
import { caseTable } from '../cases/case-table'
import type { CompiledRegister } from '../cases/compile-register'
import type { KnownCase } from '../cases/fold'
import { evaluateAll, type Runnable } from '../expression/prepare'
import { print } from '../expression/print'
import { walk } from '../expression/syntax'
import { dayIn } from '../form/answer'
import type { Edition } from '../report/edition'
import type { CountedAt } from '../report/period-table'
import { must } from '../result'
import { runnableRules, type CompiledRule } from '../rule/compile-rules'

/** A count of cases that rules of a dataset make. */
export interface CaseCounting {
  /** The count as it is printed, by which its figures are found: `count(measles_cases where age_years < 5)`. */
  text: string
  register: string
  /** Which cases count; all of the register without it. */
  where?: Runnable
  /** The questions that the condition reads. */
  questions: readonly string[]
}

/** How many cases of one unit count, as the rules of its report ask, for the report's period and those before. */
export interface CountFigures {
  /** The report's own period first. */
  periods: string[]
  /** By the text of the count, in the order of the periods; null where it cannot be said. */
  numbers: Record<string, (number | null)[]>
}

/** A register with those of its cases that one unit registered. */
export interface CountedUnit {
  register: Pick<CompiledRegister, 'register' | 'kindOf' | 'forms'>
  cases: readonly KnownCase[]
  /** The first day of which all cases are here; a device deletes older ones. Left out where none is deleted. */
  since?: number
}

/**
 * The counts of cases that some rules make, each once.
 * @example countsIn(must(compileRules(edition)))[0]!.text // 'count(measles_cases where age_years < 5)'
 */
export function countsIn(rules: readonly Pick<CompiledRule, 'compiled'>[]): CaseCounting[] {
  const found = new Map<string, CaseCounting>()
  for (const { compiled } of rules) {
    const { tree, bindings, types } = compiled
    walk(tree, node => {
      if (node.type !== 'count') return
      const text = print(node)
      const questions = new Set<string>()
      if (node.where)
        walk(node.where, inner => bindings.names.get(inner)?.cells.forEach(one => questions.add(one)))
      found.set(text, {
        text,
        register: node.list.code,
        ...(node.where && { where: { tree: node.where, bindings, types } }),
        questions: [...questions],
      })
    })
  }
  return [...found.values()]
}

/** The registers whose cases say whether a report of an edition is in doubt: what rules count, and what raises. */
export function registersCounted(edition: Edition): string[] {
  const raising = (edition.caseCounts ?? []).filter(({ raises }) => raises !== undefined)
  return [...new Set([...countsIn(runnableRules(edition)), ...raising].map(({ register }) => register))]
}

/** Which cases count: those whose condition holds, each with the day number by which it counts; null without one. */
function matching(
  { where, questions }: CaseCounting,
  { register, cases }: CountedUnit,
  today: number,
): { file: KnownCase; day: number | null }[] | null {
  // A newer edition of the register no longer asks what the condition names: nothing can be counted.
  if (questions.some(code => !register.kindOf.has(code))) return null
  const truths = where && evaluateAll(where, caseTable(register, cases), { today })
  return cases
    .filter((_, row) => !truths || truths[row] === 1)
    .map(file => ({ file, day: dayIn(file.values.get(register.register.countingDate)?.content) }))
}

const within = (found: readonly { file: KnownCase; day: number | null }[], period: Period) =>
  found.filter(({ day }) => day !== null && contains(period, day))

/** Are all cases of a period here? */
const isWhole = ({ since }: CountedUnit, period: Period) => since === undefined || firstDay(period) >= since

/**
 * The cases of a unit that one count of a rule counts in a period.
 * @returns their identifiers; null when it cannot be said
 */
export function casesCounted(
  counting: CaseCounting,
  unit: CountedUnit,
  period: Period,
  today: number,
): string[] | null {
  const found = isWhole(unit, period) ? matching(counting, unit, today) : null
  return found && within(found, period).map(({ file }) => file.case)
}

/**
 * Counts the cases of one unit for the rules of its report: a case counts in the period of its counting date. A
 * case whose condition is not known does not count. The device and the district both use it, so that they agree
 * once both have the same entries.
 * @param registers the cases of the unit by the code of their register; of one that is missing nothing is said
 * @param periods the report's own first
 * @param today the day number that `today()` gives
 */
export function countFigures(
  countings: readonly CaseCounting[],
  registers: ReadonlyMap<string, CountedUnit>,
  periods: readonly Period[],
  today: number,
): CountFigures {
  const numbersOf = (counting: CaseCounting): (number | null)[] => {
    const unit = registers.get(counting.register)
    const found = unit && matching(counting, unit, today)
    if (!unit || !found) return periods.map(() => null)
    return periods.map(period => (isWhole(unit, period) ? within(found, period).length : null))
  }
  return {
    periods: periods.map(printPeriod),
    numbers: Object.fromEntries(countings.map(counting => [counting.text, numbersOf(counting)])),
  }
}

/** Figures of a device, filled up with those of the district where the device cannot say. */
export const filledUp = (own: CountFigures, district: CountFigures | undefined): CountFigures => ({
  periods: own.periods,
  numbers: Object.fromEntries(
    Object.entries(own.numbers).map(([text, numbers]) => [
      text,
      numbers.map(
        (number, at) =>
          number ?? district?.numbers[text]?.[district.periods.indexOf(own.periods[at]!)] ?? null,
      ),
    ]),
  ),
})

/** Such figures as rules ask for them. */
export function countsAt(figures: CountFigures | undefined): CountedAt {
  const places = new Map((figures?.periods ?? []).map((text, at) => [must(parsePeriod(text)).index, at]))
  return (period, text) => {
    const number = figures?.numbers[text]?.[places.get(period.index) ?? -1]
    return Float64Array.of(number ?? NaN)
  }
}
