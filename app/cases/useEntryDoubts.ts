import { findCaseDoubts, type CaseDoubt } from '#core/cases/case-doubts'
import { foldCase, type CaseFile, type Entry } from '#core/cases/fold'
import type { RunnableRegister } from '#core/cases/runnable-register'
import { same } from '#core/same'
import { entryOf, type DeskCase } from './useCases'

/** A case as it was before an entry that is being filled. */
export interface CaseBefore {
  entries: Entry[]
  /** The case that it belongs to. */
  parent: CaseFile | undefined
  doubts: CaseDoubt[]
}

/**
 * What is known of a case before an entry is filled; it stays the same while somebody types.
 *
 * @param parent the case that a new one will belong to
 * @param cases the cases of this device
 * @param today the day number that `today()` gives
 */
export function caseBefore(
  register: RunnableRegister,
  { id, parent }: { id: string; parent: string | null },
  cases: readonly DeskCase[],
  today: number,
): CaseBefore {
  const known = cases.find(one => one.id === id)
  const parentId = parent ?? known?.entries.find(entry => entry.parent)?.parent
  const parentFile = parentId === undefined ? undefined : cases.find(one => one.id === parentId)?.file
  return {
    entries: (known?.entries ?? []).map(one => entryOf(register.register, one)),
    parent: parentFile,
    doubts: known ? findCaseDoubts(register, [known.file], [parentFile], today)[0]! : [],
  }
}

/**
 * The doubts that an entry raises: those of its case as it would be with it, without those that the case had
 * before and about which it says nothing new.
 */
export function doubtsOfEntry(
  register: RunnableRegister,
  entry: Parameters<typeof entryOf>[1],
  { entries, parent, doubts }: CaseBefore,
  today: number,
): CaseDoubt[] {
  const after = foldCase(entry.case, [...entries, entryOf(register.register, entry)])
  return findCaseDoubts(register, [after], [parent], today)[0]!.filter(
    doubt => !doubts.some(one => one.key === doubt.key && same(one.answers, doubt.answers)),
  )
}

/** Must somebody say something about a doubt before its entry is saved? A note is only shown. */
export const needsSentence = ({ strength }: CaseDoubt): boolean => strength !== 'note'

/** Doubts about which somebody must say something, and has not. */
export const unsaidOf = (
  doubts: readonly CaseDoubt[],
  explanations: Readonly<Record<string, string>>,
): CaseDoubt[] =>
  doubts.filter(doubt => needsSentence(doubt) && (explanations[doubt.key]?.trim().length ?? 0) < 2)

/** What is said of doubts, as it is sent; null where nothing is. */
export function saidOf(
  doubts: readonly CaseDoubt[],
  explanations: Readonly<Record<string, string>>,
): Record<string, string> | null {
  const said = doubts.flatMap(({ key }) => {
    const text = explanations[key]?.trim()
    return text ? [[key, text] as const] : []
  })
  return said.length ? Object.fromEntries(said) : null
}
