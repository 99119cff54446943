import { Type, type Static } from '@sinclair/typebox'
import type { CaseDoubt } from '../cases/case-doubts'
import { CaseLine } from './cases'
import { DISCREPANCY_FILTERS, DiscrepancyCounts, DiscrepancyState, Outcome, Thread } from './discrepancies'
import { Code } from './drafts'
import { exact, Instant, oneOf, orNull, shapeOf, StrengthName, UnitCode, Uuid, Words } from './common'

/** A discrepancy about a case, as lists show it. */
export const CaseDoubtLine = exact({
  id: Uuid,
  case: CaseLine,
  strength: StrengthName,
  state: DiscrepancyState,
  outcome: orNull(Outcome),
  holds: Type.Boolean(),
  /** The name of its rule. */
  title: Words,
  foundAt: Instant,
  /** The entry that it is about; null where it is about the case as a whole. */
  entry: orNull(Uuid),
})
export type CaseDoubtLine = Static<typeof CaseDoubtLine>

export const CaseDoubtQuery = exact({
  filter: Type.Optional(oneOf(...DISCREPANCY_FILTERS)),
  unit: Type.Optional(UnitCode),
  register: Type.Optional(Code),
  /** Those of one case, settled ones too. */
  case: Type.Optional(Uuid),
  /** The last one of the page before. */
  after: Type.Optional(Uuid),
})
export type CaseDoubtQuery = Static<typeof CaseDoubtQuery>

export const CaseDoubtList = exact({
  lines: Type.Array(CaseDoubtLine),
  /** How many there are in all, by what can be asked for. */
  counts: DiscrepancyCounts,
  more: Type.Boolean(),
})
export type CaseDoubtList = Static<typeof CaseDoubtList>

export const CaseDoubtFile = exact({
  line: CaseDoubtLine,
  doubt: shapeOf<CaseDoubt>('The doubt with the answers put in'),
  /** What the officer reads of the rule. */
  sentence: Words,
  forClerk: Words,
  thread: Thread,
})
export type CaseDoubtFile = Static<typeof CaseDoubtFile>
