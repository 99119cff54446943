import type { Entry } from './fold'

/** Two cases that somebody found to be one. Both histories stay; taking the merge back is ending it. */
export interface Merge {
  /** The case that the other one became part of. */
  kept: string
  merged: string
  /** Taken back. */
  undone?: boolean
}

/** The case that a case is part of now: itself, or the one at the end of its merges. */
export function caseNow(id: string, merges: readonly Merge[]): string {
  const into = new Map(merges.filter(({ undone }) => !undone).map(({ merged, kept }) => [merged, kept]))
  const seen = new Set<string>()
  let at = id
  while (into.has(at) && !seen.has(at)) {
    seen.add(at)
    at = into.get(at)!
  }
  return at
}

/** Entries with the case that each belongs to now; the entries themselves stay as they were filled. */
export const withMerges = (entries: readonly Entry[], merges: readonly Merge[]): Entry[] =>
  entries.map(entry => ({ ...entry, case: caseNow(entry.case, merges) }))
