import { Type, type Static } from '@sinclair/typebox'
import { CellContent, Count, DayText, exact, Instant, oneOf, orNull, UnitCode, UnitRef, Uuid } from './common'
import { Code } from './drafts'
import { TOKEN_GIVES } from './permission'
import { VISIBLE } from './wire'

/** Tokens begin so: people and programs that look for secrets in the wrong place know them by it. */
export const TOKEN_PREFIX = 'lantern_'
/** So many requests of one token are answered in a minute. */
export const TOKEN_REQUESTS = 600

export const TokenNew = exact({
  /** Which program, and whose. */
  name: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  /** The part of the tree that it reads; null is all of it. */
  branch: orNull(UnitCode),
  gives: Type.Array(oneOf(...TOKEN_GIVES), { maxItems: TOKEN_GIVES.length, uniqueItems: true }),
  /** The last day on which it is good. */
  lastDay: DayText,
})
export type TokenNew = Static<typeof TokenNew>

export const TokenLine = exact({
  id: Uuid,
  name: Type.String(),
  branch: orNull(UnitRef),
  gives: Type.Array(oneOf(...TOKEN_GIVES)),
  /** Its last characters. */
  lastFour: Type.String(),
  madeBy: Type.String(),
  madeAt: Instant,
  endsAt: Instant,
  state: oneOf('good', 'over', 'ended'),
  lastUsedAt: orNull(Instant),
})
export type TokenLine = Static<typeof TokenLine>
export const TokenList = exact({ lines: Type.Array(TokenLine), more: Type.Boolean() })
export type TokenList = Static<typeof TokenList>
/** The token itself, which is shown this once. */
export const TokenMade = exact({ id: Uuid, token: Type.String() })
export type TokenMade = Static<typeof TokenMade>

/** So many records come in one answer. */
export const RECORDS_AT_ONCE = 100
/** Where a page ended; given back as it came. */
const Cursor = Type.String({ pattern: '^[0-9a-f-]{1,40}$' })
const Page = { after: Type.Optional(Cursor) }
const Next = { next: orNull(Cursor) }

export const ReportRecordsQuery = exact({
  dataset: Code,
  unit: Type.Optional(UnitCode),
  /** Periods that end on this day or later, and on this day or earlier. */
  from: Type.Optional(DayText),
  to: Type.Optional(DayText),
  ...Page,
})
export type ReportRecordsQuery = Static<typeof ReportRecordsQuery>
export const ReportRecord = exact({
  dataset: Type.String(),
  period: Type.String(),
  unit: UnitCode,
  state: oneOf('sent', 'sentBack', 'accepted'),
  edition: Count,
  firstReceivedAt: orNull(Instant),
  receivedAt: orNull(Instant),
  cells: Type.Array(exact({ cell: Type.String(), content: CellContent })),
})
export type ReportRecord = Static<typeof ReportRecord>
export const ReportRecords = exact({ records: Type.Array(ReportRecord), ...Next })
export type ReportRecords = Static<typeof ReportRecords>

export const CaseRecordsQuery = exact({
  register: Code,
  unit: Type.Optional(UnitCode),
  /** One case, as the list of changes names it. */
  case: Type.Optional(Uuid),
  ...Page,
})
export type CaseRecordsQuery = Static<typeof CaseRecordsQuery>
export const CaseRecord = exact({
  case: Uuid,
  pseudonym: Type.String(),
  register: Type.String(),
  unit: UnitCode,
  parent: orNull(Uuid),
  entries: Count,
  lastOn: orNull(DayText),
  receivedAt: orNull(Instant),
  closedOn: orNull(DayText),
  outcome: orNull(Type.String()),
  answers: Type.Array(
    exact({ question: Type.String(), content: Type.Object({}, { description: 'As in entries' }) }),
  ),
})
export type CaseRecord = Static<typeof CaseRecord>
export const CaseRecords = exact({
  records: Type.Array(CaseRecord),
  /** Questions whose answers are personal and are left out. */
  leftOut: Type.Array(Type.String()),
  ...Next,
})
export type CaseRecords = Static<typeof CaseRecords>

export const ChangesQuery = exact({ after: Type.Optional(Type.String({ pattern: '^[0-9]{1,15}$' })) })
export const ChangedThing = exact({
  at: Instant,
  kind: oneOf('report', 'case', 'unit', 'districtReport'),
  /** The dataset or the register; empty for a unit. */
  of: Type.String(),
  /** The period or the case; empty for a unit. */
  key: Type.String(),
  unit: UnitCode,
})
export type ChangedThing = Static<typeof ChangedThing>
export const ChangeFeed = exact({
  changes: Type.Array(ChangedThing),
  /** To ask with the next time. Without `after` only this is answered. */
  next: Type.String(),
  /** There is more at once. */
  more: Type.Boolean(),
})
export type ChangeFeed = Static<typeof ChangeFeed>
