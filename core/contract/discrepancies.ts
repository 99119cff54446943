import { Type, type Static } from '@sinclair/typebox'
import { DOUBT_SOURCES, type Doubt } from '../rule/find-doubts'
import type { Shift } from '../rollup/effect'
import type { Item, Words as CoreWords } from '../report/edition'
import { CaseLine } from './cases'
import { SettledConflicts, OpenConflict } from './reports'
import {
  CellContent,
  CellKey,
  Counter,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundId,
  RoundRef,
  Sentence,
  shapeOf,
  StateName,
  StrengthName,
  UnitCode,
  UnitRef,
  Uuid,
  Words,
} from './common'

export const DiscrepancyState = oneOf('open', 'asked', 'answered', 'settled', 'lapsed')
export const Outcome = oneOf('corrected', 'explained', 'dismissed')

export const DiscrepancyLine = exact({
  id: Uuid,
  unit: UnitRef,
  round: RoundRef,
  source: oneOf(...DOUBT_SOURCES),
  strength: StrengthName,
  state: DiscrepancyState,
  outcome: orNull(Outcome),
  holds: Type.Boolean(),
  /** The rule's name, or the cell's for a value out of range. */
  title: Words,
  /** Largest relative change of a district figure; null when no figure would move. */
  effect: orNull(Type.Number()),
})
export type DiscrepancyLine = Static<typeof DiscrepancyLine>

/** What of the work list is asked for. */
export const DISCREPANCY_FILTERS = [
  'unsettled',
  'toSettle',
  'mustFix',
  'explain',
  'answered',
  'settled',
] as const
export type DiscrepancyFilter = (typeof DISCREPANCY_FILTERS)[number]

export const DiscrepancyQuery = exact({
  /** One round; without it all unsettled ones, and the settled ones of rounds that are open. */
  round: Type.Optional(RoundId),
  unit: Type.Optional(UnitCode),
  filter: Type.Optional(oneOf(...DISCREPANCY_FILTERS)),
  /** The last one of the page before. */
  after: Type.Optional(Uuid),
})
export type DiscrepancyQuery = Static<typeof DiscrepancyQuery>

export const DiscrepancyCounts = exact({
  unsettled: Counter(),
  toSettle: Counter(),
  mustFix: Counter(),
  explain: Counter(),
  answered: Counter(),
  settled: Counter(),
})
export const DiscrepancyList = exact({
  lines: Type.Array(DiscrepancyLine),
  /** How many there are in all, by what can be asked for. */
  counts: DiscrepancyCounts,
  /** Are there more after these? */
  more: Type.Boolean(),
})

/**
 * One doubted cell: its item for people, what stands in it, and the unit's numbers over the last 13 periods.
 */
export const DoubtedCell = exact({
  cell: CellKey,
  name: Words,
  item: shapeOf<Item>('Its item: how it is answered'),
  content: CellContent,
  version: Type.Integer(),
  /** Oldest first, this round last. */
  trend: Type.Array(orNull(Type.Number())),
  /** What came from other devices against it, and nobody has decided. */
  conflicts: Type.Array(OpenConflict),
})

/** The cases that a rule counts. */
export const CountedCases = exact({
  /** The count as it is printed, and how it is called. */
  text: Type.String(),
  name: Words,
  /** How many there are; null where it cannot be said. */
  total: orNull(Counter()),
  /** The first of them. */
  lines: Type.Array(CaseLine),
})
export type CountedCases = Static<typeof CountedCases>

/** What was said and done about a discrepancy, in order. */
export const Thread = Type.Array(
  exact({ at: Instant, by: orNull(Type.String()), act: Type.String(), text: orNull(Type.String()) }),
)
export type Thread = Static<typeof Thread>

export const DiscrepancyFile = exact({
  line: DiscrepancyLine,
  district: UnitRef,
  reportState: StateName,
  doubt: shapeOf<Doubt>('The doubt with the numbers put in'),
  /** What the officer reads of the rule. */
  sentence: Words,
  forClerk: Words,
  items: shapeOf<Record<string, { item: Item; bands: Record<string, CoreWords> }>>(
    'Items that the doubt names',
  ),
  /** What the counts of cases that the doubt names are called, by their text. */
  counts: Type.Optional(Type.Record(Type.String(), Words)),
  cells: Type.Array(DoubtedCell),
  periods: Type.Array(Type.String()),
  range: orNull(exact({ low: Type.Number(), high: Type.Number() })),
  shifts: Type.Array(shapeOf<Shift>('What a cure would do to a district figure')),
  thread: Thread,
})
export type DiscrepancyFile = Static<typeof DiscrepancyFile>

export const Ask = exact({ text: Sentence })
/** A corrected value of a doubted cell. */
export const Correction = exact({
  cell: CellKey,
  base: Counter(),
  content: CellContent,
  settles: Type.Optional(SettledConflicts),
})
export type Correction = Static<typeof Correction>
export const Settle = exact({
  outcome: Outcome,
  text: Sentence,
  corrections: Type.Array(Correction, { maxItems: 50 }),
})
