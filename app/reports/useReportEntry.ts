import type { CellContent } from '#core/report/cell'
import { readItem } from '#core/form/check-cell'
import type { FillingStep } from '#core/form/filling'
import { isTypedNumber } from '#core/report/asked'
import { BLANK, sameContent } from '#core/report/cell'
import { completeEdition } from '#core/report/older'
import { completeHistory } from '#core/report/period-table'
import type { Doubt } from '#core/rule/find-doubts'
import type { Item } from '#core/report/edition'
import type { Problem } from '#core/result'
import type { CountFigures } from '#core/reconcile/count-figures'
import { isReceived } from '#core/report/state'
import { isNewer } from '#core/sync/queue'
import type { ReportFile, Theirs } from '#core/contract/reports'
import { cachedFetch } from '../device/useDesk'
import { isFull } from '../device/useStorageShare'
import { useDeskStore } from '../device/useDeskStore'
import { isClosedCode, reportKey, reportPlace } from '../device/useDeskWork'
import { useOutbox, type Outbox, type OutboxOptions } from './useOutbox'
import { useReportView, type ReportView } from './useReportView'

export interface Conflict {
  mine: CellContent
  /**
   * Identifiers of this device's changes in conflict. The server needs them to know what a person resolves.
   */
  ids: string[]
  theirs: Theirs
}

export type ReportEntry = ReturnType<typeof useReportEntry>

/** What components show: a report that is filled, or one that is only read. */
export type ShownReport = ReportView | ReportEntry
/** The report where it is being filled; null where it is only read. */
export const fillingOf = (report: ShownReport): ReportEntry | null => ('outbox' in report ? report : null)

export interface EntryOptions {
  /** Makes the outbox for changes: that of the device, unless it is said. */
  outboxOf?: (options: OutboxOptions) => Outbox
  /** How many cases its rules count; what the district said without it. */
  counts?: Readonly<Ref<CountFigures | undefined>>
  /** Whether nothing can be added any more; once its round is closed, unless it is said. */
  isClosed?: Readonly<Ref<boolean>>
}

