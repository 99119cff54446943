import { ref, shallowRef } from 'vue'
import type { DeskRegister } from '#core/contract/desk-register'
import type { UnitList } from '#core/contract/units'
import { cleanJson } from '#core/contract/wire'
import { ApiProblem } from '../common/useApi'
import { clockNow, deviceNow } from '../common/useClock'
import { countNeedsYou, countWaiting } from './deviceSays'
import { fetchWork, receiveNews } from './useDeskReceive'
import { sendFiles, sendWaiting } from './useDeskSend'
import { useDeskStore, type StoredEntry, type WaitingChange, type WorkStore } from './useDeskStore'
import { tidyNowAndThen } from './useDeskTidy'
import type { SyncResult } from './useDeskWork'
import { onWifi } from './useDeviceHardware'

const FIRST_WAIT = 3_000
const LONGEST_WAIT = 5 * 60_000
const A_DAY = 24 * 60 * 60_000
const SYNCS_STORED = 20

export type DeskState = 'idle' | 'busy' | 'noNetwork' | 'signedOut' | 'blocked' | 'waitsForWifi'

const state = ref<DeskState>('idle')
const waiting = ref(0)
/** Number of rejected records: they stay here until a person looks at them. */
const needsYou = ref(0)
const syncs = shallowRef<SyncResult[]>([])
/** Rises when the store changed, so that lists reload. */
const changes = ref(0)
let timer: ReturnType<typeof setTimeout> | undefined
let wait = FIRST_WAIT
let running: Promise<void> | undefined
let queued: Promise<void> | undefined

/** How long a request may take before the cached answer is shown, in milliseconds. */
const PATIENCE = 800

/**
 * Fetches an answer and caches it on this device. Without a network the cached answer comes at once; on a
 * slow line it comes after {@link PATIENCE}, and the cache is updated when the request ends.
 */
export async function cachedFetch<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const store = useDeskStore()
  const cached = await store.serverCache.get('key', key)
  const request = ask().then(async answer => {
    await store.serverCache.put({ key, answer }, 'key')
    return answer
  })
  if (!cached) return request
  const soon = new Promise<T>(resolve => {
    setTimeout(() => resolve(cached.answer as T), state.value === 'noNetwork' ? 0 : PATIENCE)
  })
  return Promise.race([
    request.catch((error: unknown) => {
      if (error instanceof ApiProblem && error.unreachable) return cached.answer as T
      throw error
    }),
    soon,
  ])
}

/** The cached answer, or else a fetch: for what every sync refreshes when it changed. */
async function cacheFirst<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const cached = await useDeskStore().serverCache.get('key', key)
  return cached ? (cached.answer as T) : cachedFetch(key, ask)
}
export const deskRegisters = (): Promise<DeskRegister[]> =>
  cacheFirst('registers', () => callApi('GET /api/desk/registers', {}))
export const deskUnits = (): Promise<UnitList> => cacheFirst('units', () => callApi('GET /api/places', {}))

async function count(store: WorkStore): Promise<void> {
  waiting.value = await countWaiting(store)
  needsYou.value = await countNeedsYou(store)
}

/** Schedules the next automatic sync. */
function next(milliseconds: number): void {
  clearTimeout(timer)
  timer = setTimeout(() => void sync(), milliseconds)
}

