import { groupBy } from '#core/group-by'
import { LARGEST_PIECE, type DeskOutcome } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import { base64Of } from '#core/encode'
import { ApiProblem } from './useApi'
import { deviceNow } from './useClock'
import type { KeptEntry, WaitingChange, WorkStore } from './useDeskStore'
import { noteStanding } from './useDeskStanding'
import { changeAsSent, changeOfEntry, isClosedCode, reportKey, type Contact } from './useDeskWork'

/** Changes in one request: small enough for a bad line. */
const PIECE = 50
/** What this device sent since it was opened: hearing of it is no news. */
const own = new Set<string>()
export const isOwn = (change: string): boolean => own.has(change)

type Listener = (change: WaitingChange, outcome: DeskOutcome) => void
const listeners = new Map<string, Set<Listener>>()
/** Tells what became of the changes of a place. @returns stops it. */
export function onOutcome(place: string, tell: Listener): () => void {
  const those = listeners.get(place) ?? new Set()
  listeners.set(place, those.add(tell))
  return () => those.delete(tell)
}

/** The next changes to send: entries first, then the rest, each in the order in which it was made. They count as left from now on, whether they arrive or not: in one step, or a value typed meanwhile would replace one that leaves, and be in conflict with it. */
async function nextPiece(store: WorkStore): Promise<{ entries: KeptEntry[]; changes: WaitingChange[] }> {
  const [entries, rows] = await store.transaction(async () => {
    // Rows of one state come in the order of their numbers.
    const entries = await store.entries.raw.where('state').equals('waiting').limit(PIECE).toArray()
    const rows = await store.changes.raw.where('state').equals('waiting').limit(PIECE - entries.length).toArray()
    await store.changes.raw.where('id').anyOf(rows.map(({ id }) => id as string)).modify({ left: true })
    return [entries, rows] as const
  })
  return { entries: await Promise.all(entries.map(row => store.entries.opened(row))), changes: await Promise.all(rows.map(row => store.changes.opened(row))) }
}

/** Notes what the district said of one entry, or of one change. @returns whether it needs a person. */
async function noteEntry(store: WorkStore, entry: KeptEntry, { outcome, code }: DeskOutcome, at: string): Promise<boolean> {
  const refused = outcome === 'refused' || outcome === 'conflict'
  if (refused) await store.entries.put({ ...entry, state: 'refused', why: code ?? outcome }, 'id')
  else await store.entries.set('id', entry.id, { state: 'received', receivedAt: at })
  return refused
}
async function noteChange(store: WorkStore, change: WaitingChange, outcome: DeskOutcome, at: string): Promise<boolean> {
  if (outcome.outcome === 'early') return false
  own.add(change.id)
  const needsYou = outcome.outcome === 'refused' || outcome.outcome === 'conflict'
  // Its own column says so first: a page that is closed here loses nothing.
  if (needsYou) await store.changes.put({ ...change, state: 'needsYou', why: outcome.code ?? outcome.outcome, ...(outcome.code === 'left-out' && { said: outcome.message }), ...(outcome.theirs && { theirs: outcome.theirs }) }, 'id')
  else {
    // In one step, and its version is known before the next value of the cell can be kept: that one is made on it.
    await store.transaction(async () => {
      await store.changes.set('id', change.id, { state: 'confirmed', confirmedAt: at, left: true })
      // What needed a person at this cell is settled by what was put there since.
      if (change.cell !== undefined) await store.changes.raw.where('[place+cell]').equals([change.place, change.cell]).filter(({ state: of }) => of === 'needsYou').delete()
    })
    if (change.change.kind === 'cell') store.noteReceived(change.place, change.change.cell, { content: change.change.content, version: outcome.version ?? 0 })
  }
  // What followed a refused change follows nothing: the district will never know that one, unless it lets the facility in.
  if (outcome.outcome === 'refused' && !isClosedCode(outcome.code)) await store.changes.raw.where('after').equals(change.id).modify({ after: undefined })
  listeners.get(change.place)?.forEach(tell => tell(change, outcome))
  return needsYou
}