/** A report being filled: what is read of it, and besides the typing, the save state and the conflicts. */
export function useReportEntry(
  file: ReportFile,
  { outboxOf = useOutbox, counts, isClosed: closed }: EntryOptions = {},
) {
  const { locale } = useWords()
  const view = useReportView(file, counts)
  const { cellByKey, contentOf, setCell } = view
  const isClosed = closed ?? view.isClosed
  const doubtsAt = (key: string): Doubt[] => (problems[key] ? [] : view.doubtsAt(key))

  const state = ref(file.state)
  const versions: Record<string, number> = Object.fromEntries(
    file.cells.map(({ cell, version }) => [cell, version]),
  )
  const problems = reactive<Record<string, Problem>>({})
  const conflicts = reactive<Record<string, Conflict>>({})
  /** The reason for changing a report that was already sent; empty until the clerk gives one. */
  const why = ref('')
  /** The clerk pressed *Send*, and that change is still pending on this device. */
  const sendWaits = ref(false)
  const editable = computed(
    () => !isClosed.value && !sendWaits.value && (!isReceived(state.value) || why.value.trim().length > 1),
  )

  /** Cells that were edited on this page. Restoring earlier changes does not overwrite them. */
  const typed = new Set<string>()
  /** Rejected changes by cell. At such a cell the same value can be entered again. */
  const refused = shallowReactive(new Map<string, string[]>())
  const hasRefused = computed(() => refused.size > 0 || sendWaits.value)
  let restored = false
  const outbox = outboxOf({
    round: file.round.id,
    unit: file.unit.code,
    onOutcome({ id, cell, change, theirs }, outcome) {
      if (!cell || change.kind !== 'cell') return
      versions[cell] = outcome.version ?? versions[cell] ?? 0
      // It was sent before this page restored pending changes, so restorePending() will not find it.
      if (
        !restored &&
        !typed.has(cell) &&
        (outcome.outcome === 'received' || outcome.outcome === 'alreadyHad')
      )
        setCell(cell, change.content)
      if (outcome.outcome === 'received' || outcome.outcome === 'alreadyHad') clearRefused(cell)
      restoreOne(
        id,
        cell,
        change.content,
        outcome.outcome,
        outcome.theirs ?? theirs,
        outcome.code,
        outcome.message,
      )
      if (outcome.outcome === 'received' && state.value === 'awaited') state.value = 'draft'
      if (outcome.outcome === 'received' && state.value === 'accepted') state.value = 'sent'
    },
  })
  /** A change that was rejected before is accepted now, because the facility was let in. */
  function clearRefused(cell: string): void {
    if (refused.delete(cell)) delete problems[cell]
  }
  /** Shows a rejected or conflicting change at its cell until it is resolved, also after a reload. */
  function restoreOne(
    id: string,
    cell: string,
    mine: CellContent,
    outcome: string,
    theirs: Conflict['theirs'] | undefined,
    code?: string,
    message?: string,
  ): void {
    if (outcome === 'conflict' && theirs)
      conflicts[cell] = { mine, theirs, ids: [...(conflicts[cell]?.ids ?? []), id] }
    else if (outcome === 'refused' || outcome === 'conflict') {
      // The typed value stays visible with the reason for the rejection.
      if (!typed.has(cell)) setCell(cell, mine)
      refused.set(cell, [...(refused.get(cell) ?? []), id])
      problems[cell] = { code: code ?? 'server', message: message ?? '' }
    }
  }

  /** An answer that would clear others, until the person says go on. */
  const pending = shallowRef<{ key: string; content: CellContent; lost: string[] } | null>(null)
  /** What was cleared last, with the answer that did it: one touch brings it back. */
  const cleared = shallowRef<Record<string, CellContent> | null>(null)

  /**
   * Sets the value of a cell and saves it on this device. One that would clear other answers says so first,
   * and waits.
   */
  async function put(key: string, content: CellContent): Promise<void> {
    const step = view.tried(key, content)
    const lost = (step?.cleared ?? []).flatMap(one => (one.key === key ? [] : [one.key]))
    if (lost.length && editable.value) {
      pending.value = { key, content, lost }
      return
    }
    // Who types on has gone past the value that would have cleared something.
    if (pending.value?.key === key) pending.value = null
    await save(key, content, step)
  }
  async function confirmClearing(): Promise<void> {
    const asked = pending.value
    if (!asked) return
    pending.value = null
    const before = Object.fromEntries([asked.key, ...asked.lost].map(key => [key, contentOf(key)]))
    await save(asked.key, asked.content)
    for (const key of asked.lost) await save(key, BLANK)
    cleared.value = before
    void outbox.flush()
  }
  async function bringBack(): Promise<void> {
    const before = cleared.value
    cleared.value = null
    for (const [key, content] of Object.entries(before ?? {})) await save(key, content)
    void outbox.flush()
  }
  const leaveAnswer = () => {
    pending.value = null
  }
  async function save(key: string, content: CellContent, step?: FillingStep | null): Promise<void> {
    // A new value in a cell with a visible conflict resolves that conflict.
    const conflict = conflicts[key]
    const settles = conflict?.ids ?? []
    const rejected = refused.get(key) ?? []
    if (!editable.value) return
    delete problems[key]
    if (!settles.length && !rejected.length && sameContent(contentOf(key), content)) return
    refused.delete(key)
    delete conflicts[key]
    typed.add(key)
    setCell(key, content, step)
    try {
      await outbox.save(key, () => versions[key] ?? 0, content, {
        why: why.value.trim() || undefined,
        settles,
        rejected,
      })
    } catch (error) {
      if (!isFull(error)) throw error
      // What needed the person is still stored: the next value replaces it.
      if (conflict) conflicts[key] = conflict
      if (rejected.length) refused.set(key, rejected)
      problems[key] = { code: 'storage-full', message: 'The storage of this device is full.' }
    }
  }

  /**
   * Handles the text typed into a cell. Text that is not a number stays in the field with an error message,
   * and the cell keeps its value from before the typing began: the `2` of a rejected `2.5` was never meant.
   */
  async function type(key: string, text: string, before: CellContent = contentOf(key)): Promise<void> {
    const read = readItem(cellByKey.get(key)!.item, text, locale.value)
    const saving = put(key, read.ok ? read.value : before)
    if (!read.ok) problems[key] = read.problems[0]!
    await saving
  }

  /** A number that is asked for. */
  const takesZero = (item: Item) => isTypedNumber(item.kind) && view.isShown(item.code)

  /** Fills the blank cells among these with zero. @returns the filled cells, for undo. */
  async function zeros(keys: readonly string[]): Promise<string[]> {
    const blanks = keys.filter(key => contentOf(key).kind === 'blank' && takesZero(cellByKey.get(key)!.item))
    for (const key of blanks) await put(key, { kind: 'value', value: 0 })
    void outbox.flush()
    return blanks
  }

  async function blankAgain(keys: readonly string[]): Promise<void> {
    for (const key of keys) await put(key, BLANK)
    void outbox.flush()
  }

  /** Resolves a conflict: keeps their value, or sends mine again on top of it. */
  async function settleConflict(key: string, choice: 'mine' | 'theirs'): Promise<void> {
    const conflict = conflicts[key]
    if (!conflict) return
    setCell(key, conflict.theirs.content)
    // Keeping their value is a decision too, so it is sent as a change.
    await put(key, choice === 'mine' ? conflict.mine : conflict.theirs.content)
    void outbox.flush()
  }

  /** Restores the pending and rejected changes of this device over the values of the server. */
  async function restorePending(): Promise<void> {
    const waiting = await outbox.waiting()
    // The report may have been read before a change that was confirmed meanwhile.
    for (const [cell, { content, version }] of outbox.received()) {
      if (!isNewer({ version }, { version: versions[cell] ?? 0 })) continue
      if (!typed.has(cell)) setCell(cell, content)
      versions[cell] = version
    }
    for (const { id, cell, change, state: of, why: reason, theirs } of waiting) {
      if (change.kind === 'send') sendWaits.value = of === 'waiting' || isClosedCode(reason)
      if (!cell || change.kind !== 'cell') continue
      if (of !== 'waiting')
        restoreOne(id, cell, change.content, theirs ? 'conflict' : 'refused', theirs, reason)
      else if (!typed.has(cell)) setCell(cell, change.content)
    }
    restored = true
    void outbox.flush()
  }

  /** Cancels a pending *Send*, so that the report can be changed. */
  async function takeSendBack(): Promise<void> {
    await outbox.drop(
      (await outbox.waiting()).flatMap(({ id, change, left }) =>
        change.kind === 'send' && !left ? [id] : [],
      ),
    )
    sendWaits.value = (await outbox.waiting()).some(({ change }) => change.kind === 'send')
  }

  return {
    ...view,
    isClosed,
    doubtsAt,
    state,
    problems,
    conflicts,
    why,
    editable,
    sendWaits,
    hasRefused,
    outbox,
    put,
    pending,
    cleared,
    confirmClearing,
    bringBack,
    leaveAnswer,
    type,
    zeros,
    blankAgain,
    settleConflict,
    restorePending,
    takeSendBack,
  }
}

/** Loads a report for filling: from the server or, without a network, from the cache of this device. */
export async function readReport(round: string, unit: string): Promise<ReportFile> {
  const file = await cachedFetch(reportKey(round, unit), async () => {
    const answer = await callApi('GET /api/reports/:round/:unit', { params: { round, unit } })
    // The answer may be older than a change that was confirmed while it was on its way.
    const cells = new Map(answer.cells.map(one => [one.cell, one]))
    for (const [cell, received] of useDeskStore().receivedOf(reportPlace(round, unit)))
      if (isNewer(received, cells.get(cell))) cells.set(cell, { cell, ...received })
    return { ...answer, cells: [...cells.values()] }
  })
  // An earlier version of the application may have cached it.
  return { ...file, edition: completeEdition(file.edition), history: completeHistory(file.history) }
}
