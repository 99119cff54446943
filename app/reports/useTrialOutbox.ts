import type { Outbox } from './useOutbox'

/** An outbox that saves and sends nothing: for trying an unpublished form. */
export function useTrialOutbox(): Outbox {
  const nothing = () => Promise.resolve()
  return {
    state: ref('idle'),
    at: ref(0),
    save: nothing,
    flush: nothing,
    drop: nothing,
    waiting: () => Promise.resolve([]),
    received: () => new Map(),
  }
}
