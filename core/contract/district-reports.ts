import { Type, type Static } from '@sinclair/typebox'
import type { Item } from '../report/edition'
import {
  CellValue,
  DistrictState,
  exact,
  Instant,
  oneOf,
  orNull,
  RollUpName,
  RoundRef,
  shapeOf,
  StrengthName,
  UnitRef,
  Uuid,
  Words,
} from './common'
import { Reporting } from './rounds'

/** How many of the expected facilities offer the service; missing in reports signed before it was counted. */
const Offering = Type.Optional(Type.Integer())

/** One answer to an item, and the facilities that gave it, by name. */
export const AnswerLine = exact({ code: Type.String(), label: Words, units: Type.Array(UnitRef) })
export type AnswerLine = Static<typeof AnswerLine>

export const FigureLine = exact({
  item: Type.String(),
  name: Words,
  unitOfMeasure: Type.String(),
  /** Missing in reports that were signed when all items were numbers. */
  rollUp: Type.Optional(RollUpName),
  /** Of the latest day its day number; of a share the part that says yes. */
  value: orNull(Type.Number()),
  /** Of what is chosen: each answer with those who gave it. */
  answers: Type.Optional(Type.Array(AnswerLine)),
  reportsIn: Type.Integer(),
  offering: Offering,
  bands: Type.Array(
    exact({
      cell: Type.String(),
      names: Type.Array(Words),
      value: orNull(Type.Number()),
      reportsIn: Type.Integer(),
      offering: Offering,
    }),
  ),
  /** This round beside the last, both over the same numbers: those of facilities that gave one in each. */
  compared: Type.Optional(
    orNull(exact({ now: Type.Number(), before: Type.Number(), reports: Type.Integer() })),
  ),
  /** In reports signed before `compared` was there: the last round's value over all its facilities. */
  before: Type.Optional(orNull(Type.Number())),
})
export type FigureLine = Static<typeof FigureLine>

export const IndicatorLine = exact({
  code: Type.String(),
  name: Words,
  unitOfMeasure: Words,
  numerator: orNull(Type.Number()),
  denominator: orNull(Type.Number()),
  value: orNull(Type.Number()),
  factor: Type.Number(),
})

export const FigureSection = exact({ code: Type.String(), name: Words, lines: Type.Array(FigureLine) })

/** What a district report says: the same shape lives, and frozen in a signature. */
export const DistrictFigures = exact({
  round: RoundRef,
  unit: UnitRef,
  reporting: Reporting,
  missing: Type.Array(UnitRef),
  sections: Type.Array(FigureSection),
  indicators: Type.Array(IndicatorLine),
  discrepancies: Type.Array(
    exact({
      id: Uuid,
      unit: UnitRef,
      title: Words,
      strength: StrengthName,
      state: Type.String(),
      outcome: orNull(Type.String()),
      text: orNull(Type.String()),
      /** Does it stop the signing? */
      blocks: Type.Boolean(),
    }),
  ),
})
export type DistrictFigures = Static<typeof DistrictFigures>

/** The same items over longer periods, from their beginning up to a round. */
export const LongerReport = exact({
  round: RoundRef,
  unit: UnitRef,
  /** The nearest first: of a week its month, quarter and year. */
  spans: Type.Array(
    exact({
      period: Type.String(),
      rounds: Type.Integer(),
      expected: Type.Integer(),
      received: Type.Integer(),
      lines: Type.Array(
        exact({
          item: Type.String(),
          name: Words,
          unitOfMeasure: Type.String(),
          value: orNull(Type.Number()),
          reportsIn: Type.Integer(),
        }),
      ),
    }),
  ),
})
export type LongerReport = Static<typeof LongerReport>

export const SignatureLine = exact({
  amendment: Type.Integer(),
  signedAt: Instant,
  by: Type.String(),
  checksum: Type.String(),
  /** Is what is stored still what was signed? */ isSound: Type.Boolean(),
})

const Counts = exact({ expected: Type.Integer(), received: Type.Integer(), onTime: Type.Integer() })
const Presence = oneOf('received', 'missing')
const Standing = orNull(Type.String())
/** One thing that is no longer as it was signed. */
export const ChangedSince = Type.Union([
  exact({
    kind: Type.Literal('cell'),
    unit: UnitRef,
    cell: Type.String(),
    name: Words,
    signed: orNull(CellValue),
    now: orNull(CellValue),
    /** How its values are written; missing for a number. */
    item: Type.Optional(shapeOf<Item>('The item')),
  }),
  exact({ kind: Type.Literal('report'), unit: UnitRef, signed: Presence, now: Presence }),
  /** `signed` and `now`: its outcome where it is settled, else its state; null where there is none. */
  exact({
    kind: Type.Literal('discrepancy'),
    id: Uuid,
    unit: UnitRef,
    title: Words,
    signed: Standing,
    now: Standing,
  }),
  exact({ kind: Type.Literal('completeness'), signed: Counts, now: Counts }),
])
export type ChangedSince = Static<typeof ChangedSince>

export const DistrictReport = exact({
  state: DistrictState,
  /** The signed snapshot when there is one, else the figures as they are now. */
  figures: DistrictFigures,
  signatures: Type.Array(SignatureLine),
  blocking: Type.Array(
    exact({ id: Uuid, unit: UnitRef, title: Words, strength: StrengthName, state: Type.String() }),
  ),
  /** Which signature's snapshot the figures are; null for the figures as they are now. */
  shows: orNull(Type.Integer()),
  changedSince: Type.Array(ChangedSince),
  /** The checksum of the figures as they are now: signing names it. */
  toSign: Type.String(),
})
export type DistrictReport = Static<typeof DistrictReport>
