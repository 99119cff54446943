import type { CellContent } from '#core/report/cell'
import { BLANK, readCell, sameContent } from '#core/report/cell'
import { cellsOf, nameCell, type Cell } from '#core/report/edition'
import { tableOf, type CellMap } from '#core/report/table'
import { itemCompleteness } from '#core/quality/item-completeness'
import { expectedRangeBefore } from '#core/quality/expected-range'
import { compileRules } from '#core/rule/compile-rules'
import { findDoubts, type Doubt } from '#core/rule/find-doubts'
import { must, type Problem } from '#core/result'
import type { ChangeOutcome, ReportFile } from '#core/contract/reports'
import { useDeviceStore } from './useDeviceStore'
import { useOutbox } from './useOutbox'

export interface Conflict {
  mine: CellContent
  theirs: NonNullable<ChangeOutcome['theirs']>
}

export type ReportEntry = ReturnType<typeof useReportEntry>

/**
 * One report being filled: what stands in its cells, what is doubtful about it while typing, and where what was
 * typed has got to. The checks are core's own, the same as on the server.
 */
export function useReportEntry(file: ReportFile, person: string) {
  const { locale } = useI18n()
  const cells = cellsOf(file.edition)
  const cellByKey = new Map<string, Cell>(cells.map(cell => [cell.key, cell]))
  const rules = must(compileRules(file.edition))
  const earlier: CellMap[] = file.history.periods.map((_, back) => Object.fromEntries(cells.flatMap(({ key }) => {
    const value = file.history.numbers[key]?.[back] ?? null
    return value === null ? [] : [[key, { kind: 'value' as const, value }]]
  })))

  const state = ref(file.state)
  const contents = reactive<Record<string, CellContent>>(Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content])))
  const versions: Record<string, number> = Object.fromEntries(file.cells.map(({ cell, version }) => [cell, version]))
  const problems = reactive<Record<string, Problem>>({})
  const conflicts = reactive<Record<string, Conflict>>({})
  const active = ref<string | null>(null)
  /** Why a report that the district already has is changed; empty while it may not be. */
  const why = ref('')
  const editable = computed(() => !['sent', 'accepted'].includes(state.value) || why.value.trim().length > 1)

  const outbox = useOutbox({
    person, round: file.round.id, unit: file.unit.code,
    onOutcome(change, outcome) {
      versions[change.cell] = outcome.version
      if (outcome.outcome === 'conflict') conflicts[change.cell] = { mine: change.content, theirs: outcome.theirs! }
      if (outcome.outcome === 'refused') problems[change.cell] = { code: outcome.code ?? 'server', message: outcome.message ?? '' }
    },
    onReceived(answer) {
      state.value = answer.state
    },
  })

  const table = computed(() => tableOf([{ ...contents }], earlier.map(row => [row])))
  const doubts = computed<Doubt[]>(() => findDoubts(rules, cells, table.value)[0]!)
  const doubtsAt = (key: string) => (problems[key] ? [] : doubts.value.filter(doubt => doubt.cells.includes(key)))
  const contentOf = (key: string): CellContent => contents[key] ?? BLANK
  const lastNumber = (key: string) => file.history.numbers[key]?.[0] ?? null
  const past = tableOf([{}], earlier.map(row => [row]))
  const ranges = new Map(cells.map(cell => [cell.key, expectedRangeBefore(cell, past, 0)]))
  const filled = computed(() => itemCompleteness(cells.map(({ key }) => key), contents))

  /** Says which cell the person is in. */
  function enter(key: string) {
    active.value = key
  }

  /** Puts a content into a cell and keeps it on this device. */
  async function put(key: string, content: CellContent): Promise<void> {
    delete problems[key]
    if (!editable.value || sameContent(contentOf(key), content)) return
    contents[key] = content
    await outbox.keep(key, () => versions[key] ?? 0, content, why.value.trim() || undefined)
  }

  /**
   * What a person typed into a cell. Text that is no number stays in the field with its message, and the cell holds
   * what it held before the typing began: the `2` of a refused `2.5` was never meant.
   */
  async function type(key: string, text: string, before: CellContent = contentOf(key)): Promise<void> {
    const read = readCell(text, cellByKey.get(key)!.item.number)
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

  /** Settles a conflict: theirs stands, or mine is sent again on top of theirs. */
  async function settleConflict(key: string, choice: 'mine' | 'theirs'): Promise<void> {
    const conflict = conflicts[key]
    if (!conflict) return
    delete conflicts[key]
    contents[key] = conflict.theirs.content
    if (choice === 'mine') await put(key, conflict.mine)
    void outbox.flush()
  }

  /** What waits on this device from before goes on top of what the server has. */
  async function takeUpWaiting(): Promise<void> {
    for (const change of await outbox.waiting()) contents[change.cell] = change.content
    void outbox.flush()
  }

  const nameOf = (key: string) => nameCell(cellByKey.get(key)!, locale.value)

  return {
    file, cells, cellByKey, state, contents, problems, conflicts, active, why, editable, outbox,
    doubts, doubtsAt, contentOf, lastNumber, ranges, filled, nameOf, enter, put, type, zeros, blankAgain, settleConflict, takeUpWaiting,
  }
}

/** Reads a report for filling: from the district, or, without a network, as this device last saw it. */
export async function readReport(person: string, round: string, unit: string): Promise<ReportFile> {
  const device = useDeviceStore()
  const place = `${person}|${round}|${unit}`
  try {
    const file = await callApi('GET /api/reports/:round/:unit', { params: { round, unit } })
    await device.files.put({ place, file })
    return file
  }
  catch (error) {
    const kept = error instanceof ApiProblem && error.unreachable ? await device.files.get(place) : undefined
    if (kept) return kept.file
    throw error
  }
}
