import type { Answer, Change, Field } from './change'
import type { FieldEvent } from './district'

/** A change that the district has not confirmed. */
export interface Waiting<Content> extends Change<Content> {
  /**
   * It left this device at least once, so the district may have it: from then on it is never altered, only
   * followed.
   */
  left: boolean
}

/** One device's side. Never changed in place. */
export interface Device<Content> {
  /** The fields as last received from the server. */
  known: ReadonlyMap<string, Field<Content>>
  /** In the order in which they were made. */
  waiting: readonly Waiting<Content>[]
  /** Up to which event of the district it has seen all. */
  seen: number
  /** Fields that need a person: the district has two contents. */
  conflicts: ReadonlySet<string>
}

export const emptyDevice = <Content>(): Device<Content> => ({
  known: new Map(),
  waiting: [],
  seen: 0,
  conflicts: new Set(),
})

/**
 * The content of a field as the person at the device sees it: what was typed last, else what the server has.
 */
export const contentOn = <Content>({ known, waiting }: Device<Content>, field: string): Content | undefined =>
  waiting.findLast(change => change.field === field)?.content ?? known.get(field)?.content

/** A person writes. What has not left yet is replaced; what has is followed by a change that names it. */
export function write<Content>(
  device: Device<Content>,
  id: string,
  field: string,
  content: Content,
): Device<Content> {
  const others = device.waiting.filter(change => change.field !== field || change.left)
  const before = others.findLast(change => change.field === field)
  const base = before ? before.base : (device.known.get(field)?.version ?? 0)
  return {
    ...device,
    waiting: [...others, { id, field, base, ...(before && { after: before.id }), content, left: false }],
  }
}

/**
 * Takes the next changes to send, oldest first. They count as left from now on, whether they arrive or not.
 */
export function nextBatch<Content>(
  device: Device<Content>,
  most: number,
): { device: Device<Content>; batch: Change<Content>[] } {
  const waiting = device.waiting.map((change, at) => (at < most ? { ...change, left: true } : change))
  return {
    device: { ...device, waiting },
    batch: waiting.slice(0, most).map(({ id, field, base, after, content }) => ({
      id,
      field,
      base,
      ...(after !== undefined && { after }),
      content,
    })),
  }
}

/** Keeps the newest of what is known of a field: answers and events may come in any order. */
function newest<Content>(known: Map<string, Field<Content>>, field: string, from: Field<Content>): void {
  if (from.version > (known.get(field)?.version ?? 0))
    known.set(field, { content: from.content, version: from.version, last: from.last })
}

/**
 * The district answered: what it has is dropped here, nothing else is. An answer that comes twice does no
 * harm.
 */
export function acknowledge<Content>(
  device: Device<Content>,
  answers: readonly Answer<Content>[],
): Device<Content> {
  const had = new Set(answers.filter(({ outcome }) => outcome !== 'early').map(({ id }) => id))
  const known = new Map(device.known)
  const conflicts = new Set(device.conflicts)
  for (const { field, outcome, here } of answers) {
    if (here) newest(known, field, here)
    if (outcome === 'conflict') conflicts.add(field)
  }
  return { ...device, known, conflicts, waiting: device.waiting.filter(({ id }) => !had.has(id)) }
}

/**
 * Applies events of the server. Events that were seen before are skipped; after a gap nothing is applied: ask
 * again from `seen`.
 */
export function hear<Content>(
  device: Device<Content>,
  events: readonly FieldEvent<Content>[],
): Device<Content> {
  const known = new Map(device.known)
  let seen = device.seen
  for (const event of events) {
    if (event.seq !== seen + 1) continue
    newest(known, event.field, event)
    seen = event.seq
  }
  return { ...device, known, seen }
}
