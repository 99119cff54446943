import { Type, type Static } from '@sinclair/typebox'
import { exact, Instant, oneOf, orNull, Uuid } from './common'

/** What the installation does by itself, beside the requests. */
export const JOB_KINDS = [
  'openRounds',
  'judgeAgain',
  'effects',
  'foldCases',
  'newDay',
  'sendNudges',
  'sendOn',
  'importReports',
  'makeExtracts',
  'writeExtracts',
  'backup',
  'tidy',
  'verify',
] as const
export type JobKind = (typeof JOB_KINDS)[number]

export const JOB_STATES = ['waiting', 'running', 'done', 'stopped', 'failed'] as const
export type JobState = (typeof JOB_STATES)[number]

/** What a job found or did: numbers for a sentence of its kind, and lines for who wants to know all. */
export const JobResult = exact({
  numbers: Type.Record(Type.String(), Type.Number()),
  /** At most 100. */
  details: Type.Array(Type.String()),
})
export type JobResult = Static<typeof JobResult>

export const JobLine = exact({
  id: Uuid,
  kind: oneOf(...JOB_KINDS),
  state: oneOf(...JOB_STATES),
  /** A person's name; null when the installation asked by itself. */
  askedBy: orNull(Type.String()),
  askedAt: Instant,
  startedAt: orNull(Instant),
  endedAt: orNull(Instant),
  /** How many parts are done, and how many there are where that is known. */
  done: Type.Integer(),
  total: orNull(Type.Integer()),
  /** Somebody asked it to stop, and it has not yet. */
  stopping: Type.Boolean(),
  /** How often it was begun. */
  tries: Type.Integer(),
  result: orNull(JobResult),
  /** Why it failed the last time: `died`, or what it said. */
  problem: orNull(Type.String()),
})
export type JobLine = Static<typeof JobLine>

export const JOB_FILTERS = ['unended', 'asked', 'failed'] as const

export const JobQuery = exact({
  filter: Type.Optional(oneOf(...JOB_FILTERS)),
  /** The last one of the page before. */
  after: Type.Optional(Uuid),
})
export type JobQuery = Static<typeof JobQuery>

export const JobList = exact({
  lines: Type.Array(JobLine),
  more: Type.Boolean(),
})
export type JobList = Static<typeof JobList>

/** A kind of job that runs here, with its schedule. */
export const JobPlan = exact({
  kind: oneOf(...JOB_KINDS),
  /** When it is asked for next; null when only people ask. */
  nextAt: orNull(Instant),
  /** It is asked for only when there is something to do then. */
  ifDue: Type.Boolean(),
  last: orNull(JobLine),
})
export type JobPlan = Static<typeof JobPlan>

export const JobNew = exact({ kind: oneOf(...JOB_KINDS) })
