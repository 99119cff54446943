import { Type, type Static } from '@sinclair/typebox'
import { Count, exact, Instant, oneOf, orNull, RoundRef, UnitCode, UnitRef, Uuid, Words } from './common'
import { VISIBLE } from './wire'

/** Somebody who can be called at a facility. */
const contact = {
  name: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  phone: Type.String({
    minLength: 1,
    maxLength: 40,
    description: 'ITU-T E.164; spaces and the like may be in it',
  }),
  /** The language of messages to this number. */
  language: oneOf('en', 'fr'),
  /** Gets reminders by text message. */
  nudges: Type.Boolean(),
}
export const ContactNew = exact(contact)
export type ContactNew = Static<typeof ContactNew>
export const FacilityContact = exact({ id: Uuid, ...contact })
export type FacilityContact = Static<typeof FacilityContact>

/** How many contacts a facility has at the most. */
export const MOST_CONTACTS = 10

/** Why a facility gets no reminder. */
export const NUDGE_LEFT = ['received', 'noContact', 'waits', 'enough'] as const
export type NudgeLeft = (typeof NUDGE_LEFT)[number]

export const NUDGE_STATES = [
  'waiting',
  'sending',
  'taken',
  'delivered',
  'notDelivered',
  'refused',
  'failed',
  'stopped',
  'needless',
] as const
export type NudgeState = (typeof NUDGE_STATES)[number]

export const NudgeUnits = exact({ units: Type.Array(UnitCode, { minItems: 1, maxItems: 2000 }) })

const left = Type.Array(exact({ unit: UnitRef, why: oneOf(...NUDGE_LEFT) }))
/** What would be sent to whom. */
export const NudgePreview = exact({
  messages: Type.Array(
    exact({
      unit: UnitRef,
      name: Type.String(),
      phone: Type.String(),
      text: Type.String(),
      /** In how many parts a network sends it. */
      parts: Count,
    }),
  ),
  left,
  /** There is a message gateway. Without one nothing is sent. */
  hasGateway: Type.Boolean(),
  /** When the quiet hours end that hold now; null outside them. */
  quietUntil: orNull(Instant),
})
export type NudgePreview = Static<typeof NudgePreview>
export const NudgesAsked = exact({ ids: Type.Array(Uuid), left })
export type NudgesAsked = Static<typeof NudgesAsked>
export const NudgesStop = exact({ ids: Type.Array(Uuid, { minItems: 1, maxItems: 20_000 }) })

export const NudgeLine = exact({
  id: Uuid,
  unit: UnitRef,
  round: RoundRef,
  name: Type.String(),
  phone: Type.String(),
  text: Type.String(),
  askedAt: Instant,
  askedBy: Type.String(),
  state: oneOf(...NUDGE_STATES),
  /** When it is tried next; null when nothing more is expected. */
  nextAt: orNull(Instant),
  tries: Count,
  problem: orNull(Type.String()),
  endedAt: orNull(Instant),
})
export type NudgeLine = Static<typeof NudgeLine>

/** Those that wait for something, and those that did not reach anybody. */
export const NUDGE_SHOWS = ['all', 'pending', 'notReached'] as const
export const NudgeQuery = exact({
  show: Type.Optional(oneOf(...NUDGE_SHOWS)),
  unit: Type.Optional(UnitCode),
  after: Type.Optional(Uuid),
})
export type NudgeQuery = Static<typeof NudgeQuery>
export const NudgeList = exact({
  lines: Type.Array(NudgeLine),
  more: Type.Boolean(),
  counts: exact({ all: Count, pending: Count, notReached: Count }),
})
export type NudgeList = Static<typeof NudgeList>

const Minute = Type.Integer({ minimum: 0, maximum: 1439, description: 'Minutes after midnight' })
/** When no reminder is sent, and how many a number gets in a day. */
export const NudgeTimes = exact({
  quietFrom: Minute,
  quietTo: Minute,
  aDay: Type.Integer({ minimum: 1, maximum: 20 }),
})
export type NudgeTimes = Static<typeof NudgeTimes>
const OneText = Type.String({ maxLength: 1000 })
/** The text of a reminder by language; null goes back to the one before. */
export const NudgeText = exact({ text: orNull(exact({ en: OneText, fr: OneText })) })
export const NudgeRules = exact({
  /** Whose text the person may change: a district's, or everybody's (null). */
  unit: orNull(UnitRef),
  text: Words,
  /** It was written for this unit, and is not everybody's. */
  isOwn: Type.Boolean(),
  times: NudgeTimes,
  /** May this person change the times, which are everybody's? */
  mayChangeTimes: Type.Boolean(),
  hasGateway: Type.Boolean(),
})
export type NudgeRules = Static<typeof NudgeRules>
