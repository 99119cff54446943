import { parsePeriod } from '#core/calendar/period-text'
import type { ReportFile } from '#core/contract/reports'
import { expectedRangeBefore, type ExpectedRange } from '#core/quality/expected-range'
import { itemCompleteness } from '#core/quality/item-completeness'
import { BLANK, type CellContent, type CellValue } from '#core/report/cell'
import { cellsOf, nameCell, type Cell, type Edition } from '#core/report/edition'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { tablesOfOthers } from '#core/rollup/other-datasets'
import { runnableRules, type CompiledRule } from '#core/rule/compile-rules'
import type { Doubt } from '#core/rule/find-doubts'
import { NEEDED } from '#core/rule/item-rules'
import { liveDoubts } from '#core/rule/live-doubts'
import { clockNow } from '../common/useClock'
import { useFollowing } from './useFollowing'

export type ReportView = ReturnType<typeof useReportView>

/** So many editions stay ready. */
const MOST_READY = 4
const ready = new Map<string, CompiledRule[]>()

/**
 * The rules of an edition, ready to judge. Those of the reports that were opened last stay ready: making
 * hundreds of them holds a slow phone up. By what they say, not by the edition's number: a draft keeps its own.
 */
function rulesOf(edition: Edition): CompiledRule[] {
  const key = JSON.stringify(edition)
  const rules = ready.get(key) ?? runnableRules(edition)
  // The newest last; the oldest goes.
  ready.delete(key)
  ready.set(key, rules)
  if (ready.size > MOST_READY) ready.delete(ready.keys().next().value!)
  return rules
}

/**
 * A report as it is read: the values of its cells, what was reported before, and the doubts that the values
 * raise. The checks are those of core, the same as on the server. Filling a report is `useReportEntry`, which
 * begins from this.
 */
export function useReportView(file: ReportFile) {
  const { locale, today } = useWords()
  const cells = cellsOf(file.edition)
  const cellByKey = new Map<string, Cell>(cells.map(cell => [cell.key, cell]))
  const period = must(parsePeriod(file.round.period))
  const earlier = tablesOfHistory(file.history)
  const others = tablesOfOthers(file.others)
  const tableAt = (report: CellMap) => reportTable(report, period, earlier, others)

  const contents = reactive<Record<string, CellContent>>(
    Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content])),
  )
  /** The cell that the person is in. */
  const active = ref<string | null>(null)
  /** The round is closed to this facility: values stay visible, and nothing can be added. */
  const isClosed = computed(() => clockNow() >= Date.parse(file.round.closesAt))

  const following = useFollowing(file.edition, cells, contents, today)
  const { isShown } = following

  const live = liveDoubts(rulesOf(file.edition), cells, contents, tableAt, today())
  const doubts = shallowRef(live.all())
  /** By cell, so that typing re-renders only the lines whose doubts changed. */
  const doubtsOf = shallowReactive(new Map<string, Doubt[]>())
  const updateDoubts = (about: Iterable<string>) => {
    for (const cell of about)
      doubtsOf.set(
        cell,
        doubts.value.filter(doubt => doubt.cells.includes(cell)),
      )
  }
  updateDoubts(new Set(doubts.value.flatMap(doubt => doubt.cells)))

  const isNeed = ({ code }: Doubt) => code.startsWith(NEEDED)
  /**
   * What is doubtful at a cell. That it is needed is said as a mark, not as a mistake of somebody who types
   * on.
   */
  const doubtsAt = (key: string): Doubt[] => (doubtsOf.get(key) ?? []).filter(doubt => !isNeed(doubt))
  /** Is a cell needed, as far as the other answers say, and without an answer? */
  const isNeeded = (key: string): boolean => (doubtsOf.get(key) ?? []).some(isNeed)
  /** Sets the value of a cell and checks it. */
  function setCell(key: string, content: CellContent): void {
    contents[key] = content
    const touched = live.look([key, ...following.took(key, content)], contents)
    if (!touched.size) return
    doubts.value = live.all()
    updateDoubts(touched)
  }
  const contentOf = (key: string): CellContent => contents[key] ?? BLANK
  /** What was reported the last time. */
  const lastValue = (key: string): CellValue | null =>
    file.history.values?.[key]?.[0] ?? file.history.numbers[key]?.[0] ?? null
  const past = tableAt({})
  const ranges = new Map<string, ExpectedRange | null>()
  /** The usual range of a cell. The history does not change while typing, so it is computed once. */
  function rangeOf(key: string): ExpectedRange | null {
    let range = ranges.get(key)
    if (range === undefined) ranges.set(key, (range = expectedRangeBefore(cellByKey.get(key)!, past, 0)))
    return range
  }
  const asked = cells.filter(({ item }) => item.kind !== 'computed')
  const filled = computed(() =>
    itemCompleteness(
      asked.filter(({ item }) => isShown(item.code)).map(({ key }) => key),
      contents,
    ),
  )
  /** Notes which cell has the focus. */
  function enter(key: string) {
    active.value = key
  }
  const nameOf = (key: string) => nameCell(cellByKey.get(key)!, locale.value)

  return {
    file,
    cells,
    cellByKey,
    contents,
    active,
    isClosed,
    doubts,
    doubtsAt,
    setCell,
    contentOf,
    lastValue,
    isShown,
    isNeeded,
    tried: following.tried,
    rangeOf,
    filled,
    enter,
    nameOf,
  }
}
