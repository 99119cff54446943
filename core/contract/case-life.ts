import { Type, type Static } from '@sinclair/typebox'
import { CASE_OUTCOMES } from '../cases/life'
import { DayText, exact, Instant, oneOf, orNull, Sentence, UnitCode, UnitRef } from './common'

const Closing = { on: DayText, outcome: oneOf(...CASE_OUTCOMES) }

/** What somebody does with a case: see core/cases/life. */
export const CaseActGiven = Type.Union([
  exact({
    act: Type.Literal('move'),
    to: UnitCode,
    /** null: it has been of that facility all the time. */
    since: orNull(DayText),
    text: Sentence,
  }),
  exact({ act: Type.Literal('close'), ...Closing, text: Type.Optional(Sentence) }),
  exact({ act: Type.Literal('reopen'), text: Sentence }),
])

/** That a case is closed, or null while it is followed. */
export const ClosedCase = orNull(exact(Closing))

/** That a case went from one facility to another. */
export const MovedCase = exact({ from: UnitCode, to: UnitCode, since: orNull(DayText) })

/** What became of a case, as its file tells it. */
export const CaseLifeEvent = exact({
  at: Instant,
  by: Type.String(),
  device: orNull(Type.String()),
  act: oneOf('moved', 'closed', 'reopened', 'merged', 'takenOut'),
  from: orNull(UnitRef),
  to: orNull(UnitRef),
  /** Of a move: from this day on. Of closing: on this day. */
  day: orNull(DayText),
  outcome: orNull(oneOf(...CASE_OUTCOMES)),
  text: Type.String(),
  /** A form that was filled opened it again. */
  isByForm: Type.Boolean(),
})
export type CaseLifeEvent = Static<typeof CaseLifeEvent>
