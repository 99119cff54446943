import { blocksOf, candidatesFor, type Blocks } from './blocks'
import { likeness, LIKELY, type Likeness } from './score'
import type { Subject } from './subject'

/** Two cases that may be one subject. */
export interface LikelyPair extends Likeness {
  one: string
  other: string
}

export interface Duplicates {
  /** Likeliest first. */
  pairs: LikelyPair[]
  /** How many pairs were compared. */
  scored: number
  /** Blocks too large to be compared: what was not looked at is said. */
  leftOut: Blocks['leftOut']
}

const likeliestFirst = (one: Likeness, other: Likeness) => other.score - one.score

/** Finds the pairs among many subjects that may be one, comparing only those that share a block. */
export function findDuplicates(subjects: readonly Subject[], threshold = LIKELY): Duplicates {
  const blocks = blocksOf(subjects)
  const pairs: LikelyPair[] = []
  let scored = 0
  subjects.forEach((subject, at) => {
    for (const there of candidatesFor(subject, blocks)) {
      if (there <= at) continue
      scored++
      const found = likeness(subject, subjects[there]!)
      if (found.score >= threshold) pairs.push({ one: subject.id, other: subjects[there]!.id, ...found })
    }
  })
  return { pairs: pairs.sort(likeliestFirst), scored, leftOut: blocks.leftOut }
}

/** Those among known subjects that a new one may be, likeliest first: asked before it is kept. */
export function mayBe(
  subject: Subject,
  known: readonly Subject[],
  blocks: Blocks = blocksOf(known),
  threshold = LIKELY,
): LikelyPair[] {
  return [...candidatesFor(subject, blocks)]
    .map(at => ({ one: subject.id, other: known[at]!.id, ...likeness(subject, known[at]!) }))
    .filter(({ score, other }) => score >= threshold && other !== subject.id)
    .sort(likeliestFirst)
}
