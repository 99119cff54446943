import { ref, shallowRef } from 'vue'
import type { DeskRegister } from '#core/contract/desk'
import type { UnitList } from '#core/contract/units'
import { cleanJson } from '#core/contract/wire'
import { ApiProblem } from './useApi'
import { clockNow, deviceNow } from './useClock'
import { fetchWork, receiveNews } from './useDeskReceive'
import { sendFiles, sendWaiting } from './useDeskSend'
import { useDeskStore, type KeptEntry, type WaitingChange, type WorkStore } from './useDeskStore'
import { tidyNowAndThen } from './useDeskTidy'
import type { Contact } from './useDeskWork'
import { onWifi } from './useOutside'

const FIRST_WAIT = 3_000
const LONGEST_WAIT = 5 * 60_000
const A_DAY = 24 * 60 * 60_000
const CONTACTS_KEPT = 20

export type DeskState = 'idle' | 'busy' | 'noNetwork' | 'signedOut' | 'blocked' | 'waitsForWifi'

const state = ref<DeskState>('idle')
const waiting = ref(0)
/** What the district did not take: it stays here until a person looks at it. */
const needsYou = ref(0)
const contacts = shallowRef<Contact[]>([])
/** Counts what changed in the store, so that lists read it anew. */
const changes = ref(0)
let timer: ReturnType<typeof setTimeout> | undefined
let wait = FIRST_WAIT
let running: Promise<void> | undefined
let queued: Promise<void> | undefined

/**
 * What the district last told about something. What this device has comes at once where the line is dead, and soon where
 * it is slow: nobody waits for it.
 */
const PATIENCE = 800
export async function toldBy<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const store = useDeskStore()
  const kept = await store.told.get('key', key)
  const asked = ask().then(async (answer) => {
    await store.told.put({ key, answer }, 'key')
    return answer
  })
  if (!kept) return asked
  const soon = new Promise<T>((resolve) => { setTimeout(() => resolve(kept.answer as T), state.value === 'noNetwork' ? 0 : PATIENCE) })
  return Promise.race([asked.catch((error: unknown) => {
    if (error instanceof ApiProblem && error.unreachable) return kept.answer as T
    throw error
  }), soon])
}

/** What this device has of something, else the district's answer: for what is fetched anew at each contact when it changed. */
async function keptOr<T>(key: string, ask: () => Promise<T>): Promise<T> {
  const kept = await useDeskStore().told.get('key', key)
  return kept ? kept.answer as T : toldBy(key, ask)
}
export const deskRegisters = (): Promise<DeskRegister[]> => keptOr('registers', () => callApi('GET /api/desk/registers', {}))
export const deskUnits = (): Promise<UnitList> => keptOr('units', () => callApi('GET /api/places', {}))

const countWaiting = async (store: WorkStore): Promise<number> => await store.changes.count('state', 'waiting') + await store.entries.count('state', 'waiting') + await store.files.where('state').equals('waiting').count()

async function count(store: WorkStore): Promise<void> {
  waiting.value = await countWaiting(store)
  needsYou.value = await store.changes.count('state', 'needsYou') + await store.entries.count('state', 'refused') + await store.files.where('state').equals('refused').count()
}

/** Sets when this device meets the district next by itself. */
function next(milliseconds: number): void {
  clearTimeout(timer)
  timer = setTimeout(() => void meet(), milliseconds)
}

async function contact(byHand: boolean): Promise<void> {
  const vault = useVault()
  if (!vault.isOpen) return
  const store = useDeskStore()
  contacts.value = ((await store.told.get('key', 'contacts'))?.answer as Contact[] | undefined) ?? []
  await count(store)
  const last = contacts.value.find(({ ended }) => ended === 'done')?.at ?? 0
  if (vault.device!.settings.wifiOnly && !onWifi() && !byHand && clockNow() - last < A_DAY) {
    state.value = 'waitsForWifi'
    // Asked again by itself: a Wi-Fi may have come, or the day be over.
    next(LONGEST_WAIT)
    return
  }
  state.value = 'busy'
  let anyNews = false
  const told: Contact = { at: clockNow(), sent: 0, files: 0, refused: 0, heard: 0, ended: 'broken', acted: false }
  try {
    await sendWaiting(store, vault.device!.device, told)
    await sendFiles(store, told)
    const { changed, definitions } = await receiveNews(store, told)
    const fetched = await fetchWork(store, changed || told.acted, definitions)
    await tidyNowAndThen(store, vault.device!.settings.keepDays)
    anyNews = changed || fetched || told.acted
    told.ended = 'done'
    state.value = 'idle'
    wait = FIRST_WAIT
  }
  catch (error) {
    if (!vault.isOpen) return
    if (!(error instanceof ApiProblem)) {
      // Whatever went wrong here: it is tried again, later each time.
      state.value = 'idle'
      wait = Math.min(LONGEST_WAIT, wait * 2)
      next(wait)
      throw error
    }
    // A district that does not know this device may have been set up anew: only one that was blocked is erased.
    state.value = error.code === 'device-blocked' ? 'blocked' : error.status === 401 ? 'signedOut' : 'noNetwork'
    wait = Math.min(LONGEST_WAIT, wait * 2)
  }
  if (!vault.isOpen) return
  if (state.value === 'blocked') { await vault.erase(); await navigateTo('/desk/pair?erased=1'); return }
  contacts.value = [{ ...told, at: clockNow() }, ...contacts.value].slice(0, CONTACTS_KEPT)
  if (told.ended === 'done' || told.sent) await store.told.put({ key: 'contacts', answer: contacts.value }, 'key')
  await count(store)
  // Lists read this device anew only when something is another: most contacts bring nothing.
  if (anyNews || told.sent || told.files || told.refused || told.heard) changes.value++
  next(waiting.value ? wait : LONGEST_WAIT)
}

/** Meets the district: sends what waits, hears what is new. One meeting at a time; all who ask meanwhile share the one after it. */
export function meet(byHand = false): Promise<void> {
  if (running) {
    queued ??= running.then(() => { queued = undefined; return meet(byHand) })
    return queued
  }
  running = contact(byHand).finally(() => { running = undefined })
  return running
}

/** Something was kept while somebody types: it goes once they pause, and not at each key. */
export function meetSoon(): void {
  // Where a contact runs, or has failed, the next one is set already.
  if (state.value !== 'idle') return
  next(FIRST_WAIT)
}

/** A network came: what waits goes now, and not after the wait that has grown. */
export function networkCame(): void {
  wait = FIRST_WAIT
  void meet()
}

/** The device and its district: what waits, the contacts, and keeping something. */
export function useDesk() {
  async function noteKept(): Promise<void> {
    await count(useDeskStore())
    changes.value++
    void meet()
  }
  /** Keeps an entry on this device first, then lets it be sent. */
  async function keep(entry: Omit<KeptEntry, 'state' | 'madeAt'>): Promise<void> {
    await useDeskStore().entries.put({ ...cleanJson(entry), madeAt: new Date(deviceNow()).toISOString(), state: 'waiting', own: true }, 'id')
    await noteKept()
  }
  /** The same for an act or an answer. */
  async function keepAct(place: string, change: WaitingChange['change']): Promise<void> {
    await useDeskStore().changes.put({ id: change.id, place, state: 'waiting', change: cleanJson(change) }, 'id')
    await noteKept()
  }
  /** Something came by another way than a contact. */
  async function told(): Promise<void> {
    await count(useDeskStore())
    changes.value++
  }
  const lastContact = computed(() => contacts.value[0] ?? null)
  return { state, waiting, needsYou, contacts, lastContact, changes, keep, keepAct, told, meet }
}
