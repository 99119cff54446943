import { Type, type Static } from '@sinclair/typebox'
import { RECOUNT_VERDICTS } from '../quality/recount-factor'
import { LARGEST_COUNT } from '../report/cell'
import type { Edition } from '../report/edition'
import { VISIT_WHYS } from '../visit/why-visit'
import {
  CellKey,
  Count,
  Counter,
  DayText,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundRef,
  Sentence,
  shapeOf,
  UnitCode,
  UnitRef,
  Uuid,
  Words,
} from './common'
import { VISIBLE } from './wire'

const VisitReason = exact({
  why: oneOf(...VISIT_WHYS),
  value: Type.Number({ minimum: 0 }),
  of: orNull(Count),
})

/** A facility that a visit would help, and why. */
export const VisitProposal = exact({
  unit: UnitRef,
  /** What it lies in. */
  zone: UnitRef,
  reasons: Type.Array(VisitReason),
  effect: orNull(Type.Number()),
  lastVisit: orNull(DayText),
  /** The day for which a visit is planned. */
  plannedFor: orNull(DayText),
})
export type VisitProposal = Static<typeof VisitProposal>
export const VisitProposalQuery = exact({
  unit: Type.Optional(UnitCode),
  /** How many are passed over: the list is made anew by what the data say now. */
  skip: Type.Optional(Type.Integer({ minimum: 0, maximum: 100_000 })),
})
export type VisitProposalQuery = Static<typeof VisitProposalQuery>
export const VisitProposals = exact({
  lines: Type.Array(VisitProposal),
  more: Type.Boolean(),
  /** Facilities with a reason, and facilities that are open. */
  counts: exact({ withReason: Count, facilities: Count }),
})
export type VisitProposals = Static<typeof VisitProposals>

export const VISIT_STATES = ['planned', 'made', 'dropped'] as const
export type VisitState = (typeof VISIT_STATES)[number]
const Person = Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE })

export const VisitNew = exact({
  /** Of this act: sent twice, it changes nothing more. */
  id: Uuid,
  unit: UnitCode,
  plannedFor: DayText,
  note: Type.Optional(Sentence),
})
export type VisitNew = Static<typeof VisitNew>

/** What becomes of a visit: it was made, it is dropped, or it is planned (again). */
export const VisitMove = Type.Union([
  exact({ to: Type.Literal('made'), day: DayText, by: Person, text: Type.Optional(Sentence) }),
  exact({ to: Type.Literal('dropped'), text: Sentence }),
  exact({ to: Type.Literal('planned'), day: DayText }),
])
export type VisitMove = Static<typeof VisitMove>

export const VisitLine = exact({
  id: Uuid,
  unit: UnitRef,
  plannedFor: DayText,
  plannedBy: Type.String(),
  reasons: Type.Array(VisitReason),
  note: orNull(Type.String()),
  state: oneOf(...VISIT_STATES),
  madeOn: orNull(DayText),
  madeBy: orNull(Type.String()),
  outcome: orNull(Type.String()),
  /** Cells that were counted again at this visit. */
  recounted: Count,
  /** Cases of registers whose subject is a facility, opened on the day of the visit: its visit forms. */
  forms: Count,
})
export type VisitLine = Static<typeof VisitLine>
export const VisitQuery = exact({
  show: Type.Optional(oneOf(...VISIT_STATES)),
  unit: Type.Optional(UnitCode),
  after: Type.Optional(Uuid),
})
export type VisitQuery = Static<typeof VisitQuery>
export const VisitList = exact({
  lines: Type.Array(VisitLine),
  more: Type.Boolean(),
  counts: exact({ planned: Count, made: Count, dropped: Count }),
})
export type VisitList = Static<typeof VisitList>

/** A report that can be counted again, of one facility. */
export const RecountChoice = exact({ round: RoundRef, receivedAt: Instant, recounted: Count })
export const RecountChoices = exact({
  unit: UnitRef,
  rounds: Type.Array(RecountChoice),
  /** Registers whose subject is a facility: the forms of a visit. */
  registers: Type.Array(exact({ code: Type.String(), name: Words })),
  /** The visit that is planned. */
  planned: orNull(Uuid),
})
export type RecountChoices = Static<typeof RecountChoices>

/** Recounted against reported; the factor is null where it is no number. */
const compared = {
  recounted: Type.Number(),
  reported: orNull(Type.Number()),
  factor: orNull(Type.Number()),
  verdict: oneOf(...RECOUNT_VERDICTS),
}
export const ComparedCell = exact({
  cell: CellKey,
  ...compared,
  on: DayText,
  by: Type.String(),
})
export type ComparedCell = Static<typeof ComparedCell>

/**
 * What is needed to count a report again. What the report says is told only of cells that were counted: who
 * knows the number finds it.
 */
export const RecountSheet = exact({
  round: RoundRef,
  unit: UnitRef,
  edition: shapeOf<Edition>('The edition that the report is filled in'),
  /** Cells that can be counted: typed numbers that the unit offers. */
  cells: Type.Array(CellKey),
  counted: Type.Array(ComparedCell),
  /** The recounts of this report that hold, the newest first. */
  recounts: Type.Array(
    exact({
      id: Uuid,
      countedOn: DayText,
      countedBy: Type.String(),
      onPaper: Type.Boolean(),
      by: Type.String(),
      at: Instant,
      cells: Count,
    }),
  ),
})
export type RecountSheet = Static<typeof RecountSheet>

export const RecountNew = exact({
  /** Of this act: sent twice, it changes nothing more. */
  id: Uuid,
  /** The visit at which it was counted. */
  visit: Type.Optional(Uuid),
  countedOn: DayText,
  countedBy: Person,
  onPaper: Type.Boolean(),
  cells: Type.Array(exact({ cell: CellKey, value: Type.Number({ minimum: 0, maximum: LARGEST_COUNT }) }), {
    minItems: 1,
    maxItems: 500,
  }),
})
export type RecountNew = Static<typeof RecountNew>

const ComparedItem = exact({
  dataset: Words,
  item: Words,
  ...compared,
  /** Cells that were counted and are numbers in the report, and of how many reports. */
  cells: Counter(),
  reports: Counter(),
})
export type ComparedItem = Static<typeof ComparedItem>
export const VerificationQuery = exact({
  unit: Type.Optional(UnitCode),
  /** A quarter as 2026-Q3; left out, the present one. */
  quarter: Type.Optional(Type.String({ pattern: '^[0-9]{4}-Q[1-4]$' })),
  after: Type.Optional(UnitCode),
})
export type VerificationQuery = Static<typeof VerificationQuery>
/** How far what facilities reported in a quarter was verified by counting again. */
export const Verification = exact({
  /** Of the whole branch. */
  totals: Type.Array(ComparedItem),
  lines: Type.Array(exact({ unit: UnitRef, items: Type.Array(ComparedItem) })),
  more: Type.Boolean(),
})
export type Verification = Static<typeof Verification>
