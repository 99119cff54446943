import { parsePeriod } from '#core/calendar/period-text'
import type { CellContent } from '#core/report/cell'
import { BLANK, readCell, sameContent } from '#core/report/cell'
import { cellsOf, nameCell, type Cell } from '#core/report/edition'
import { completeHistory, reportTable, tablesOfHistory } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { itemCompleteness } from '#core/quality/item-completeness'
import { expectedRangeBefore, type ExpectedRange } from '#core/quality/expected-range'
import { runnableRules } from '#core/rule/compile-rules'
import type { Doubt } from '#core/rule/find-doubts'
import { liveDoubts } from '#core/rule/live-doubts'
import { must, type Problem } from '#core/result'
import type { ChangeOutcome, ReportFile } from '#core/contract/reports'
import { clockNow } from './useClock'
import { toldBy } from './useDesk'
import { isFull } from './useStorageShare'
import { useDeskStore } from './useDeskStore'
import { isClosedCode, reportKey, reportPlace } from './useDeskWork'
import { useOutbox, type Outbox, type OutboxOptions } from './useOutbox'

export interface Conflict {
  mine: CellContent
  /** The changes of this device that are in conflict: by them the district knows what a person decides. */
  ids: string[]
  theirs: NonNullable<ChangeOutcome['theirs']>
}

export type ReportEntry = ReturnType<typeof useReportEntry>

/**
 * One report being filled: what stands in its cells, what is doubtful about it while typing, and where what was
 * typed has got to. The checks are core's own, the same as on the server.
 * @param outboxOf where changes go: for trying a form nobody keeps them.
 */
