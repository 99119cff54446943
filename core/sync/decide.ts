import type { Change, Field } from './change'

/** What the district knows of a change that came before. */
export interface KnownChange {
  /** The change that stands in its place: itself, or the one that had said the same before. */
  standsFor: string
  /** It was in conflict: its content never stood in the field. */
  isConflict: boolean
}

/** What to do with a change that comes. */
export type Decision = 'apply' | 'repeat' | 'same' | 'conflict' | 'early'

/**
 * The one rule of merging (docs/decisions/0010). A change is applied when it was made on what stands in the
 * field. One that came before is a repeat; one that says what stands there anyway is the same; one that was
 * made on a change still on its way is early; everything else was made on something that is gone, and is a
 * conflict.
 *
 * A change may also be made on a version that the district had once and lost, because it was put back from a
 * backup. While other devices are still sending what was lost, such a change is early.
 *
 * @param known what is known of a change by its identifier.
 * @param restored was the district put back from a backup not long ago?
 */
export function decide<Content>(
  change: Omit<Change<Content>, 'field'>,
  field: Field<Content> | undefined,
  known: (id: string) => KnownChange | undefined,
  same: (one: Content, other: Content) => boolean,
  restored = false,
): Decision {
  if (known(change.id)) return 'repeat'
  const before = change.after === undefined ? undefined : known(change.after)
  if (change.after !== undefined && !before) return 'early'
  if (!before && restored && change.base > (field?.version ?? 0)) return 'early'
  const madeOnThis = before ? field?.last === before.standsFor : (field?.version ?? 0) === change.base
  if (madeOnThis) return 'apply'
  return field && same(field.content, change.content) ? 'same' : 'conflict'
}
