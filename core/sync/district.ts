import type { Answer, Change, Conflict, Field } from './change'
import { decide, type KnownChange } from './decide'

/** One thing that happened to a field, in the order in which the district had it. */
export interface FieldEvent<Content> extends Field<Content> {
  /** Counts from 1 over all fields: the cursor of devices that receive changes. */
  seq: number
  field: string
}

/** The district's side. Never changed in place. */
export interface District<Content> {
  fields: ReadonlyMap<string, Field<Content>>
  /** Every change that ever came and was kept. */
  known: ReadonlyMap<string, KnownChange>
  events: readonly FieldEvent<Content>[]
  conflicts: readonly Conflict<Content>[]
}

export const emptyDistrict = <Content>(): District<Content> => ({
  fields: new Map(),
  known: new Map(),
  events: [],
  conflicts: [],
})

export type Same<Content> = (one: Content, other: Content) => boolean

/**
 * Applies a batch of changes one by one. If one is in conflict, the others are still applied. Applying a
 * batch twice changes nothing more.
 */
export function takeIn<Content>(
  district: District<Content>,
  batch: readonly Change<Content>[],
  same: Same<Content>,
): { district: District<Content>; answers: Answer<Content>[] } {
  const fields = new Map(district.fields)
  const known = new Map(district.known)
  const events = [...district.events]
  const conflicts = [...district.conflicts]
  const answers = batch.map((change): Answer<Content> => {
    const { id, field: name, content } = change
    const field = fields.get(name)
    const decision = decide(change, field, one => known.get(one), same)
    if (decision === 'apply') {
      const next: Field<Content> = { content, version: (field?.version ?? 0) + 1, last: id }
      fields.set(name, next)
      known.set(id, { standsFor: id })
      events.push({ seq: events.length + 1, field: name, ...next })
    } else if (decision === 'same') known.set(id, { standsFor: field!.last })
    else if (decision === 'conflict') {
      known.set(id, { standsFor: id })
      const at = conflicts.findIndex(
        conflict =>
          change.after !== undefined &&
          conflict.changes.includes(change.after) &&
          conflict.settledBy === undefined,
      )
      if (at < 0)
        conflicts.push({
          field: name,
          here: field ?? { content, version: 0, last: '' },
          changes: [id],
          content,
        })
      else conflicts[at] = { ...conflicts[at]!, changes: [...conflicts[at]!.changes, id], content }
    }
    const here = fields.get(name)
    const outcome = (
      {
        apply: 'received',
        repeat: 'alreadyHad',
        same: 'alreadyHad',
        conflict: 'conflict',
        early: 'early',
      } as const
    )[decision]
    return { id, field: name, outcome, ...(here && { here }) }
  })
  return { district: { fields, known, events, conflicts }, answers }
}

/** What happened after an event, for a device that saw all up to there. */
export const since = <Content>({ events }: District<Content>, seq: number): FieldEvent<Content>[] =>
  events.slice(seq)

/**
 * A person decides a conflict: the content that is right becomes a change of its own, with its place in the
 * history.
 */
export function settleConflict<Content>(
  district: District<Content>,
  conflict: Conflict<Content>,
  id: string,
  content: Content,
): District<Content> {
  const field = district.fields.get(conflict.field)
  const next: Field<Content> = { content, version: (field?.version ?? 0) + 1, last: id }
  return {
    fields: new Map(district.fields).set(conflict.field, next),
    known: new Map(district.known).set(id, { standsFor: id }),
    events: [...district.events, { seq: district.events.length + 1, field: conflict.field, ...next }],
    conflicts: district.conflicts.map(one => (one === conflict ? { ...one, settledBy: id } : one)),
  }
}
