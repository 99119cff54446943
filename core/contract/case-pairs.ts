import { Type, type Static } from '@sinclair/typebox'
import type { Likeness } from '../matching/score'
import { Code } from './drafts'
import { CaseFileView, CaseLine } from './cases'
import { Count, exact, Instant, oneOf, orNull, Sentence, shapeOf, UnitRef, Uuid } from './common'

/** `unlike`: an answer was corrected, and the two are not alike any more. */
export const PAIR_STATES = ['open', 'merged', 'apart', 'unlike'] as const
export type PairState = (typeof PAIR_STATES)[number]

/** One side of a pair. Without a line it is of another branch: only its facility is told. */
export const PairSide = exact({ id: Uuid, unit: UnitRef, line: orNull(CaseLine) })
export type PairSide = Static<typeof PairSide>

export const PairLine = exact({
  id: Uuid,
  register: Code,
  state: oneOf(...PAIR_STATES),
  /** From 0 to 1. */
  score: Type.Number(),
  parts: shapeOf<Likeness['parts']>('How alike each part is that both know, from 0 to 1'),
  foundAt: Instant,
  one: PairSide,
  other: PairSide,
})
export type PairLine = Static<typeof PairLine>

export const PairQuery = exact({
  state: Type.Optional(oneOf(...PAIR_STATES)),
  register: Type.Optional(Code),
  /** Those of one case, open and decided, in the place of those of a state. */
  case: Type.Optional(Uuid),
  after: Type.Optional(Uuid),
})
export type PairQuery = Static<typeof PairQuery>

export const PairList = exact({
  lines: Type.Array(PairLine),
  more: Type.Boolean(),
  counts: exact({ open: Count, merged: Count, apart: Count, unlike: Count }),
})
export type PairList = Static<typeof PairList>

export const PairFile = exact({
  line: PairLine,
  /** Each side as it stands by itself; null for one of another branch. */
  one: orNull(CaseFileView),
  other: orNull(CaseFileView),
  /** May the person decide? Only who sees both. */
  mine: Type.Boolean(),
  events: Type.Array(
    exact({
      at: Instant,
      by: Type.String(),
      act: oneOf('merged', 'apart', 'undone'),
      kept: orNull(Uuid),
      text: Type.String(),
    }),
  ),
})
export type PairFile = Static<typeof PairFile>

export const PairMerge = exact({ kept: Uuid })
export const PairApart = exact({ text: Sentence })