/** Writes what was received into the reports as this device keeps them: opened again without a network, they show it. */
async function noteInReports(store: WorkStore, received: readonly WaitingChange[], outcomes: ReadonlyMap<string, DeskOutcome>): Promise<void> {
  const places = groupBy(received.flatMap(({ change }) => (change.kind === 'cell' ? [change] : [])), ({ round, unit }) => reportKey(round, unit))
  for (const [key, cells] of places) {
    const kept = await store.told.get('key', key)
    if (!kept) continue
    const file = kept.answer as ReportFile
    const now = new Map(file.cells.map(one => [one.cell, one]))
    for (const { id, cell, content } of cells) now.set(cell, { cell, content, version: outcomes.get(id)!.version ?? 0 })
    await store.told.put({ key, answer: { ...file, state: file.state === 'awaited' ? 'draft' : file.state, cells: [...now.values()] } }, 'key')
  }
}

/** Notes what became of changes that went by file; those that this device has no longer are passed over. */
export async function noteOutcomes(store: WorkStore, outcomes: readonly DeskOutcome[], at: string): Promise<void> {
  for (const outcome of outcomes) {
    const entry = await store.entries.get('id', outcome.id)
    const change = entry ? undefined : await store.changes.get('id', outcome.id)
    if (entry?.state === 'waiting') await noteEntry(store, entry, outcome, at)
    if (change?.state === 'waiting') await noteChange(store, change, outcome, at)
  }
}

/** Sends what waits, in pieces; what the district has is marked so, one by one. */
export async function sendWaiting(store: WorkStore, device: string, told: Contact): Promise<void> {
  for (;;) {
    const piece = await nextPiece(store)
    const all = [...piece.entries.map(changeOfEntry), ...piece.changes.map(changeAsSent)]
    if (!all.length) return
    const answer = await callApi('POST /api/desk/send', { body: { device, clock: new Date(deviceNow()).toISOString(), changes: all } })
    // Before anything is noted: what is confirmed now is confirmed by the database that answered.
    const restored = await noteStanding(store, answer)
    const outcomes = new Map(answer.outcomes.map(outcome => [outcome.id, outcome]))
    let had = 0
    for (const entry of piece.entries) {
      const refused = await noteEntry(store, entry, outcomes.get(entry.id)!, answer.at)
      if (refused) told.refused++
      else told.sent++
      had++
    }
    for (const change of piece.changes) {
      const outcome = outcomes.get(change.id)!
      if (await noteChange(store, change, outcome, answer.at)) told.refused++
      else if (outcome.outcome !== 'early') told.sent++
      if (outcome.outcome !== 'early') had++
    }
    await noteInReports(store, piece.changes.filter(({ id }) => ['received', 'alreadyHad'].includes(outcomes.get(id)!.outcome)), outcomes)
    if (piece.changes.some(({ change }) => change.kind !== 'cell')) told.acted = true
    // What came early waits for what it follows: that is not on this device, so asking again at once would not help.
    if (!had && !restored) return
  }
}

/** Sends pictures and sounds, each from where it broke off. One that the district will not have holds up nothing else. */
export async function sendFiles(store: WorkStore, told: Contact): Promise<void> {
  for (const { hash } of await store.files.where('state').equals('waiting').toArray()) {
    try {
      await sendFile(store, hash)
      told.files++
    }
    catch (error) {
      if (!(error instanceof ApiProblem) || !REFUSALS.has(error.status)) throw error
      // What was changed on its way goes again from its beginning, at the next contact.
      await store.files.update(hash, error.code === 'file-changed' ? { upTo: 0 } : { state: 'refused' })
      told.refused++
    }
  }
}
/** What a file itself is refused with: it cannot be done so, it is too large. */
const REFUSALS = new Set([413, 422])

async function sendFile(store: WorkStore, hash: string): Promise<void> {
  const { file, bytes } = (await store.bytesOf(hash))!
  for (let at = file.upTo; at < bytes.length;) {
    const piece = bytes.subarray(at, at + LARGEST_PIECE)
    const { upTo, done } = await callApi('PUT /api/desk/files/:hash', { params: { hash }, body: { start: at, bytes: bytes.length, data: base64Of(piece) } })
    // The district says from where to go on: a piece that did not arrive goes again, at the next contact.
    if (!done && upTo <= at) throw new ApiProblem(422, 'file-changed', '')
    at = done ? bytes.length : upTo
    await store.files.update(hash, { upTo: at, ...(done && { state: 'received' }) })
  }
}
