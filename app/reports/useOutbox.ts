import { v7 as uuid } from 'uuid'
import type { DeskOutcome } from '#core/contract/desk'
import type { CellContent } from '#core/report/cell'
import { clockNow, deviceNow } from '../common/useClock'
import { whenDrawn } from '../common/whenDrawn'
import { saveCellChange, type SaveOptions } from '../device/useChangeQueue'
import { syncSoon, useDesk } from '../device/useDesk'
import { onOutcome } from '../device/useDeskSend'
import { useDeskStore, type ReceivedCell, type WaitingChange } from '../device/useDeskStore'
import { reportPlace } from '../device/useDeskWork'

/** The save state of a report: saved on this device, being sent, received by the server, or rejected. */
export type OutboxState =
  'idle' | 'saved' | 'sending' | 'received' | 'needsYou' | 'noNetwork' | 'signedOut' | 'waitsForWifi'

export interface OutboxOptions {
  round: string
  unit: string
  onOutcome: (change: WaitingChange, outcome: DeskOutcome) => void
}

/** A change that waits for the one before it to be stored. */
interface Unstarted {
  cell: string
  rest: SaveRest
  done: Promise<void>
}

/** Does a change decide about others, so that it must be stored as it was made? */
const decides = ([, , more]: SaveRest): boolean => Boolean(more?.settles?.length || more?.rejected?.length)

type SaveRest = [version: () => number, content: CellContent, more?: SaveOptions]

export interface Outbox {
  state: Ref<OutboxState>
  at: Ref<number>
  save: (cell: string, ...rest: SaveRest) => Promise<void>
  flush: () => Promise<void>
  /** Pending and rejected changes of this report, oldest first. */
  waiting: () => Promise<WaitingChange[]>
  /** Values that the server confirmed since this device was unlocked, by cell. */
  received: () => ReadonlyMap<string, ReceivedCell>
  /** Saves a comment on a cell. Missing where comments cannot be queued. */
  comment?: (cell: string, text: string) => Promise<void>
  drop: (ids: readonly string[]) => Promise<void>
}

/**
 * The pending changes of one report. Each is saved on this device at once, and is removed only after the
 * server has answered. The desk sends them together with everything else that is pending.
 */
export function useOutbox({ round, unit, onOutcome: tell }: OutboxOptions): Outbox {
  const store = useDeskStore()
  const desk = useDesk()
  const place = reportPlace(round, unit)
  const at = ref(0)
  const saved = ref<'idle' | 'saved' | 'received' | 'needsYou'>('idle')
  let saving: Promise<void> = Promise.resolve()

  const waiting = () => store.unsettled(place)

  const saveOne = async (cell: string, ...rest: SaveRest): Promise<void> => {
    await saveCellChange(store, { round, unit, cell }, ...rest)
    at.value = clockNow()
  }
  /** Changes that are being saved: the page says *saved* only when there are none. */
  let unsaved = 0
  let unstarted: Unstarted | null = null
  /**
   * Saves one after the other, in the order of typing. While one is being stored, the next content of a cell takes
   * the place of the one that waits: on a slow device the last key must not stand behind all keys before it.
   */
  const save: Outbox['save'] = (cell, ...rest) => {
    if (unstarted?.cell === cell && !decides(unstarted.rest) && !decides(rest)) {
      unstarted.rest = rest
      return unstarted.done
    }
    unsaved++
    const next: Unstarted = { cell, rest, done: Promise.resolve() }
    next.done = saving
      // A key is drawn first: on a slow phone opening a transaction takes a tenth of a key's time.
      .then(whenDrawn)
      .then(() => {
        if (unstarted === next) unstarted = null
        return saveOne(cell, ...next.rest)
      })
      .finally(() => {
        unsaved--
      })
      .then(() => {
        if (unsaved) return
        saved.value = 'saved'
        syncSoon()
      })
    unstarted = next
    // The caller reports a failed save. The next change is still saved.
    saving = next.done.catch(() => undefined)
    return next.done
  }

  async function comment(cell: string, text: string): Promise<void> {
    await desk.saveAct(place, {
      kind: 'comment',
      id: uuid(),
      madeAt: new Date(deviceNow()).toISOString(),
      round,
      unit,
      cell,
      text,
    })
  }

  /** Sends pending changes now. Does nothing, and asks no server, when nothing is pending. */
  async function flush(): Promise<void> {
    await saving
    await settle()
    if (saved.value !== 'saved') return
    await desk.sync()
    await settle()
  }
  /** The desk also syncs by itself: then the changes of this report were sent too. */
  async function settle(): Promise<void> {
    const states = new Set(
      (await store.changes.raw.where('place').equals(place).toArray()).map(({ state: of }) => of),
    )
    const next = states.has('waiting')
      ? 'saved'
      : states.has('needsYou')
        ? 'needsYou'
        : saved.value === 'idle'
          ? 'idle'
          : 'received'
    if (next === saved.value) return
    saved.value = next
    at.value = clockNow()
  }

  const state = computed<OutboxState>(() => {
    if (saved.value !== 'saved') return saved.value
    if (desk.state.value === 'busy') return 'sending'
    return desk.state.value === 'idle' || desk.state.value === 'blocked' ? 'saved' : desk.state.value
  })

  watch(desk.changes, settle)
  onScopeDispose(onOutcome(place, tell))
  return {
    state,
    at,
    save,
    flush,
    waiting,
    received: () => store.receivedOf(place),
    comment,
    drop: async ids => {
      await store.changes.remove('id', ids)
    },
  }
}