export function useReportEntry(file: ReportFile, outboxOf: (options: OutboxOptions) => Outbox = useOutbox) {
  const { locale, today } = useWords()
  const cells = cellsOf(file.edition)
  const cellByKey = new Map<string, Cell>(cells.map(cell => [cell.key, cell]))
  const rules = runnableRules(file.edition)
  const period = must(parsePeriod(file.round.period))
  const earlier = tablesOfHistory(file.history)
  const tableAt = (report: CellMap) => reportTable(report, period, earlier)

  const state = ref(file.state)
  const contents = reactive<Record<string, CellContent>>(Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content])))
  const versions: Record<string, number> = Object.fromEntries(file.cells.map(({ cell, version }) => [cell, version]))
  const problems = reactive<Record<string, Problem>>({})
  const conflicts = reactive<Record<string, Conflict>>({})
  const active = ref<string | null>(null)
  /** Why a report that the district already has is changed; empty while it may not be. */
  const why = ref('')
  /** The report was sent, and that waits on this device. */
  const sendWaits = ref(false)
  /** The round closed, and nobody let this facility in: what was typed stays, and nothing is added. */
  const isClosed = computed(() => clockNow() >= Date.parse(file.round.closesAt))
  const editable = computed(() => !isClosed.value && !sendWaits.value && (!['sent', 'accepted'].includes(state.value) || why.value.trim().length > 1))

  /** Cells into which somebody typed on this page: nothing from before is laid over them. */
  const typed = new Set<string>()
  /** Cells whose last content the district did not take: the same content can be put there again. */
  const refused = shallowReactive(new Set<string>())
  const hasRefused = computed(() => refused.size > 0 || sendWaits.value)
  let takenUp = false
  const outbox = outboxOf({
    round: file.round.id, unit: file.unit.code,
    onOutcome({ id, cell, change, theirs }, outcome) {
      if (!cell || change.kind !== 'cell') return
      versions[cell] = outcome.version ?? versions[cell] ?? 0
      // Sent before this page knew of it: from now on it waits no more, and would be passed over.
      if (!takenUp && !typed.has(cell) && (outcome.outcome === 'received' || outcome.outcome === 'alreadyHad')) lay(cell, change.content)
      if (outcome.outcome === 'received' || outcome.outcome === 'alreadyHad') clearRefused(cell)
      takeUp(id, cell, change.content, outcome.outcome, outcome.theirs ?? theirs, outcome.code, outcome.message)
      if (outcome.outcome === 'received' && state.value === 'awaited') state.value = 'draft'
      if (outcome.outcome === 'received' && state.value === 'accepted') state.value = 'sent'
    },
  })
  /** What was not taken before is taken now, because this facility was let in. */
  function clearRefused(cell: string): void {
    if (refused.delete(cell)) delete problems[cell]
  }
  /** A change that needs a person shows at its cell until it is settled, also after the page was closed. */
  function takeUp(id: string, cell: string, mine: CellContent, outcome: string, theirs: Conflict['theirs'] | undefined, code?: string, message?: string): void {
    if (outcome === 'conflict' && theirs) conflicts[cell] = { mine, theirs, ids: [...(conflicts[cell]?.ids ?? []), id] }
    else if (outcome === 'refused' || outcome === 'conflict') {
      // What was typed stays in view with the reason: the district does not have it.
      if (!typed.has(cell)) lay(cell, mine)
      refused.add(cell)
      problems[cell] = { code: code ?? 'server', message: message ?? '' }
    }
  }

  const live = liveDoubts(rules, cells, contents, tableAt, today())
  const doubts = shallowRef(live.all())
  /** By cell, so that a key wakes only the lines about which something changed. */
  const doubtsOf = shallowReactive(new Map<string, Doubt[]>())
  const tell = (about: Iterable<string>) => { for (const cell of about) doubtsOf.set(cell, doubts.value.filter(doubt => doubt.cells.includes(cell))) }
  tell(new Set(doubts.value.flatMap(doubt => doubt.cells)))
  const doubtsAt = (key: string): Doubt[] => (problems[key] ? [] : doubtsOf.get(key) ?? [])
  /** Lays a content into a cell, with what is doubtful about it. */
  function lay(key: string, content: CellContent): void {
    contents[key] = content
    const touched = live.look([key], contents)
    if (!touched.size) return
    doubts.value = live.all()
    tell(touched)
  }
  const contentOf = (key: string): CellContent => contents[key] ?? BLANK
  const lastNumber = (key: string) => file.history.numbers[key]?.[0] ?? null
  const past = tableAt({})
  const ranges = new Map<string, ExpectedRange | null>()
  /** Where the value of a cell is usually; the past does not change while one types. */
  function rangeOf(key: string): ExpectedRange | null {
    let range = ranges.get(key)
    if (range === undefined) ranges.set(key, range = expectedRangeBefore(cellByKey.get(key)!, past, 0))
    return range
  }
  const filled = computed(() => itemCompleteness(cells.map(({ key }) => key), contents))

  /** Says which cell the person is in. */
  function enter(key: string) {
    active.value = key
  }

  /** Puts a content into a cell and keeps it on this device. */
  async function put(key: string, content: CellContent): Promise<void> {
    // Who writes over a conflict that is shown there decides it.
    const settles = conflicts[key]?.ids ?? []
    if (!editable.value) return
    if (problems[key] || settles.length) void dropNeedy(key)
    delete problems[key]
    if (!settles.length && !refused.has(key) && sameContent(contentOf(key), content)) return
    refused.delete(key)
    delete conflicts[key]
    typed.add(key)
    lay(key, content)
    try {
      await outbox.keep(key, () => versions[key] ?? 0, content, { why: why.value.trim() || undefined, settles })
    }
    catch (error) {
      if (!isFull(error)) throw error
      problems[key] = { code: 'storage-full', message: 'The storage of this device is full.' }
    }
  }

  /**
   * What a person typed into a cell. Text that is no number stays in the field with its message, and the cell holds
   * what it held before the typing began: the `2` of a refused `2.5` was never meant.
   */
  async function type(key: string, text: string, before: CellContent = contentOf(key)): Promise<void> {
    const read = readCell(text, cellByKey.get(key)!.item.number, locale.value)
    const kept = put(key, read.ok ? read.value : before)
    if (!read.ok) problems[key] = read.problems[0]!
    await kept
  }

  /** Zeros into the blanks of some cells. @returns the cells that it filled, for taking it back. */
  async function zeros(keys: readonly string[]): Promise<string[]> {
    const blanks = keys.filter(key => contentOf(key).kind === 'blank')
    for (const key of blanks) await put(key, { kind: 'value', value: 0 })
    void outbox.flush()
    return blanks
  }

  async function blankAgain(keys: readonly string[]): Promise<void> {
    for (const key of keys) await put(key, BLANK)
    void outbox.flush()
  }

  /** Takes away what needed a person at a cell: it is settled by what is put there now. */
  async function dropNeedy(key: string): Promise<void> {
    await outbox.drop((await outbox.waiting()).flatMap(({ id, cell, state: of }) => (cell === key && of === 'needsYou' ? [id] : [])))
  }

  /** Settles a conflict: theirs stands, or mine is sent again on top of theirs. */
  async function settleConflict(key: string, choice: 'mine' | 'theirs'): Promise<void> {
    const conflict = conflicts[key]
    if (!conflict) return
    lay(key, conflict.theirs.content)
    // Keeping theirs is a decision too: the district has to hear of it.
    await put(key, choice === 'mine' ? conflict.mine : conflict.theirs.content)
    void outbox.flush()
  }

  /** What waits on this device from before goes on top of what the server has. */
  async function takeUpWaiting(): Promise<void> {
    const waiting = await outbox.waiting()
    // What was read of the report may be from before something that this device sent meanwhile, and that waits no more.
    for (const [cell, { content, version }] of outbox.received()) {
      if (version <= (versions[cell] ?? 0)) continue
      if (!typed.has(cell)) lay(cell, content)
      versions[cell] = version
    }
    for (const { id, cell, change, state: of, why: reason, theirs } of waiting) {
      if (change.kind === 'send') sendWaits.value = of === 'waiting' || isClosedCode(reason)
      if (!cell || change.kind !== 'cell') continue
      if (of !== 'waiting') takeUp(id, cell, change.content, theirs ? 'conflict' : 'refused', theirs, reason)
      else if (!typed.has(cell)) lay(cell, change.content)
    }
    takenUp = true
    void outbox.flush()
  }

  /** Takes a sending back that still waits on this device, so that the report can be changed. */
  async function takeSendBack(): Promise<void> {
    await outbox.drop((await outbox.waiting()).flatMap(({ id, change, left }) => (change.kind === 'send' && !left ? [id] : [])))
    sendWaits.value = (await outbox.waiting()).some(({ change }) => change.kind === 'send')
  }

  const nameOf = (key: string) => nameCell(cellByKey.get(key)!, locale.value)

  return {
    file, cells, cellByKey, state, contents, problems, conflicts, active, why, editable, sendWaits, isClosed, hasRefused, outbox,
    doubts, doubtsAt, contentOf, lastNumber, rangeOf, filled, nameOf, enter, put, type, zeros, blankAgain, settleConflict, takeUpWaiting, takeSendBack,
  }
}

/** Reads a report for filling: from the district, or, without a network, as this device last saw it. */
export async function readReport(round: string, unit: string): Promise<ReportFile> {
  const file = await toldBy(reportKey(round, unit), async () => {
    const answer = await callApi('GET /api/reports/:round/:unit', { params: { round, unit } })
    // The answer may be from before something that this device sent while it was on its way.
    const cells = new Map(answer.cells.map(one => [one.cell, one]))
    for (const [cell, received] of useDeskStore().receivedOf(reportPlace(round, unit))) if (received.version > (cells.get(cell)?.version ?? 0)) cells.set(cell, { cell, ...received })
    return { ...answer, cells: [...cells.values()] }
  })
  // This device may have it from an earlier version of the application.
  return { ...file, history: completeHistory(file.history) }
}