async function syncOnce(byHand: boolean): Promise<void> {
  const vault = useVault()
  if (!vault.isOpen) return
  const store = useDeskStore()
  syncs.value = ((await store.serverCache.get('key', 'contacts'))?.answer as SyncResult[] | undefined) ?? []
  await count(store)
  const last = syncs.value.find(({ ended }) => ended === 'done')?.at ?? 0
  if (vault.device!.settings.wifiOnly && !onWifi() && !byHand && clockNow() - last < A_DAY) {
    state.value = 'waitsForWifi'
    // Tried again later: the device may be on Wi-Fi then, or the day may be over.
    next(LONGEST_WAIT)
    return
  }
  state.value = 'busy'
  let anyNews = false
  const result: SyncResult = {
    at: clockNow(),
    sent: 0,
    files: 0,
    refused: 0,
    received: 0,
    ended: 'broken',
    acted: false,
  }
  try {
    await sendWaiting(store, vault.device!.device, result)
    await sendFiles(store, result)
    const { changed, definitions } = await receiveNews(store, result)
    const fetched = await fetchWork(store, changed || result.acted, definitions)
    await tidyNowAndThen(store, vault.device!.settings.keepDays)
    anyNews = changed || fetched || result.acted
    result.ended = 'done'
    state.value = 'idle'
    wait = FIRST_WAIT
  } catch (error) {
    if (!vault.isOpen) return
    if (!(error instanceof ApiProblem)) {
      // An unexpected error: retry with a growing delay.
      state.value = 'idle'
      wait = Math.min(LONGEST_WAIT, wait * 2)
      next(wait)
      throw error
    }
    // A server that does not know this device may have been set up again: only a blocked device is erased.
    state.value =
      error.code === 'device-blocked' ? 'blocked' : error.status === 401 ? 'signedOut' : 'noNetwork'
    wait = Math.min(LONGEST_WAIT, wait * 2)
  }
  if (!vault.isOpen) return
  if (state.value === 'blocked') {
    await vault.erase()
    await navigateTo('/desk/pair?erased=1')
    return
  }
  syncs.value = [{ ...result, at: clockNow() }, ...syncs.value].slice(0, SYNCS_STORED)
  if (result.ended === 'done' || result.sent)
    await store.serverCache.put({ key: 'contacts', answer: syncs.value }, 'key')
  await count(store)
  // Lists reload only when something changed: most syncs bring nothing.
  if (anyNews || result.sent || result.files || result.refused || result.received) changes.value++
  next(waiting.value ? wait : LONGEST_WAIT)
}

/**
 * Syncs with the server: sends what is pending, receives what is new. One sync at a time; calls in the
 * meantime share the next one.
 */
export function sync(byHand = false): Promise<void> {
  if (running) {
    queued ??= running.then(() => {
      queued = undefined
      return sync(byHand)
    })
    return queued
  }
  running = syncOnce(byHand).finally(() => {
    running = undefined
  })
  return running
}

/** Schedules a sync for when typing pauses, instead of one for each key. */
export function syncSoon(): void {
  // While a sync runs, or after one failed, the next is already scheduled.
  if (state.value !== 'idle') return
  next(FIRST_WAIT)
}

/** The network is back: sync now instead of after the grown delay. */
export function networkCame(): void {
  wait = FIRST_WAIT
  void sync()
}

/** The sync state of this device, and saving of entries and acts. */
export function useDesk() {
  async function noteSaved(): Promise<void> {
    await count(useDeskStore())
    changes.value++
    void sync()
  }
  /** Saves a case entry on this device in place of its draft, then starts a sync. */
  async function saveEntry(entry: Omit<StoredEntry, 'state' | 'madeAt'>, draft?: string): Promise<void> {
    await useDeskStore().addEntry(
      { ...cleanJson(entry), madeAt: new Date(deviceNow()).toISOString(), state: 'waiting', own: true },
      draft,
    )
    await noteSaved()
  }
  /** Saves an act (sending a report, a comment, an answer), then starts a sync. */
  async function saveAct(place: string, change: WaitingChange['change']): Promise<void> {
    await useDeskStore().changes.put(
      { id: change.id, place, state: 'waiting', change: cleanJson(change) },
      'id',
    )
    await noteSaved()
  }
  /** Recounts and reloads after the store was changed outside a sync. */
  async function refresh(): Promise<void> {
    await count(useDeskStore())
    changes.value++
  }
  const lastSync = computed(() => syncs.value[0] ?? null)
  return { state, waiting, needsYou, syncs, lastSync, changes, saveEntry, saveAct, refresh, sync }
}
