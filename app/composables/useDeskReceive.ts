import type { DeskDefinitions, DeskEvent, DeskWork } from '#core/contract/desk'
import { clockNow, correctClock } from './useClock'
import { isOwn } from './useDeskSend'
import { noteStanding } from './useDeskStanding'
import type { WorkStore } from './useDeskStore'
import { isClosedCode, reportPlace, toldWork, type Contact } from './useDeskWork'

/** What is worked with is asked for again after so long, though nothing happened: rounds open and fall due by themselves. */
const WORK_GOOD_FOR = 60 * 60_000

/** Does an event change what is worked with? Entries have their own place; what this device did itself it knows. */
const isNews = (event: DeskEvent): boolean =>
  event.kind !== 'entry' && !(event.kind === 'cell' && isOwn(event.last)) && !(event.kind === 'report' && event.state === 'draft')

/** Hears what happened since the last contact, also from the facility's other devices. @returns whether what is worked with may have changed, and what is defined. */
export async function receiveNews(store: WorkStore, told: Contact): Promise<{ changed: boolean; definitions: string }> {
  let changed = false
  for (;;) {
    const since = (await store.told.get('key', 'cursor'))?.answer as string | undefined
    const { cursor, more, events, definitions, settings, at, ...standing } = await callApi('GET /api/desk/receive', { query: { ...(since && { since }) } })
    correctClock(at)
    // The district was put back from a backup: its histories begin anew, and so does the cursor.
    if (await noteStanding(store, standing)) {
      changed = true
      continue
    }
    await useVault().takeOrders(settings)
    told.heard += await takeInEvents(store, events, cursor)
    changed ||= events.some(isNews) || since === undefined
    if (!more) return { changed, definitions }
  }
}

/** Keeps what was heard with what stands for it, in one step: a page closed in between hears it again, and nothing is passed over. */
export async function takeInEvents(store: WorkStore, events: readonly DeskEvent[], cursor: string): Promise<number> {
  const entries = events.filter((event): event is Extract<DeskEvent, { kind: 'entry' }> => event.kind === 'entry')
  const rows = await Promise.all(entries.map(({ id, case: of, register, edition, form, unit, answers, corrects, parent, at, happenedOn }) =>
    store.entries.shut({ id, case: of, register, edition, form, unit, answers, madeAt: `${happenedOn}T12:00:00.000Z`, state: 'received', receivedAt: at, ...(corrects && { corrects }), ...(parent && { parent }) })))
  const place = await store.told.shut({ key: 'cursor', answer: cursor })
  await store.transaction(async () => {
    for (const row of rows) {
      const there = await store.entries.raw.where('id').equals(row.id as string).first()
      if (there) await store.entries.raw.update(there.seq as number, { state: 'received', receivedAt: row.receivedAt })
      else await store.entries.raw.add(row)
    }
    await store.told.raw.put(place)
  })
  return entries.length
}

/** Fetches what is defined and what is worked with, where it changed. @returns whether it fetched. */
export async function fetchWork(store: WorkStore, changed: boolean, definitions: string): Promise<boolean> {
  if ((await store.told.get('key', 'stamp'))?.answer !== definitions) {
    await keepDefinitions(store, await callApi('GET /api/desk/definitions', {}), definitions)
    changed = true
  }
  const kept = (await store.told.get('key', 'workAt'))?.answer as number | undefined
  if (!changed && kept !== undefined && clockNow() - kept < WORK_GOOD_FOR) return false
  await keepWork(store, await callApi('GET /api/desk/work', {}))
  return true
}
export async function keepDefinitions(store: WorkStore, { registers, earlier, units }: DeskDefinitions, stamp: string): Promise<void> {
  await store.told.put({ key: 'registers', answer: registers }, 'key')
  await store.told.put({ key: 'units', answer: units }, 'key')
  // Earlier editions stay: a form that was begun in one goes on in it, and its entries are read in it.
  for (const one of [...registers, ...earlier ?? []]) await store.told.put({ key: `register|${one.register}|${one.edition}`, answer: one }, 'key')
  await store.told.put({ key: 'stamp', answer: stamp }, 'key')
}
export async function keepWork(store: WorkStore, work: DeskWork): Promise<void> {
  for (const [key, answer] of toldWork(work)) await store.told.put({ key, answer }, 'key')
  await store.told.put({ key: 'workAt', answer: clockNow() }, 'key')
  await noteLeftOut(store, work)
  await retryLetIn(store, work)
}

/** Notes what the office left out: it no longer waits for a decision. A file of an earlier version names nothing. */
async function noteLeftOut(store: WorkStore, { leftOut = [] }: Partial<DeskWork>): Promise<void> {
  for (const { id, why } of leftOut) {
    const change = await store.changes.get('id', id)
    if (change?.state === 'needsYou' && isClosedCode(change.why)) await store.changes.put({ ...change, why: 'left-out', said: why }, 'id')
  }
}

/** Sends again what was not taken because its round was closed, once the round is open to this facility. */
async function retryLetIn(store: WorkStore, { due }: DeskWork): Promise<void> {
  const open = new Set([...due.now, ...due.sent].filter(({ round }) => clockNow() < Date.parse(round.closesAt)).map(({ round, unit }) => reportPlace(round.id, unit.code)))
  const retried = (await store.changes.where('state', 'needsYou')).filter(({ place, why }) => open.has(place) && isClosedCode(why))
  for (const { id } of retried) await store.changes.set('id', id, { state: 'waiting' })
}
