import type { AnswerContent, Answers } from '../form/answer'
import { splitKey } from '../form/outline'
import { isAnswered } from '../report/cell'
import { same } from '../same'

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

/** An entry as the district keeps it: the day on which it happened, and when it was received. */
export interface KeptEntry extends Pick<Entry, 'id' | 'case' | 'form' | 'answers'> {
  /** As 2026-10-05. */
  happenedOn: string
  /** RFC 3339. */
  receivedAt: string
  corrects: string | null
}

/** What the district keeps, as cases are folded from it. */
export const entryOfKept = (kept: KeptEntry): Entry => ({
  id: kept.id,
  case: kept.case,
  form: kept.form,
  answers: kept.answers,
  happenedAt: Date.parse(kept.happenedOn),
  receivedAt: Date.parse(kept.receivedAt),
  ...(kept.corrects && { corrects: kept.corrects }),
})

/** What is known of a case, without where it is from: what expressions and comparisons need of it. */
export type KnownCase = Pick<CaseFile, 'case' | 'entries'> & {
  values: ReadonlyMap<string, Pick<CaseValue, 'content'>>
}

/** A case of which only the known answers are at hand. */
export const caseOfKnown = (id: string, known: Answers): KnownCase => ({
  case: id,
  values: new Map(Object.entries(known).map(([code, content]) => [code, { content }])),
  entries: [],
})

/**
 * How a case is looked at: what had happened, and what was known, before an instant. Both open without a
 * word.
 */
export interface AsOf {
  happenedBefore?: number
  knownBefore?: number
}

/** An entry that counts, with those that it corrected, oldest first. */
export interface CountedEntry extends Entry {
  corrected: string[]
  /**
   * Corrections of the same entry that say something else, and that nobody has corrected since: two people
   * corrected it without knowing of each other. A person decides; see {@link decideBetween}.
   */
  rivals: readonly Entry[]
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
  one.happenedAt - other.happenedAt ||
  one.receivedAt - other.receivedAt ||
  (one.id < other.id ? -1 : one.id > other.id ? 1 : 0)

const lastReceived = (one: Entry, other: Entry): Entry =>
  one.receivedAt > other.receivedAt || (one.receivedAt === other.receivedAt && one.id > other.id)
    ? one
    : other

/** Do two entries give the same answers? */
function sameAnswers(one: Entry, other: Entry): boolean {
  const answered = (answers: Answers) =>
    Object.fromEntries(Object.entries(answers).filter(([, content]) => isAnswered(content)))
  return same(answered(one.answers), answered(other.answers))
}

/**
 * The entries that count: each corrected one replaced by its last correction. Where two people corrected one
 * entry, each correction is followed to its end, so that what somebody said last is never passed over: the
 * end that was received last counts, and the others are its rivals where they say something else. A
 * correction of something that is not there stands for itself.
 */
export function countedEntries(entries: readonly Entry[], asOf: AsOf = {}): CountedEntry[] {
  const known = entries.filter(
    ({ receivedAt }) => asOf.knownBefore === undefined || receivedAt < asOf.knownBefore,
  )
  const happened = ({ happenedAt }: Entry) =>
    asOf.happenedBefore === undefined || happenedAt < asOf.happenedBefore
  // Most cases have no corrections, and a hundred thousand entries are folded in one go.
  if (known.every(({ corrects }) => corrects === undefined))
    return known
      .filter(happened)
      .map(entry => ({ ...entry, corrected: [], rivals: [] }))
      .sort(inOrder)
  const byId = new Map(known.map(entry => [entry.id, entry]))
  const corrections = new Map<string, Entry[]>()
  for (const entry of known) {
    if (entry.corrects !== undefined)
      corrections.set(entry.corrects, [...(corrections.get(entry.corrects) ?? []), entry])
  }
  const reached = new Set<string>()
  const counted = known
    .filter(({ corrects }) => corrects === undefined || !byId.has(corrects))
    .map((first): CountedEntry => {
      const ends: Entry[] = []
      const next = [first]
      for (let entry = next.pop(); entry; entry = next.pop()) {
        reached.add(entry.id)
        const later = corrections.get(entry.id) ?? []
        if (later.length) next.push(...later)
        else ends.push(entry)
      }
      const latest = ends.reduce(lastReceived)
      const corrected: string[] = []
      for (let before = latest; before !== first;) {
        before = byId.get(before.corrects!)!
        corrected.unshift(before.id)
      }
      return {
        ...latest,
        corrected,
        rivals: ends.filter(end => end !== latest && !sameAnswers(end, latest)).sort(inOrder),
      }
    })
  // A ring that corrects itself begins nowhere, and must not vanish.
  const ringed = known
    .filter(entry => !reached.has(entry.id) && endsInRing(entry, known))
    .map((entry): CountedEntry => ({ ...entry, corrected: [], rivals: [] }))
  return [...counted, ...ringed].filter(happened).sort(inOrder)
}

/**
 * What a person adds who decides between corrections: each other end is corrected to what the chosen one
 * says, so that all ends say the same and nothing is lost of how it came to that.
 * @param chosen the entry that counts, or one of its rivals.
 */
export const decideBetween = (
  entry: CountedEntry,
  chosen: Pick<Entry, 'id' | 'answers'>,
): { corrects: string; answers: Answers }[] =>
  [entry, ...entry.rivals]
    .filter(({ id }) => id !== chosen.id)
    .map(({ id }) => ({ corrects: id, answers: chosen.answers }))

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
 * Folds the entries of one case into what is known of it: in order of event time, then of receipt, each
 * answer takes the place of the one before. A blank changes nothing, and *not known* does not hide what was
 * known. A repeat is one answer: a later list of children, also an empty one, takes the place of the earlier
 * list with all that was said of them.
 */
export function foldCase(id: string, entries: readonly Entry[], asOf: AsOf = {}): CaseFile {
  const counted = countedEntries(entries, asOf)
  const values = new Map<string, CaseValue>()
  /** The keys inside repeats, by their repeat. */
  const repeated = new Map<string, Set<string>>()
  for (const { id: entry, form, happenedAt, answers: given } of counted) {
    const answered = Object.keys(given).filter(key => isAnswered(given[key]))
    if (repeated.size) {
      // The key of a repeat holds its list: an empty one says that there is nobody any more.
      for (const repeat of new Set(answered.map(key => splitKey(key)?.repeat ?? key))) {
        repeated.get(repeat)?.forEach(key => values.delete(key))
        repeated.delete(repeat)
      }
    }
    for (const key of answered) {
      const content = given[key]!
      if (content.kind !== 'value' && values.get(key)?.content.kind === 'value') continue
      values.set(key, { content, entry, form, happenedAt })
      const repeat = key.includes('/') ? splitKey(key)?.repeat : undefined
      if (repeat) repeated.set(repeat, (repeated.get(repeat) ?? new Set()).add(key))
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
