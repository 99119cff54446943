import type { Outcome } from './change'

/** A change that the district has not confirmed, in the queue of a device. */
export interface Queued {
  id: string
  base: number
  after?: string
  /** The conflicts that its content decides. */
  settles?: readonly string[]
  /**
   * It left this device at least once, so the district may have it: from then on it is never altered, only
   * followed.
   */
  left?: boolean
}

/** The place of a new change in the queue of its field. */
export interface QueuePlace {
  base: number
  after?: string
  settles: string[]
  /** Changes that never left: the new one takes their place. */
  replaces: string[]
}

/**
 * Where a new change of a field goes. What has left is followed by a change that names it, because its
 * version may belong to somebody else's change. What has not left yet is replaced: the new one is made on
 * what that one was made on, because the person has not seen what the server has sent of the field since, and
 * decides what that one decided.
 *
 * @param queue the waiting changes of this field, oldest first.
 * @param version the version of the field that the server last sent.
 * @param settles the conflicts that the person saw and decides.
 */
export function queuePlace(
  queue: readonly Queued[],
  version: number,
  settles: readonly string[] = [],
): QueuePlace {
  const left = queue.findLast(one => one.left)
  const replaced = queue.filter(one => !one.left)
  // Somebody who decides a conflict has seen what stands in the field.
  const unseen = settles.length ? undefined : replaced[0]
  const madeOn = unseen ?? (left ? { base: left.base, after: left.id } : { base: version })
  return {
    base: madeOn.base,
    ...(madeOn.after !== undefined && { after: madeOn.after }),
    settles: [...new Set([...settles, ...replaced.flatMap(one => one.settles ?? [])])],
    replaces: replaced.map(({ id }) => id),
  }
}

/** A change on a device: pending, confirmed by the district, or in need of a person. */
export type QueueState = 'waiting' | 'confirmed' | 'needsYou'

/** What a change is after its answer. One that came early is sent again after the one that it was made on. */
export function stateAfterOutcome(outcome: Outcome | 'refused'): QueueState {
  if (outcome === 'early') return 'waiting'
  return outcome === 'conflict' || outcome === 'refused' ? 'needsYou' : 'confirmed'
}

/** Is a content that comes newer than what is known of its field? Answers and events may come in any order. */
export const isNewer = (received: { version: number }, known: { version: number } | undefined): boolean =>
  received.version > (known?.version ?? 0)
