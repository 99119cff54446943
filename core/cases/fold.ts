import type { AnswerContent, Answers } from '../form/answer'
import { splitKey } from '../form/outline'
import { isAnswered } from '../report/cell'

/** One filled case form, kept for ever as it was filled. Instants are milliseconds since 1970 UTC. */
export interface Entry {
  id: string
  case: string
  /** Code of the form in its register. */
  form: string
  answers: Answers
  /** When it happened, which is not when it was typed; the start of its day where only the day is known. */
  happenedAt: number
  /** When the district got it. */
  receivedAt: number
  /** The entry that this one corrects: it takes its place, whole. */
  corrects?: string
}

/** How a case is looked at: what had happened, and what was known, before an instant. Both open without a word. */
export interface AsOf {
  happenedBefore?: number
  knownBefore?: number
}

/** An entry that counts, with those that it corrected, oldest first. */
export interface CountedEntry extends Entry {
  corrected: string[]
}

/** A value of a case, and where it is from. */
export interface CaseValue {
  content: AnswerContent
  /** The entry that gave it. */
  entry: string
  form: string
  happenedAt: number
}

/** A case: the latest known of its subject. */
export interface CaseFile {
  case: string
  /** By question (or cell) code, over all forms. */
  values: ReadonlyMap<string, CaseValue>
  /** The entries that count, in order. */
  entries: readonly CountedEntry[]
}

const inOrder = (one: Entry, other: Entry): number =>
  one.happenedAt - other.happenedAt || one.receivedAt - other.receivedAt || (one.id < other.id ? -1 : one.id > other.id ? 1 : 0)

const lastReceived = (one: Entry, other: Entry): Entry =>
  (one.receivedAt > other.receivedAt || (one.receivedAt === other.receivedAt && one.id > other.id) ? one : other)

/**
 * The entries that count: each corrected one replaced by its latest correction. Of two corrections of one entry the
 * later received counts. A correction of something that is not there stands for itself.
 */
export function countedEntries(entries: readonly Entry[], asOf: AsOf = {}): CountedEntry[] {
  const known = entries.filter(({ receivedAt }) => asOf.knownBefore === undefined || receivedAt < asOf.knownBefore)
  const ids = new Set(known.map(({ id }) => id))
  const corrections = new Map<string, Entry>()
  for (const entry of known) {
    if (entry.corrects === undefined) continue
    const other = corrections.get(entry.corrects)
    corrections.set(entry.corrects, other ? lastReceived(entry, other) : entry)
  }
  const counted = known.filter(({ corrects }) => corrects === undefined || !ids.has(corrects)).map((first): CountedEntry => {
    const corrected: string[] = []
    let latest = first
    for (let next = corrections.get(first.id); next; next = corrections.get(next.id)) {
      corrected.push(latest.id)
      latest = next
    }
    return { ...latest, corrected }
  })
  // Of what two devices corrected one is last; the other was still seen. A ring that corrects itself begins nowhere, and must not vanish.
  const reached = new Set(counted.flatMap(({ id, corrected }) => [id, ...corrected]))
  const ringed = known.filter(entry => !reached.has(entry.id) && endsInRing(entry, known)).map(entry => ({ ...entry, corrected: [] }))
  return [...counted, ...ringed]
    .filter(({ happenedAt }) => asOf.happenedBefore === undefined || happenedAt < asOf.happenedBefore)
    .sort(inOrder)
}

/** Does what an entry corrects lead back to where it was before, instead of to a first entry? */
function endsInRing(entry: Entry, known: readonly Entry[]): boolean {
  const seen = new Set<string>()
  for (let at: Entry | undefined = entry; at; at = known.find(({ id }) => id === at!.corrects)) {
    if (seen.has(at.id)) return true
    seen.add(at.id)
  }
  return false
}

/**
 * Folds the entries of one case into what is known of it: in order of event time, then of receipt, each answer takes the
 * place of the one before. A blank changes nothing, and *not known* does not hide what was known. A repeat is one
 * answer: a later list of children takes the place of the earlier list with all that was said of them.
 */
export function foldCase(id: string, entries: readonly Entry[], asOf: AsOf = {}): CaseFile {
  const counted = countedEntries(entries, asOf)
  const values = new Map<string, CaseValue>()
  for (const entry of counted) {
    const answers = Object.entries(entry.answers).filter(([, content]) => isAnswered(content))
    const repeats = new Set(answers.flatMap(([key]) => splitKey(key)?.repeat ?? []))
    for (const key of values.keys()) if (repeats.has(splitKey(key)?.repeat ?? '')) values.delete(key)
    for (const [key, content] of answers) {
      if (content.kind !== 'value' && values.get(key)?.content.kind === 'value') continue
      values.set(key, { content, entry: entry.id, form: entry.form, happenedAt: entry.happenedAt })
    }
  }
  return { case: id, values, entries: counted }
}

/** Folds the entries of many cases, each by itself. */
export function foldCases(entries: readonly Entry[], asOf: AsOf = {}): CaseFile[] {
  const byCase = new Map<string, Entry[]>()
  for (const entry of entries) {
    const known = byCase.get(entry.case)
    if (known) known.push(entry)
    else byCase.set(entry.case, [entry])
  }
  return [...byCase].map(([id, own]) => foldCase(id, own, asOf))
}
