import { Type, type Static } from '@sinclair/typebox'
import type { Edition } from '../report/edition'
import {
  CellContent,
  CellKey,
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
} from './shared'

export const StoredCell = exact({ cell: CellKey, content: CellContent, version: Type.Integer() })
export type StoredCell = Static<typeof StoredCell>

export const CellMark = exact({
  discrepancy: Uuid,
  key: Type.String(),
  source: oneOf('rule', 'range'),
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
   * received,
   * and each cell's contents in their order.
   */
  history: exact({
    periods: Type.Array(Type.String()),
    received: Type.Array(Type.Integer()),
    numbers: Type.Record(Type.String(), Type.Array(orNull(Type.Number()))),
    notKnown: Type.Record(Type.String(), Type.Array(Type.Integer())),
    notOffered: Type.Record(Type.String(), Type.Array(Type.Integer())),
  }),
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

export const Change = exact({
  id: Uuid,
  cell: CellKey,
  /** The version of the cell that the change was made on; 0 for one that was never answered. */
  base: Counter(),
  /** The change of the same device that it was made on, while the district had not confirmed that one. */
  after: Type.Optional(Uuid),
  content: CellContent,
  why: Type.Optional(Type.String({ minLength: 2, maxLength: 2000 })),
  /** The conflicts that this content decides: those that the person saw, by their identifiers. */
  settles: Type.Optional(Type.Array(Uuid, { maxItems: 50 })),
})
export type Change = Static<typeof Change>

export const Changes = exact({
  origin: Type.String({ minLength: 1, maxLength: 60 }),
  changes: Type.Array(Change, { minItems: 1, maxItems: 500 }),
})

export const ChangeOutcome = exact({
  id: Uuid,
  cell: CellKey,
  /** `early`: the change that it was made on has not come yet; everything else the device may drop. */
  outcome: oneOf('received', 'alreadyHad', 'conflict', 'early', 'refused'),
  version: Type.Integer(),
  /** For a conflict: what stands there, and who put it. */
  theirs: Type.Optional(exact({ content: CellContent, by: Type.String(), at: Instant })),
  code: Type.Optional(Type.String()),
  message: Type.Optional(Type.String()),
})
export type ChangeOutcome = Static<typeof ChangeOutcome>

export const ChangesReceived = exact({
  state: StateName,
  receivedAt: Instant,
  outcomes: Type.Array(ChangeOutcome),
})
export type ChangesReceived = Static<typeof ChangesReceived>

export const SendReport = exact({
  /** A sentence for each doubt that asks for one, by the key of the doubt. */
  explanations: Type.Record(Type.String({ maxLength: 200 }), Type.String({ maxLength: 2000 }), {
    maxProperties: 500,
  }),
})

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
