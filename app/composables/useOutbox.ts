import { v7 as uuid } from 'uuid'
import type { CellChange, DeskOutcome } from '#core/contract/desk'
import { cleanJson } from '#core/contract/wire'
import type { CellContent } from '#core/report/cell'
import { clockNow, deviceNow } from './useClock'
import { meetSoon, useDesk } from './useDesk'
import { onOutcome } from './useDeskSend'
import { useDeskStore, type ReceivedCell, type WaitingChange } from './useDeskStore'
import { reportPlace } from './useDeskWork'

/** What has become of what was typed: on this device only, on its way, with the district, or not taken by it. */
export type OutboxState = 'idle' | 'kept' | 'sending' | 'received' | 'needsYou' | 'noNetwork' | 'signedOut' | 'waitsForWifi'

export interface OutboxOptions {
  round: string
  unit: string
  onOutcome: (change: WaitingChange, outcome: DeskOutcome) => void
}

/** `settles`: the conflicts that the person saw and decides by this content. */
export interface KeepOptions { why?: string; settles?: readonly string[] }

export interface Outbox {
  state: Ref<OutboxState>
  at: Ref<number>
  keep: (cell: string, version: () => number, content: CellContent, more?: KeepOptions) => Promise<void>
  flush: () => Promise<void>
  /** What waits of this report, and what needs a person, in the order in which it was made. */
  waiting: () => Promise<WaitingChange[]>
  /** What the district has received of it since this device was unlocked, by cell. */
  received: () => ReadonlyMap<string, ReceivedCell>
  /** Writes a comment at a cell; missing where none can wait. */
  comment?: (cell: string, text: string) => Promise<void>
  drop: (ids: readonly string[]) => Promise<void>
}

/**
 * The changes of one report on their way to the district. Each is kept on this device the moment it is made, and is
 * dropped only after the server has said what became of it. The desk sends them with everything else.
 */
export function useOutbox({ round, unit, onOutcome: tell }: OutboxOptions): Outbox {
  const store = useDeskStore()
  const desk = useDesk()
  const place = reportPlace(round, unit)
  const at = ref(0)
  const kept = ref<'idle' | 'kept' | 'received' | 'needsYou'>('idle')
  let keeping: Promise<void> = Promise.resolve()

  const waiting = () => store.unsettled(place)

  /**
   * Keeps a change on this device, by the rule of docs/decisions/0010. A change of the same cell that has not left yet is
   * replaced by it; one that has is followed: a number alone would not do, because somebody else's change may have taken it.
   */
  async function keepOne(cell: string, version: () => number, content: CellContent, { why, settles }: KeepOptions = {}): Promise<void> {
    const change = cleanJson<CellChange>({
      kind: 'cell', id: uuid(), madeAt: new Date(deviceNow()).toISOString(), round, unit, cell, base: 0, content,
      ...(why && { why }),
    })
    const row = await store.changes.shut({ id: change.id, place, state: 'waiting', cell, change })
    await store.transaction(async () => {
      const ofCell = (await store.changes.raw.where('[place+cell]').equals([place, cell]).sortBy('seq')).filter(one => one.state === 'waiting')
      const replaced = ofCell.filter(({ left }) => !left)
      await store.changes.raw.bulkDelete(replaced.map(({ seq }) => seq as never))
      // What the replaced one decided is decided by this one.
      const decided = [...new Set([...(settles ?? []), ...replaced.flatMap(one => (one.settles as string[] | undefined) ?? [])])]
      const before = ofCell.findLast(({ left }) => left)
      await store.changes.raw.add({ ...row, base: before ? before.base : version(), ...(before && { after: before.id }), ...(decided.length && { settles: decided }) })
    })
    at.value = clockNow()
    kept.value = 'kept'
    meetSoon()
  }
  /** One after the other: what was typed first is kept first. */
  const keep: Outbox['keep'] = (...given) => {
    const own = keeping.then(() => keepOne(...given))
    // One that could not be kept is its caller's to tell; the next is tried all the same.
    keeping = own.catch(() => undefined)
    return own
  }

  async function comment(cell: string, text: string): Promise<void> {
    await desk.keepAct(place, { kind: 'comment', id: uuid(), madeAt: new Date(deviceNow()).toISOString(), round, unit, cell, text })
  }

  /** Sends what is waiting with everything else that does; where nothing waits, the district is not asked. */
  async function flush(): Promise<void> {
    await keeping
    await settle()
    if (kept.value !== 'kept') return
    await desk.meet()
    await settle()
  }
  /** The desk may meet the district by itself: what was kept here has then gone too. */
  async function settle(): Promise<void> {
    const states = new Set((await store.changes.raw.where('place').equals(place).toArray()).map(({ state: of }) => of))
    const next = states.has('waiting') ? 'kept' : states.has('needsYou') ? 'needsYou' : kept.value === 'idle' ? 'idle' : 'received'
    if (next === kept.value) return
    kept.value = next
    at.value = clockNow()
  }

  const state = computed<OutboxState>(() => {
    if (kept.value !== 'kept') return kept.value
    if (desk.state.value === 'busy') return 'sending'
    return desk.state.value === 'idle' || desk.state.value === 'blocked' ? 'kept' : desk.state.value
  })

  watch(desk.changes, settle)
  onScopeDispose(onOutcome(place, tell))
  return { state, at, keep, flush, waiting, received: () => store.receivedOf(place), comment, drop: async (ids) => { await store.changes.remove('id', ids) } }
}
