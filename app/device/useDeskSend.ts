import { groupBy } from '#core/group-by'
import { LARGEST_PIECE, type DeskOutcome } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import { base64Of } from '#core/encode'
import { stateAfterOutcome, type QueueState } from '#core/sync/queue'
import { ApiProblem } from '../common/useApi'
import { deviceNow } from '../common/useClock'
import type { StoredEntry, WaitingChange, WorkStore } from './useDeskStore'
import { noteStanding } from './useDeskStanding'
import { changeAsSent, changeOfEntry, isClosedCode, reportKey, type SyncResult } from './useDeskWork'

/** Changes in one request: small enough for a bad line. */
const PIECE = 50
/** Changes that this device sent since it was opened: receiving them is no news. */
const own = new Set<string>()
export const isOwn = (change: string): boolean => own.has(change)

type Listener = (change: WaitingChange, outcome: DeskOutcome) => void
const listeners = new Map<string, Set<Listener>>()
/** Subscribes to the results of one place's changes. @returns unsubscribes. */
export function onOutcome(place: string, tell: Listener): () => void {
  const those = listeners.get(place) ?? new Set()
  listeners.set(place, those.add(tell))
  return () => those.delete(tell)
}

/**
 * The next batch to send: entries first, then changes, oldest first. They are marked as sent in the same
 * transaction: otherwise a value typed in the meantime could replace one that is on its way, and conflict
 * with it.
 */
async function nextPiece(store: WorkStore): Promise<{ entries: StoredEntry[]; changes: WaitingChange[] }> {
  const [entries, rows] = await store.transaction(async () => {
    // Rows of one state come in the order of their numbers.
    const entries = await store.entries.raw.where('state').equals('waiting').limit(PIECE).toArray()
    const rows = await store.changes.raw
      .where('state')
      .equals('waiting')
      .limit(PIECE - entries.length)
      .toArray()
    await store.changes.raw
      .where('id')
      .anyOf(rows.map(({ id }) => id as string))
      .modify({ left: true })
    return [entries, rows] as const
  })
  return {
    entries: await Promise.all(entries.map(row => store.entries.opened(row))),
    changes: await Promise.all(rows.map(row => store.changes.opened(row))),
  }
}

/** Applies the server's answer for one entry. @returns whether a person has to look at it. */
async function noteEntry(
  store: WorkStore,
  entry: StoredEntry,
  { outcome, code }: DeskOutcome,
  at: string,
): Promise<boolean> {
  const refused = stateAfterOutcome(outcome) === 'needsYou'
  if (refused) await store.entries.put({ ...entry, state: 'refused', why: code ?? outcome }, 'id')
  else await store.entries.set('id', entry.id, { state: 'received', receivedAt: at })
  return refused
}

/** Applies the server's answer for one change. @returns what the change is now. */
async function noteChange(
  store: WorkStore,
  change: WaitingChange,
  outcome: DeskOutcome,
  at: string,
): Promise<QueueState> {
  const state = stateAfterOutcome(outcome.outcome)
  if (state === 'waiting') return state
  own.add(change.id)
  // The state is stored before anything else, so that closing the page here loses nothing.
  if (state === 'needsYou')
    await store.changes.put(
      {
        ...change,
        state,
        why: outcome.code ?? outcome.outcome,
        ...(outcome.code === 'left-out' && { said: outcome.message }),
        ...(outcome.theirs && { theirs: outcome.theirs }),
      },
      'id',
    )
  else {
    // One transaction: the version must be known before the next value of the cell is saved, which is based
    // on it.
    await store.transaction(async () => {
      await store.changes.set('id', change.id, { state, confirmedAt: at, left: true })
      // A confirmed newer value replaces the rejected ones of the same cell.
      if (change.cell !== undefined)
        await store.changes.raw
          .where('[place+cell]')
          .equals([change.place, change.cell])
          .filter(({ state: of }) => of === 'needsYou')
          .delete()
    })
    if (change.change.kind === 'cell')
      store.noteReceived(change.place, change.change.cell, {
        content: change.change.content,
        version: outcome.version ?? 0,
      })
  }
  // A rejected change will never reach the server, so nothing may follow it; unless the facility is let in
  // later.
  if (outcome.outcome === 'refused' && !isClosedCode(outcome.code))
    await store.changes.raw.where('after').equals(change.id).modify({ after: undefined })
  listeners.get(change.place)?.forEach(tell => tell(change, outcome))
  return state
}

