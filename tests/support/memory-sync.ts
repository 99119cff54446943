import type { Change, Field, Outcome } from '#core/sync/change'
import { mergeBatch, type FieldState, type Same } from '#core/sync/merge'
import { isNewer, queuePlace, stateAfterOutcome, type Queued } from '#core/sync/queue'

/**
 * A district and a device in memory around the rules of `core/sync`, as the database and the browser's
 * storage are around them in the application: for random histories that are too many for those.
 */
export interface FieldEvent<Content> extends Field<Content> {
  /** Counts from 1 over all fields: the cursor of devices that receive changes. */
  seq: number
  field: string
}

export interface MemoryDistrict<Content> extends FieldState<Content> {
  events: readonly FieldEvent<Content>[]
  conflicts: readonly { id: string; field: string; content: Content }[]
}

/** The answer to one change. */
export interface Answer<Content> {
  id: string
  field: string
  outcome: Outcome
  /** The field as it stands, the change taken into account. Undefined only where it was never answered. */
  here?: Field<Content>
}

export const emptyDistrict = <Content>(): MemoryDistrict<Content> => ({
  fields: new Map(),
  known: new Map(),
  events: [],
  conflicts: [],
})

export function applyBatch<Content>(
  district: MemoryDistrict<Content>,
  batch: readonly Change<Content>[],
  same: Same<Content>,
): { district: MemoryDistrict<Content>; answers: Answer<Content>[] } {
  const { state, merged } = mergeBatch(district, batch, same)
  const applied = merged.filter(({ decision }) => decision === 'apply')
  return {
    district: {
      ...state,
      events: [
        ...district.events,
        ...applied.map(({ change: { field }, now }, at) => ({
          seq: district.events.length + at + 1,
          field,
          ...now!,
        })),
      ],
      conflicts: [
        ...district.conflicts,
        ...merged.filter(({ decision }) => decision === 'conflict').map(({ change }) => change),
      ],
    },
    answers: merged.map(({ change: { id, field }, outcome, now }) => ({
      id,
      field,
      outcome,
      ...(now && { here: now }),
    })),
  }
}

/** What happened after an event, for a device that saw all up to there. */
export const since = <Content>({ events }: MemoryDistrict<Content>, seq: number): FieldEvent<Content>[] =>
  events.slice(seq)

export type Waiting<Content> = Change<Content> & Queued

/** Never changed in place. */
export interface MemoryDevice<Content> {
  /** The fields as last received from the server. */
  known: ReadonlyMap<string, Field<Content>>
  /** In the order in which they were made. */
  waiting: readonly Waiting<Content>[]
  /** Up to which event of the district it has seen all. */
  seen: number
}

export const emptyDevice = <Content>(): MemoryDevice<Content> => ({ known: new Map(), waiting: [], seen: 0 })

/** The content of a field as the person sees it: what was typed last, else what the server has. */
export const contentOn = <Content>(
  { known, waiting }: MemoryDevice<Content>,
  field: string,
): Content | undefined =>
  waiting.findLast(change => change.field === field)?.content ?? known.get(field)?.content

export function write<Content>(
  device: MemoryDevice<Content>,
  id: string,
  field: string,
  content: Content,
): MemoryDevice<Content> {
  const { replaces, base, after } = queuePlace(
    device.waiting.filter(change => change.field === field),
    device.known.get(field)?.version ?? 0,
  )
  const others = device.waiting.filter(change => !replaces.includes(change.id))
  const made = { id, field, base, ...(after !== undefined && { after }), content, left: false }
  return { ...device, waiting: [...others, made] }
}

/** Takes the next changes to send, oldest first. They count as left from now on, whether they arrive or not. */
export function nextBatch<Content>(
  device: MemoryDevice<Content>,
  most: number,
): { device: MemoryDevice<Content>; batch: Change<Content>[] } {
  const waiting = device.waiting.map((change, at) => (at < most ? { ...change, left: true } : change))
  return { device: { ...device, waiting }, batch: waiting.slice(0, most) }
}

function withNewest<Content>(
  known: ReadonlyMap<string, Field<Content>>,
  received: readonly (Field<Content> & { field: string })[],
): Map<string, Field<Content>> {
  const next = new Map(known)
  for (const { field, content, version, last } of received)
    if (isNewer({ version }, next.get(field))) next.set(field, { content, version, last })
  return next
}

/** The district answered: what it has is dropped here, nothing else is. */
export function acknowledge<Content>(
  device: MemoryDevice<Content>,
  answers: readonly Answer<Content>[],
): MemoryDevice<Content> {
  const stays = (id: string) => {
    const answer = answers.find(one => one.id === id)
    return !answer || stateAfterOutcome(answer.outcome) === 'waiting'
  }
  return {
    ...device,
    known: withNewest(
      device.known,
      answers.flatMap(({ field, here }) => (here ? [{ field, ...here }] : [])),
    ),
    waiting: device.waiting.filter(({ id }) => stays(id)),
  }
}

/** Applies events of the server. Events that were seen before are skipped; after a gap nothing is applied. */
export function hear<Content>(
  device: MemoryDevice<Content>,
  events: readonly FieldEvent<Content>[],
): MemoryDevice<Content> {
  let { seen } = device
  const next = events.filter(({ seq }) => {
    const isNext = seq === seen + 1
    if (isNext) seen = seq
    return isNext
  })
  return { ...device, known: withNewest(device.known, next), seen }
}
