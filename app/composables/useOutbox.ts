import { v7 as uuid } from 'uuid'
import type { ChangeOutcome, ChangesReceived } from '#core/contract/reports'
import type { CellContent } from '#core/report/cell'
import { useDeviceStore, type WaitingChange } from './useDeviceStore'
import { clockNow } from './useClock'

const FIRST_WAIT = 2_000
const LONGEST_WAIT = 60_000
/** The most changes in one request. */
const PIECE = 200

/** What has become of what was typed: on this device only, on its way, or with the district. */
export type OutboxState = 'idle' | 'kept' | 'sending' | 'received' | 'noNetwork' | 'signedOut' | 'refused'

export interface OutboxOptions {
  person: string
  round: string
  unit: string
  onOutcome: (change: WaitingChange, outcome: ChangeOutcome) => void
  onReceived: (answer: ChangesReceived) => void
}

/**
 * The changes of one report on their way to the district. Each is kept on this device the moment it is made, and is
 * dropped only after the server has said what became of it. Without a network it tries again, waiting longer each time.
 */
export function useOutbox({ person, round, unit, onOutcome, onReceived }: OutboxOptions) {
  const device = useDeviceStore()
  const place = `${person}|${round}|${unit}`
  const state = ref<OutboxState>('idle')
  const at = ref(0)
  const problem = shallowRef<ApiProblem | null>(null)
  const inFlight = new Set<string>()
  let seq = 0
  let wait = FIRST_WAIT
  let timer: ReturnType<typeof setTimeout> | undefined
  let running: Promise<void> | undefined

  const waiting = async () => (await device.changes.where('place').equals(place).toArray()).sort((one, other) => one.seq - other.seq)

  /**
   * Keeps a change on this device. A change of the same cell that has not left yet is replaced by it.
   * @param version gives the version of the cell that the server last told, at the moment when it is asked.
   */
  async function keep(cell: string, version: () => number, content: CellContent, why?: string): Promise<void> {
    await device.transaction('rw', device.changes, async () => {
      const ofCell = (await device.changes.where('place').equals(place).toArray()).filter(change => change.cell === cell)
      await device.changes.bulkDelete(ofCell.filter(({ id }) => !inFlight.has(id)).map(({ id }) => id))
      // One that is on its way will raise the version by one before this arrives.
      const base = version() + ofCell.filter(({ id }) => inFlight.has(id)).length
      seq = Math.max(seq + 1, clockNow())
      // A plain copy: the browser's database cannot keep Vue's reactive objects.
      await device.changes.add({ id: uuid(), place, seq, cell, base, content: { ...toRaw(content) }, ...(why && { why }) })
    })
    at.value = clockNow()
    if (state.value !== 'noNetwork' && state.value !== 'signedOut') state.value = 'kept'
  }

  async function sendPiece(piece: WaitingChange[]): Promise<void> {
    piece.forEach(({ id }) => inFlight.add(id))
    try {
      const changes = piece.map(({ id, cell, base, content, why }) => ({ id, cell, base, content, ...(why && { why }) }))
      const answer = await callApi('POST /api/reports/:round/:unit/changes', { params: { round, unit }, body: { origin: 'desk', changes } })
      const byId = new Map(piece.map(change => [change.id, change]))
      // All at once, before anything is waited for: a change that is made meanwhile sees either all of it or nothing.
      answer.outcomes.forEach(outcome => onOutcome(byId.get(outcome.id)!, outcome))
      piece.forEach(({ id }) => inFlight.delete(id))
      onReceived(answer)
      await device.changes.bulkDelete(answer.outcomes.map(({ id }) => id))
    }
    finally {
      piece.forEach(({ id }) => inFlight.delete(id))
    }
  }

  function tryLater() {
    clearTimeout(timer)
    timer = setTimeout(() => void flush(), wait)
    wait = Math.min(wait * 2, LONGEST_WAIT)
  }

  async function sendAll(): Promise<void> {
    try {
      for (let piece = (await waiting()).slice(0, PIECE); piece.length; piece = (await waiting()).slice(0, PIECE)) {
        state.value = 'sending'
        await sendPiece(piece)
        at.value = clockNow()
        state.value = 'received'
      }
      wait = FIRST_WAIT
      problem.value = null
    }
    catch (error) {
      if (!(error instanceof ApiProblem)) throw error
      problem.value = error
      state.value = error.unreachable || error.status >= 500 ? 'noNetwork' : error.status === 401 ? 'signedOut' : 'refused'
      if (state.value === 'noNetwork') tryLater()
    }
  }

  /** Sends what is waiting; a second call waits for the first, then sends what came since. */
  async function flush(): Promise<void> {
    while (running) await running
    running = sendAll().finally(() => { running = undefined })
    await running
  }

  const online = () => { wait = FIRST_WAIT; void flush() }
  onMounted(() => window.addEventListener('online', online))
  onBeforeUnmount(() => {
    window.removeEventListener('online', online)
    clearTimeout(timer)
  })
  const session = useSession()
  watch(() => session.signIns, () => void flush())

  return { state, at, problem, keep, flush, waiting }
}
