import { Type, type Static } from '@sinclair/typebox'
import type { ReportMark } from '../quality/over-time'
import { exact, orNull, RoundRef, shapeOf, UnitCode, UnitRef } from './common'

/** So many rounds are shown at the most: a year of weeks and some. */
export const MOST_ROUNDS_SHOWN = 60

export const OverTimeQuery = exact({
  unit: Type.Optional(UnitCode),
  /** How many rounds, up to this one. */
  rounds: Type.Optional(Type.Integer({ minimum: 1, maximum: MOST_ROUNDS_SHOWN })),
})

/** How the units of a branch reported a dataset over its rounds. */
export const ReportingOverTime = exact({
  unit: UnitRef,
  /** Oldest first. */
  rounds: Type.Array(RoundRef),
  rows: Type.Array(
    exact({
      unit: UnitRef,
      /** Of today's tree; the unit's own name for one that has nothing above it. */
      zone: UnitRef,
      /** In the order of the rounds; null where the unit was not expected. */
      marks: Type.Array(orNull(shapeOf<ReportMark>('What the unit did in the round'))),
    }),
  ),
})
export type ReportingOverTime = Static<typeof ReportingOverTime>
