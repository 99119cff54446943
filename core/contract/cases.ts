import { Type, type Static } from '@sinclair/typebox'
import type { CaseRegister } from '../cases/register'
import type { Answers } from '../form/answer'
import { CaseLifeEvent, ClosedCase } from './case-life'
import { Code } from './drafts'
import { Count, DayText, exact, Instant, oneOf, orNull, shapeOf, UnitCode, UnitRef, Uuid } from './common'
import { DeskRegister } from './desk-register'
import { ROLES } from './permission'

/** What a case may wait for: a visit whose day has come, one whose day is over, a result, an end of a doubt. */
export const CASE_NEEDS = ['visitDue', 'visitMissed', 'resultAwaited', 'hasDoubt'] as const
export type CaseNeed = (typeof CASE_NEEDS)[number]

/** What a case is: followed, closed, or given to a facility of another branch. */
export const CASE_STATES = ['open', 'closed', 'gone'] as const
export type CaseState = (typeof CASE_STATES)[number]

export const CaseLine = exact({
  id: Uuid,
  register: Code,
  unit: UnitRef,
  /** The case that this one belongs to. */
  parent: orNull(Uuid),
  answers: shapeOf<Answers>('What is known of the questions that are asked for, by question'),
  /** How many of its entries count. */
  entries: Count,
  /** The day of its last event. */
  lastOn: Type.String(),
  /** When its newest entry was received. */
  receivedAt: orNull(Instant),
  nextVisit: orNull(Type.String()),
  resultAwaited: Type.Boolean(),
  closed: ClosedCase,
})
export type CaseLine = Static<typeof CaseLine>

/** More columns than this do not fit on any screen. */
export const MOST_COLUMNS = 12

/** A page of cases; `after` is the last one of the page before. All filters together must hold. */
export const CaseQuery = exact({
  register: Type.Optional(Code),
  unit: Type.Optional(UnitCode),
  /** The contacts of this case. */
  parent: Type.Optional(Uuid),
  find: Type.Optional(Type.String({ minLength: 3, maxLength: 100 })),
  happenedFrom: Type.Optional(DayText),
  happenedTo: Type.Optional(DayText),
  receivedFrom: Type.Optional(DayText),
  receivedTo: Type.Optional(DayText),
  need: Type.Optional(oneOf(...CASE_NEEDS)),
  /** Without it those of the branch, closed ones among them. */
  state: Type.Optional(oneOf(...CASE_STATES)),
  /** Only with `register`: see core/cases/answer-filter. */
  answers: Type.Optional(
    Type.String({ maxLength: 1000, description: 'Filters on answers, as sex=f&age_years.to=4' }),
  ),
  /** Only with `register`: questions, separated by commas; without it those of the register's line. */
  columns: Type.Optional(Type.String({ maxLength: 800, pattern: '^[a-z0-9_]+(,[a-z0-9_]+)*$' })),
  /** `lastOn`, `receivedAt`, `nextVisit`, or (only with `register`) a question. */
  sort: Type.Optional(Type.String({ pattern: '^[A-Za-z][A-Za-z0-9_]{0,62}$' })),
  order: Type.Optional(oneOf('ascending', 'descending')),
  after: Type.Optional(Uuid),
})
export type CaseQuery = Static<typeof CaseQuery>

export const CaseList = exact({
  lines: Type.Array(CaseLine),
  more: Type.Boolean(),
  /** How many the filters find, and of how many; null on a page that is not the first. */
  counts: orNull(exact({ found: Count, all: Count })),
})
export type CaseList = Static<typeof CaseList>

/** That a person opened the file of a case at the office on a day. */
export const CaseOpening = exact({
  by: Type.String(),
  role: oneOf(...ROLES),
  day: DayText,
  firstAt: Instant,
  lastAt: Instant,
  times: Count,
})
export type CaseOpening = Static<typeof CaseOpening>

/** `before` is when the last one of the page before was last opened. */
export const OpeningsQuery = exact({ before: Type.Optional(Instant) })
export type OpeningsQuery = Static<typeof OpeningsQuery>
/** How many people of a role and a branch may open a case; `branch` is null for the whole installation. */
export const CaseReaders = exact({ role: oneOf(...ROLES, 'machine'), branch: orNull(UnitRef), people: Count })
export type CaseReaders = Static<typeof CaseReaders>
export const CaseOpenings = exact({
  openings: Type.Array(CaseOpening),
  more: Type.Boolean(),
  /** Who may open it with its personal answers; null on a page that is not the first. */
  maySee: orNull(Type.Array(CaseReaders)),
})

/** One case with its entries as they were filled, in the order in which they happened. */
export const CaseFileView = exact({
  id: Uuid,
  register: Code,
  unit: UnitRef,
  /** May the person move, close and open it? */
  mine: Type.Boolean(),
  closed: ClosedCase,
  /** When its personal answers were replaced, because their time was over. */
  forgottenAt: orNull(Instant),
  /** What became of it besides its entries, the first first. */
  life: Type.Array(CaseLifeEvent),
  parent: orNull(CaseLine),
  definition: shapeOf<CaseRegister>('The newest edition of the register'),
  /** The editions in which its entries were filled. */
  editions: Type.Array(DeskRegister),
  entries: Type.Array(
    exact({
      id: Uuid,
      /** The case that it was filled for: another one, where that was merged into this. */
      case: Uuid,
      form: Code,
      edition: Type.Integer(),
      answers: shapeOf<Answers>('As they were filled'),
      happenedOn: Type.String(),
      /** When it was typed, by the device's clock put right. */
      madeAt: Instant,
      receivedAt: Instant,
      by: Type.String(),
      device: orNull(Type.String()),
      /** The day of the paper, where the office entered it for the facility. */
      paperOn: orNull(DayText),
      corrects: orNull(Uuid),
    }),
  ),
})
export type CaseFileView = Static<typeof CaseFileView>
