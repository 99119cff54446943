import { firstDay } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import { unitOn } from '#core/cases/life'
import type { CaseRegister } from '#core/cases/register'
import type { ReportFile } from '#core/contract/reports'
import { dayIn } from '#core/form/answer'
import { countDoubt } from '#core/reconcile/count-doubt'
import { compileBinding, reconcile, reportedBy } from '#core/reconcile/reconcile'
import type { CellContent } from '#core/report/cell'
import { cellsOf, type CaseCount } from '#core/report/edition'
import type { Doubt } from '#core/rule/find-doubts'
import { must } from '#core/result'
import type { DeskCase } from '../cases/useCases'
import { registerToCount, type OwnCases } from './useOwnCases'

/** What the register of this device says beside cells of a report. */
export interface RegisterCount {
  count: CaseCount
  /** How many cases count. */
  registered: number
  cases: DeskCase[]
}

/**
 * Counts the cases of this device for a report, as the district will. Cases that count where they live are left
 * out: those that another facility registered are not here.
 */
export function registerCounts(
  { edition, round, unit }: Pick<ReportFile, 'edition' | 'round' | 'unit'>,
  registers: ReadonlyMap<string, CaseRegister>,
  cases: readonly DeskCase[],
): RegisterCount[] {
  const held = { unit: unit.code, period: must(parsePeriod(round.period)), contents: {}, sentAt: null }
  return (edition.caseCounts ?? []).flatMap(count => {
    const definition = registers.get(count.register)
    if (!definition || count.place !== 'care') return []
    const register = registerToCount(definition)
    const binding = register.ok ? compileBinding(count, register.value) : register
    // A newer edition of the register no longer asks what the condition names: nothing can be counted.
    if (!register.ok || !binding.ok) return []
    const own = cases
      .filter(one => one.register === count.register)
      .map(({ file, life }) => ({
        file,
        unit: unitOn(life, dayIn(file.values.get(count.date)?.content)),
        receivedAt: 0,
      }))
    const { counted } = reconcile(binding.value, register.value, held, own, () => false)
    const ids = new Set(counted.map(one => one.case))
    return [{ count, registered: counted.length, cases: cases.filter(({ id }) => ids.has(id)) }]
  })
}

/**
 * Where the register says something else than the report that is being filled, and the doubts that this raises; nothing before the cases of
 * this device are ready. The cases are counted when they change, and not at each key.
 */
export function useRegisterCounts(file: ReportFile, contentOf: (cell: string) => CellContent, own: OwnCases) {
  if (!file.edition.caseCounts?.length || !own)
    return { differing: computed<RegisterCount[]>(() => []), doubts: computed<Doubt[]>(() => []) }
  const { registers, cases, since } = own
  // What this device has deleted since would be missing.
  const isKept = firstDay(must(parsePeriod(file.round.period))) >= since
  const counts = computed(() =>
    isKept && cases.value ? registerCounts(file, registers.value, cases.value) : [],
  )
  const differing = computed(() =>
    counts.value.filter(({ count, registered }) => registered !== reportedBy(count.cells.map(contentOf))),
  )
  const cellByKey = new Map(cellsOf(file.edition).map(cell => [cell.key, cell]))
  /** Those differences that the dataset wants explained, as the district will find them. */
  const doubts = computed(() =>
    differing.value.flatMap(({ count, registered }) =>
      count.raises
        ? (countDoubt(count, count.raises, contentOf, registered, cell => cellByKey.get(cell)) ?? [])
        : [],
    ),
  )
  return { differing, doubts }
}
