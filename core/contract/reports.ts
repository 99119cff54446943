import { Type, type Static } from '@sinclair/typebox'
import type { Edition } from '../report/edition'
import { DOUBT_SOURCES } from '../rule/find-doubts'
import {
  CellContent,
  CellKey,
  CellValue,
  Counter,
  DayText,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundRef,
  Sentence,
  shapeOf,
  SignName,
  StateName,
  StrengthName,
  UnitRef,
  Uuid,
} from './common'

export const StoredCell = exact({ cell: CellKey, content: CellContent, version: Type.Integer() })
export type StoredCell = Static<typeof StoredCell>

export const CellMark = exact({
  discrepancy: Uuid,
  key: Type.String(),
  source: oneOf(...DOUBT_SOURCES),
  code: Type.String(),
  band: orNull(Type.String()),
  strength: StrengthName,
  state: Type.String(),
  cells: Type.Array(CellKey),
  holds: Type.Boolean(),
})

/** What came from another device against what stands in a cell. Its identifier is that of the change. */
export const OpenConflict = exact({
  id: Uuid,
  cell: CellKey,
  content: CellContent,
  by: Type.String(),
  device: orNull(Type.String()),
  at: Instant,
})
export type OpenConflict = Static<typeof OpenConflict>

/** What stands in a cell, and who put it there when. */
export const Standing = exact({
  cell: CellKey,
  by: Type.String(),
  device: orNull(Type.String()),
  at: Instant,
})
export type Standing = Static<typeof Standing>

/** Both sides of the conflicts of a report, in the order of their arrival. */
export const ConflictSides = exact({
  conflicts: Type.Array(OpenConflict),
  /** Of each cell that is in conflict; one that was never answered is not there. */
  standing: Type.Array(Standing),
})
export type ConflictSides = Static<typeof ConflictSides>

/** Which content of a cell holds, by a person who saw all of them. */
export const ConflictDecision = exact({
  cell: CellKey,
  /** The version of the cell that stood there when it was decided. */
  base: Counter(),
  content: CellContent,
  /** The conflicts of the cell that the person saw: all that are open. */
  seen: Type.Array(Uuid, { minItems: 1, maxItems: 50 }),
})
export type ConflictDecision = Static<typeof ConflictDecision>
export const ConflictDecisions = exact({
  decisions: Type.Array(ConflictDecision, { minItems: 1, maxItems: 500 }),
})

/** The conflicts that a content decides: those that the person saw, by their identifiers. */
export const SettledConflicts = Type.Array(Uuid, { maxItems: 50 })

/** A change that was made on a device before the round closed and arrived after it: the officer decides. */
export const LateChange = exact({
  id: Uuid,
  kind: oneOf('cell', 'send', 'comment', 'answer'),
  /** For a cell or a comment. */
  cell: orNull(CellKey),
  content: orNull(CellContent),
  by: Type.String(),
  device: Type.String(),
  madeAt: Instant,
  arrivedAt: Instant,
  /** Why it could not be applied when the facility was let in. */
  problem: orNull(Type.String()),
})
export type LateChange = Static<typeof LateChange>

/** The last day on which a facility may fill and send a report after its round closed. */
export const LetIn = exact({ day: DayText, why: Sentence })
export const LetInDone = exact({ until: Instant, applied: Counter(), left: Counter() })

/**
 * One unit's report in one round with everything that is needed to fill and to check it, also without a
 * network.
 */
export const ReportFile = exact({
  round: RoundRef,
  unit: UnitRef,
  district: UnitRef,
  state: StateName,
  sign: SignName,
  receivedAt: orNull(Instant),
  sentBackWhy: orNull(Type.String()),
  edition: shapeOf<Edition>('The edition that the report is filled in'),
  cells: Type.Array(StoredCell),
  /**
   * The same unit's reports before, newest first, as far as the edition looks back: periods, whether each was
   * received, and each cell's contents in their order.
   */
  history: exact({
    periods: Type.Array(Type.String()),
    received: Type.Array(Type.Integer()),
    numbers: Type.Record(Type.String(), Type.Array(orNull(Type.Number()))),
    values: Type.Optional(Type.Record(Type.String(), Type.Array(orNull(CellValue)))),
    notKnown: Type.Record(Type.String(), Type.Array(Type.Integer())),
    notOffered: Type.Record(Type.String(), Type.Array(Type.Integer())),
  }),
  /**
   * What its rules read of other datasets, by dataset: rolled up to the report's period and to those before
   * it, with how many of their reports are in.
   */
  others: Type.Optional(
    Type.Record(
      Type.String(),
      exact({
        periods: Type.Array(Type.String()),
        numbers: Type.Record(Type.String(), Type.Array(orNull(Type.Number()))),
        received: Type.Array(Counter()),
        expected: Type.Array(Counter()),
      }),
    ),
  ),
  /** How many cases the counts of its rules make, by their text, for the report's period and those before it. */
  counts: Type.Optional(
    exact({
      periods: Type.Array(Type.String()),
      numbers: Type.Record(Type.String(), Type.Array(orNull(Type.Number()))),
    }),
  ),
  discrepancies: Type.Array(CellMark),
  comments: Type.Record(Type.String(), Type.Integer()),
  /** What came from another device against what stands there, and nobody has decided since. */
  conflicts: Type.Array(OpenConflict),
  /** What arrived after the round closed, for those who decide about it. */
  late: Type.Array(LateChange),
  /** Whether the facility was let in after closing: until when, why, and by whom. */
  letIn: orNull(exact({ until: Instant, why: Type.String(), by: Type.String() })),
})
export type ReportFile = Static<typeof ReportFile>

/** For a change in conflict: what stands in the cell, and who put it there. */
export const Theirs = exact({ content: CellContent, by: Type.String(), at: Instant })
export type Theirs = Static<typeof Theirs>

export const ReportState = exact({ state: StateName, receivedAt: orNull(Instant) })

export const CellStory = exact({
  events: Type.Array(
    exact({
      at: Instant,
      by: Type.String(),
      origin: Type.String(),
      old: CellContent,
      new: CellContent,
      why: orNull(Type.String()),
    }),
  ),
  comments: Type.Array(exact({ at: Instant, by: Type.String(), text: Type.String() })),
})
export type CellStory = Static<typeof CellStory>
