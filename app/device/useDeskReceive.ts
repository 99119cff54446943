import type { DeskDefinitions, DeskEvent, DeskWork } from '#core/contract/desk'
import { clockNow, correctClock } from '../common/useClock'
import { deviceSays } from './deviceSays'
import { isOwn } from './useDeskSend'
import { noteStanding, noteView } from './useDeskStanding'
import type { WorkStore } from './useDeskStore'
import { isClosedCode, reportPlace, cacheEntriesOf, type SyncResult } from './useDeskWork'

/**
 * The work is fetched again after so long even without news, because rounds open and fall due by themselves.
 * Milliseconds.
 */
const WORK_GOOD_FOR = 60 * 60_000

/**
 * Does an event change the cached work? Entries are stored separately, and this device's own changes are
 * known.
 */
const isNews = (event: DeskEvent): boolean =>
  event.kind !== 'entry' &&
  !(event.kind === 'cell' && isOwn(event.last)) &&
  !(event.kind === 'report' && event.state === 'draft')

/**
 * Receives the events since the last sync, also those of the facility's other devices. @returns whether the
 * cached work may be outdated, and the stamp of the definitions.
 */
export async function receiveNews(
  store: WorkStore,
  result: SyncResult,
): Promise<{ changed: boolean; definitions: string }> {
  let changed = false
  const says = await deviceSays(store)
  for (;;) {
    const since = (await store.serverCache.get('key', 'cursor'))?.answer as string | undefined
    const { cursor, more, events, definitions, settings, view, at, ...standing } = await callApi(
      'GET /api/desk/receive',
      { query: { ...(since && { since }), ...says } },
    )
    correctClock(at)
    // The server was restored from a backup, or the person sees something else: start again from the first event.
    if ((await noteView(store, view)) || (await noteStanding(store, standing))) {
      changed = true
      continue
    }
    await useVault().takeOrders(settings)
    result.received += await applyEvents(store, events, cursor)
    changed ||= events.some(isNews) || since === undefined
    if (!more) return { changed, definitions }
  }
}

/**
 * Stores received entries, and what happened to cases, together with the cursor, in one transaction: a page
 * that is closed in between receives them again.
 */
export async function applyEvents(
  store: WorkStore,
  events: readonly DeskEvent[],
  cursor: string,
): Promise<number> {
  const entries = events.filter(
    (event): event is Extract<DeskEvent, { kind: 'entry' }> => event.kind === 'entry',
  )
  const rows = await Promise.all(
    entries.map(
      ({ id, case: of, register, edition, form, unit, answers, corrects, parent, at, happenedOn }) =>
        store.entries.shut({
          id,
          case: of,
          register,
          edition,
          form,
          unit,
          answers,
          madeAt: `${happenedOn}T12:00:00.000Z`,
          state: 'received',
          receivedAt: at,
          ...(corrects && { corrects }),
          ...(parent && { parent }),
        }),
    ),
  )
  const lives = events.filter((event): event is Extract<DeskEvent, { kind: 'case' }> => event.kind === 'case')
  const livesHere = await Promise.all(
    lives.filter(({ isHere }) => isHere).map(({ kind: _, isHere: __, ...life }) => store.lives.shut(life)),
  )
  const gone = lives.filter(({ isHere }) => !isHere).map(life => life.case)
  const place = await store.serverCache.shut({ key: 'cursor', answer: cursor })
  const byId = new Map(rows.map(row => [row.id as string, row]))
  await store.transaction(async () => {
    // What this device has made itself is only marked. The others come in at once: one by one, thousands would take half a minute.
    const there = await store.entries.raw
      .where('id')
      .anyOf([...byId.keys()])
      .toArray()
    for (const { id, seq } of there) {
      const { receivedAt } = byId.get(id as string)!
      await store.entries.raw.update(seq as number, { state: 'received', receivedAt })
      byId.delete(id as string)
    }
    await store.entries.raw.bulkAdd([...byId.values()])
    await store.lives.raw.bulkPut(livesHere)
    await store.lives.raw.bulkDelete(gone as never[])
    // What this device has not sent yet is its own business still.
    await store.entries.raw
      .where('case')
      .anyOf(gone)
      .filter(({ state }) => state === 'received')
      .delete()
    await store.serverCache.raw.put(place)
  })
  return entries.length + lives.length
}

/** Fetches what is defined and what is worked with, where it changed. @returns whether it fetched. */
export async function fetchWork(store: WorkStore, changed: boolean, definitions: string): Promise<boolean> {
  if ((await store.serverCache.get('key', 'stamp'))?.answer !== definitions) {
    await cacheDefinitions(store, await callApi('GET /api/desk/definitions', {}), definitions)
    changed = true
  }
  const fetchedAt = (await store.serverCache.get('key', 'workAt'))?.answer as number | undefined
  if (!changed && fetchedAt !== undefined && clockNow() - fetchedAt < WORK_GOOD_FOR) return false
  await cacheWork(store, await callApi('GET /api/desk/work', {}))
  return true
}
export async function cacheDefinitions(
  store: WorkStore,
  { registers, earlier, units }: DeskDefinitions,
  stamp: string,
): Promise<void> {
  await store.serverCache.put({ key: 'registers', answer: registers }, 'key')
  await store.serverCache.put({ key: 'units', answer: units }, 'key')
  // Earlier editions stay cached: forms begun in them are finished in them, and their entries are shown in
  // them.
  for (const one of [...registers, ...(earlier ?? [])])
    await store.serverCache.put({ key: `register|${one.register}|${one.edition}`, answer: one }, 'key')
  await store.serverCache.put({ key: 'stamp', answer: stamp }, 'key')
}
export async function cacheWork(store: WorkStore, work: DeskWork): Promise<void> {
  for (const [key, answer] of cacheEntriesOf(work)) await store.serverCache.put({ key, answer }, 'key')
  await store.serverCache.put({ key: 'workAt', answer: clockNow() }, 'key')
  await updateClosed(store, work)
}

/**
 * Updates the changes that were rejected because their round is closed: marks those that the office left out,
 * and makes the others pending again once the round is open to this facility. A reply file of an earlier
 * version names none.
 */
async function updateClosed(
  store: WorkStore,
  { due, leftOut = [] }: Pick<DeskWork, 'due'> & Partial<DeskWork>,
): Promise<void> {
  const rejected = (await store.changes.where('state', 'needsYou')).filter(({ why }) => isClosedCode(why))
  const reasons = new Map(leftOut.map(({ id, why }) => [id, why]))
  const open = new Set(
    [...due.now, ...(due.ahead ?? []), ...due.sent]
      .filter(({ round }) => clockNow() < Date.parse(round.closesAt))
      .map(({ round, unit }) => reportPlace(round.id, unit.code)),
  )
  for (const change of rejected) {
    const said = reasons.get(change.id)
    if (said !== undefined) await store.changes.put({ ...change, why: 'left-out', said }, 'id')
    else if (open.has(change.place)) await store.changes.set('id', change.id, { state: 'waiting' })
  }
}
