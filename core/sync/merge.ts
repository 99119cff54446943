import type { Change, Field, Outcome } from './change'
import { decide, type Decision, type KnownChange } from './decide'

/** The district's side, or the part of it that one batch touches. Never changed in place. */
export interface FieldState<Content> {
  /** By the name of the field. */
  fields: ReadonlyMap<string, Field<Content>>
  /** Every change that ever came, by its identifier. */
  known: ReadonlyMap<string, KnownChange>
}

/** What became of one change of a batch. */
export interface Merged<Content, One extends Change<Content>> {
  change: One
  decision: Decision
  outcome: Outcome
  /** The field as it was before the change. Undefined where it was never answered. */
  before: Field<Content> | undefined
  /** The field as it stands after the change. */
  now: Field<Content> | undefined
}

export type Same<Content> = (one: Content, other: Content) => boolean

const OUTCOME_OF = { apply: 'received', same: 'alreadyHad', conflict: 'conflict', early: 'early' } as const

/**
 * Merges a batch of changes one by one, in the order in which they were made. If one is in conflict, the
 * others are still applied. A batch that comes twice changes nothing more.
 *
 * @param state must hold the fields of the batch, and the changes that it brings or follows, where there are
 *   any.
 * @param restored was the district put back from a backup not long ago?
 * @example mergeBatch({ fields: new Map(), known: new Map() }, [{ id: 'a', field: 'x', base: 0, content: 5 }], same)
 *   // the field x has content 5, version 1, last a; the one outcome is `received`
 */
export function mergeBatch<Content, One extends Change<Content>>(
  state: FieldState<Content>,
  batch: readonly One[],
  same: Same<Content>,
  restored = false,
): { state: FieldState<Content>; merged: Merged<Content, One>[] } {
  const fields = new Map(state.fields)
  const known = new Map(state.known)
  const merged = batch.map((change): Merged<Content, One> => {
    const { id, field, content } = change
    const before = fields.get(field)
    const decision = decide(change, before, one => known.get(one), same, restored)
    if (decision === 'apply') fields.set(field, { content, version: (before?.version ?? 0) + 1, last: id })
    if (decision === 'apply' || decision === 'conflict')
      known.set(id, { standsFor: id, isConflict: decision === 'conflict' })
    if (decision === 'same') known.set(id, { standsFor: before!.last, isConflict: false })
    const outcome =
      decision !== 'repeat' ? OUTCOME_OF[decision] : known.get(id)!.isConflict ? 'conflict' : 'alreadyHad'
    return { change, decision, outcome, before, now: fields.get(field) }
  })
  return { state: { fields, known }, merged }
}