/** Writes confirmed values into the cached reports, so that they show them without a network. */
async function noteInReports(
  store: WorkStore,
  received: readonly WaitingChange[],
  outcomes: ReadonlyMap<string, DeskOutcome>,
): Promise<void> {
  const places = groupBy(
    received.flatMap(({ change }) => (change.kind === 'cell' ? [change] : [])),
    ({ round, unit }) => reportKey(round, unit),
  )
  for (const [key, cells] of places) {
    const cached = await store.serverCache.get('key', key)
    if (!cached) continue
    const file = cached.answer as ReportFile
    const now = new Map(file.cells.map(one => [one.cell, one]))
    for (const { id, cell, content } of cells)
      now.set(cell, { cell, content, version: outcomes.get(id)!.version ?? 0 })
    await store.serverCache.put(
      {
        key,
        answer: { ...file, state: file.state === 'awaited' ? 'draft' : file.state, cells: [...now.values()] },
      },
      'key',
    )
  }
}

/** Applies the answers for changes that were sent by file; unknown changes are skipped. */
export async function noteOutcomes(
  store: WorkStore,
  outcomes: readonly DeskOutcome[],
  at: string,
): Promise<void> {
  for (const outcome of outcomes) {
    const entry = await store.entries.get('id', outcome.id)
    const change = entry ? undefined : await store.changes.get('id', outcome.id)
    if (entry?.state === 'waiting') await noteEntry(store, entry, outcome, at)
    if (change?.state === 'waiting') await noteChange(store, change, outcome, at)
  }
}

/** Sends what is pending, in batches, and applies the answer for each change. */
export async function sendWaiting(store: WorkStore, device: string, result: SyncResult): Promise<void> {
  for (;;) {
    const piece = await nextPiece(store)
    const all = [...piece.entries.map(changeOfEntry), ...piece.changes.map(changeAsSent)]
    if (!all.length) return
    const answer = await callApi('POST /api/desk/send', {
      body: { device, clock: new Date(deviceNow()).toISOString(), changes: all },
    })
    // First of all note which database answered: the confirmations below are its own.
    const restored = await noteStanding(store, answer)
    const outcomes = new Map(answer.outcomes.map(outcome => [outcome.id, outcome]))
    let had = 0
    for (const entry of piece.entries) {
      const refused = await noteEntry(store, entry, outcomes.get(entry.id)!, answer.at)
      if (refused) result.refused++
      else result.sent++
      had++
    }
    for (const change of piece.changes) {
      const state = await noteChange(store, change, outcomes.get(change.id)!, answer.at)
      if (state === 'waiting') continue
      result[state === 'needsYou' ? 'refused' : 'sent']++
      had++
    }
    await noteInReports(
      store,
      piece.changes.filter(({ id }) => ['received', 'alreadyHad'].includes(outcomes.get(id)!.outcome)),
      outcomes,
    )
    if (piece.changes.some(({ change }) => change.kind !== 'cell')) result.acted = true
    // A change that came early stays pending until the one before it has arrived; asking again at once would
    // not help.
    if (!had && !restored) return
  }
}

/** Sends pictures and sounds, each from where it stopped. If one is rejected, the others are still sent. */
export async function sendFiles(store: WorkStore, result: SyncResult): Promise<void> {
  for (const { hash } of await store.files.where('state').equals('waiting').toArray()) {
    try {
      await sendFile(store, hash)
      result.files++
    } catch (error) {
      if (!(error instanceof ApiProblem) || !REFUSALS.has(error.status)) throw error
      // A file that was damaged on its way is sent again from the beginning at the next sync.
      await store.files.update(hash, error.code === 'file-changed' ? { upTo: 0 } : { state: 'refused' })
      result.refused++
    }
  }
}
/** Status codes that reject a file: it is wrong, or too large. */
const REFUSALS = new Set([413, 422])

async function sendFile(store: WorkStore, hash: string): Promise<void> {
  const { file, bytes } = (await store.bytesOf(hash))!
  for (let at = file.upTo; at < bytes.length;) {
    const piece = bytes.subarray(at, at + LARGEST_PIECE)
    const { upTo, done } = await callApi('PUT /api/desk/files/:hash', {
      params: { hash },
      body: { start: at, bytes: bytes.length, data: base64Of(piece) },
    })
    // The district says from where to go on: a piece that did not arrive goes again, at the next contact.
    if (!done && upTo <= at) throw new ApiProblem(422, 'file-changed', '')
    at = done ? bytes.length : upTo
    await store.files.update(hash, { upTo: at, ...(done && { state: 'received' }) })
  }
}
