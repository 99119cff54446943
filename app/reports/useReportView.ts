import { parsePeriod } from '#core/calendar/period-text'
import type { ReportFile } from '#core/contract/reports'
import { countsAt, countsIn, type CountFigures } from '#core/reconcile/count-figures'
import { expectedRangeBefore, type ExpectedRange } from '#core/quality/expected-range'
import { itemCompleteness } from '#core/quality/item-completeness'
import { lastPeriodCopied, type Copied } from '#core/quality/last-period-copied'
import { isTypedNumber } from '#core/report/asked'
import { BLANK, numberOf, type CellContent, type CellValue } from '#core/report/cell'
import { cellsOf, nameCell, type Cell } from '#core/report/edition'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { readyIndicators, type ReadyIndicator } from '#core/rollup/indicator'
import { tablesOfOthers } from '#core/rollup/other-datasets'
import type { Doubt } from '#core/rule/find-doubts'
import { NEEDED, rulesOf } from '#core/rule/item-rules'
import { liveDoubts } from '#core/rule/live-doubts'
import { clockNow } from '../common/useClock'
import { readyRules } from './readyRules'
import { namesOfEdition } from './useDoubtWords'
import { useFollowing } from './useFollowing'

export type ReportView = ReturnType<typeof useReportView>

/**
 * A report as it is read: the values of its cells, what was reported before, and the doubts that the values
 * raise. The checks are those of core, the same as on the server. Filling a report is `useReportEntry`, which
 * begins from this.
 *
 * @param counts how many cases its rules count
 */
export function useReportView(
  file: ReportFile,
  counts: Readonly<Ref<CountFigures | undefined>> = ref(file.counts),
) {
  const { locale, today, say } = useWords()
  const cells = cellsOf(file.edition)
  const cellByKey = new Map<string, Cell>(cells.map(cell => [cell.key, cell]))
  const period = must(parsePeriod(file.round.period))
  const earlier = tablesOfHistory(file.history)
  const others = tablesOfOthers(file.others)
  const tableAt = (report: CellMap) => reportTable(report, period, earlier, others, countsAt(counts.value))

  const contents = reactive<Record<string, CellContent>>(
    Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content])),
  )
  /** The cell that the person is in. */
  const active = ref<string | null>(null)
  /** The round is closed to this facility: values stay visible, and nothing can be added. */
  const isClosed = computed(() => clockNow() >= Date.parse(file.round.closesAt))

  const rules = new Map(rulesOf(file.edition).map(rule => [rule.code, rule]))
  /** What the rule of a doubt says to the person at the facility. */
  const ruleSays = (code: string): string => say(rules.get(code)?.forClerk ?? {})

  const following = useFollowing(file.edition, cells, contents, today, lookAt)
  const { isShown } = following

  /** What its doubts name: items and bands. */
  const doubtNames = namesOfEdition(file.edition)

  const ready = readyRules(file.edition)
  const live = liveDoubts(ready, cells, contents, tableAt, today())
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
  /**
   * Sets the value of a cell and checks it.
   * @param step what the answer does to the others, where it was tried just before
   */
  function setCell(key: string, content: CellContent, step = following.tried(key, content)): void {
    if (contentOf(key).kind !== content.kind) kindsChanged.value++
    contents[key] = content
    lookAt([key, ...following.took(key, content, step)])
  }
  /** Judges anew what reads these cells. */
  function lookAt(changed: readonly string[]): void {
    const touched = live.look(changed, contents)
    if (!touched.size) return
    doubts.value = live.all()
    updateDoubts(touched)
  }
  // Cases that come, or go, say something else of what was typed already.
  watch(counts, () =>
    lookAt(ready.filter(rule => countsIn([rule]).length).flatMap(({ compiled }) => compiled.cells)),
  )
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
  /** How much of it is the report of the period before, number by number. */
  function likeLastPeriod(): Copied {
    const keys = cells.filter(({ item }) => isTypedNumber(item.kind)).map(({ key }) => key)
    return lastPeriodCopied(
      keys.map(key => numberOf(contentOf(key)) ?? NaN),
      keys.map(key => file.history.numbers[key]?.[0] ?? NaN),
    )
  }
  const asked = cells.filter(({ item }) => item.kind !== 'computed')
  /** The cells that apply: other ones only when something comes or goes. */
  const applying = computed(() => asked.filter(({ item }) => isShown(item.code)).map(({ key }) => key))
  /** Counted anew when a cell is answered or not any more, and not at every digit in one of 500 cells. */
  const kindsChanged = ref(0)
  const filled = computed(() => {
    void kindsChanged.value
    return itemCompleteness(applying.value, toRaw(contents))
  })
  let comesTo: ReadyIndicator[] | undefined
  /** The indicators of its edition. Compiled once, when something first shows them. */
  const indicators = () => (comesTo ??= readyIndicators(file.edition))
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
    ruleSays,
    doubtNames,
    indicators,
    /** The report as the table that expressions run on, with what was reported before. */
    tableNow: () => tableAt(contents),
    today,
    tried: following.tried,
    rangeOf,
    likeLastPeriod,
    filled,
    enter,
    nameOf,
  }
}
