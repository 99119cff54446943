import { Type, type Static } from '@sinclair/typebox'
import { Correction, DiscrepancyFile, DiscrepancyLine } from './discrepancies'
import { CaseActGiven, ClosedCase, MovedCase } from './case-life'
import { CaseDoubtFile } from './case-doubts'
import { DeskRegister } from './desk-register'
import { DeviceSettings } from './devices'
import type { Answers } from '../form/answer'
import { Code } from './drafts'
import { ReportFile, SettledConflicts, Theirs } from './reports'
import { DueList } from './rounds'
import { UnitList } from './units'
import {
  CellContent,
  CellKey,
  Counter,
  exact,
  Instant,
  oneOf,
  orNull,
  RoundId,
  Sentence,
  shapeOf,
  StateName,
  UnitCode,
  UnitRef,
  Uuid,
} from './common'
import { VISIBLE } from './wire'

/** How many changes one request may bring: a piece small enough for a bad line. */
export const MOST_CHANGES = 500

const AnswerContent = Type.Union([
  exact({ kind: Type.Literal('value'), value: Type.Unknown() }),
  exact({
    kind: Type.Literal('notKnown'),
    reason: Type.String({ minLength: 1, maxLength: 500, pattern: VISIBLE }),
  }),
  exact({ kind: Type.Literal('notOffered') }),
  exact({ kind: Type.Literal('blank') }),
])
const made = { id: Uuid, /** By the device's clock. */ madeAt: Instant }

/** One change of a cell of a report. */
export const CellChange = exact({
  kind: Type.Literal('cell'),
  ...made,
  round: RoundId,
  unit: UnitCode,
  cell: CellKey,
  /** The version of the cell that the change was made on; 0 for one that was never answered. */
  base: Counter(),
  /** The change of the same device that it was made on, while the district had not confirmed that one. */
  after: Type.Optional(Uuid),
  content: CellContent,
  why: Type.Optional(Type.String({ minLength: 2, maxLength: 2000 })),
  settles: Type.Optional(SettledConflicts),
})
/** What somebody says of doubts, by their keys. */
export const Explanations = Type.Record(Type.String({ maxLength: 300 }), Type.String({ maxLength: 2000 }), {
  maxProperties: 500,
})
/** The act of sending a report. */
export const SendAct = exact({
  kind: Type.Literal('send'),
  ...made,
  round: RoundId,
  unit: UnitCode,
  explanations: Explanations,
})
/** One filled case form. */
export const EntryMade = exact({
  kind: Type.Literal('entry'),
  ...made,
  case: Uuid,
  register: Code,
  edition: Counter(1),
  form: Code,
  unit: UnitCode,
  answers: Type.Unsafe<Answers>(
    Type.Record(Type.String({ maxLength: 200 }), AnswerContent, { maxProperties: 2000 }),
  ),
  parent: Type.Optional(Uuid),
  corrects: Type.Optional(Uuid),
  /** What the facility says of the doubts that it raises. */
  explanations: Type.Optional(Explanations),
})
/** An answer to a question of the officer. */
export const AnswerGiven = exact({
  kind: Type.Literal('answer'),
  ...made,
  discrepancy: Uuid,
  text: Sentence,
  corrections: Type.Array(Correction, { maxItems: 50 }),
})
/** A comment at a cell. */
export const CommentWritten = exact({
  kind: Type.Literal('comment'),
  ...made,
  round: RoundId,
  unit: UnitCode,
  cell: CellKey,
  text: Sentence,
})
/** A case moved, closed or opened again. */
export const CaseActMade = exact({
  kind: Type.Literal('caseAct'),
  ...made,
  case: Uuid,
  /** The facility at which it was done. */
  unit: UnitCode,
  act: CaseActGiven,
})
export type CaseActMade = Static<typeof CaseActMade>
/** Each kind of change by its name: the server checks a change by the schema of its kind. */
export const DESK_CHANGES = {
  cell: CellChange,
  send: SendAct,
  entry: EntryMade,
  answer: AnswerGiven,
  comment: CommentWritten,
  caseAct: CaseActMade,
}
export const DeskChange = Type.Union(Object.values(DESK_CHANGES))
export type DeskChange = Static<(typeof DESK_CHANGES)[keyof typeof DESK_CHANGES]>
export type CellChange = Static<typeof CellChange>
export type EntryMade = Static<typeof EntryMade>

/**
 * A change as it arrives: it is checked by itself, so that one that cannot be stored does not hold up the
 * others.
 */
const AsSent = Type.Unknown({ description: 'One of the changes above' })
export const DeskSend = exact({
  device: Type.String({ maxLength: 64 }),
  /** The device's clock when it sent this. One that cannot be read refuses nothing: it is taken for right. */
  clock: Type.String({ maxLength: 64 }),
  changes: Type.Array(AsSent, { minItems: 1, maxItems: MOST_CHANGES }),
})
export const DeskOutcome = exact({
  /** That of the change, as it was sent. The outcomes come in the order of the changes. */
  id: Type.String(),
  /** Everything but `early` says that the district has it, or never will: the device may drop it. */
  outcome: oneOf('received', 'alreadyHad', 'conflict', 'early', 'refused'),
  version: Type.Optional(Type.Integer()),
  theirs: Type.Optional(Theirs),
  code: Type.Optional(Type.String()),
  message: Type.Optional(Type.String()),
})
export type DeskOutcome = Static<typeof DeskOutcome>
/**
 * Which database answers, and what of it is safe. `incarnation` grows when the district was put back from a
 * backup: devices then send again what came after it. `backedUpTo`: what was received before this instant is
 * in a backup.
 */
export const Standing = { incarnation: Type.Integer(), backedUpTo: orNull(Instant) }
export const DeskSent = exact({ at: Instant, outcomes: Type.Array(DeskOutcome), ...Standing })

const of = { round: RoundId, unit: UnitCode, at: Instant }
export const DeskEvent = Type.Union([
  exact({
    kind: Type.Literal('cell'),
    ...of,
    cell: CellKey,
    content: CellContent,
    version: Type.Integer(),
    last: Uuid,
  }),
  exact({ kind: Type.Literal('report'), ...of, state: StateName, why: orNull(Type.String()) }),
  exact({
    kind: Type.Literal('question'),
    ...of,
    discrepancy: Uuid,
    act: Type.String(),
    text: orNull(Type.String()),
  }),
  exact({
    kind: Type.Literal('caseQuestion'),
    at: Instant,
    unit: UnitCode,
    case: Uuid,
    discrepancy: Uuid,
    act: Type.String(),
    text: orNull(Type.String()),
  }),
  exact({
    kind: Type.Literal('entry'),
    at: Instant,
    unit: UnitCode,
    id: Uuid,
    case: Uuid,
    register: Code,
    edition: Type.Integer(),
    form: Code,
    answers: shapeOf<Answers>('As they were filled'),
    happenedOn: Type.String(),
    corrects: orNull(Uuid),
    parent: orNull(Uuid),
  }),
  /** How a case is now: it comes again whenever that changes. */
  exact({
    kind: Type.Literal('case'),
    at: Instant,
    unit: UnitCode,
    case: Uuid,
    moves: Type.Array(MovedCase),
    closed: ClosedCase,
    mergedInto: orNull(Uuid),
    /** Does the facility of the device see it? false: it may forget the case. */
    isHere: Type.Boolean(),
  }),
])
export type DeskEvent = Static<typeof DeskEvent>
export const DeskReceive = exact({
  since: Type.Optional(Type.String({ pattern: '^\\d{1,15}(\\.\\d{1,15}){3,4}$' })),
  most: Type.Optional(Type.Integer({ minimum: 1, maximum: 2000 })),
  // What the device says of itself; one of an earlier version says nothing.
  waiting: Type.Optional(Counter()),
  needsPerson: Type.Optional(Counter()),
  /** From 0 to 1. */
  storage: Type.Optional(Type.Number({ minimum: 0, maximum: 1 })),
  version: Type.Optional(Type.String({ maxLength: 64 })),
})
export type DeskReceive = Static<typeof DeskReceive>
/**
 * What happened since. `cursor` is what to ask with next; it stands for the same after a restart.
 * `definitions` changes when a published edition, the tree of units, the rounds or who is let in after
 * closing do.
 */
export const DeskReceived = exact({
  at: Instant,
  cursor: Type.String(),
  more: Type.Boolean(),
  events: Type.Array(DeskEvent),
  definitions: Type.String(),
  settings: DeviceSettings,
  /** Stands for what the person sees: with another one the device begins anew. */
  view: Type.String(),
  ...Standing,
})

/** What is defined, for working without a network. */
export const DeskDefinitions = exact({
  registers: Type.Array(DeskRegister),
  /** Earlier editions in which entries of the branch were filled: they are read in them. */
  earlier: Type.Array(DeskRegister),
  /** All units of the installation, for questions about places. */
  units: UnitList,
})
export type DeskDefinitions = Static<typeof DeskDefinitions>
/**
 * What a facility works with, all at once: what is due with its reports, and what the officer asks with its
 * conversations.
 */
export const DeskWork = exact({
  at: Instant,
  due: DueList,
  reports: Type.Array(ReportFile),
  questions: exact({ lines: Type.Array(DiscrepancyLine) }),
  conversations: Type.Array(DiscrepancyFile),
  /** What the officer asks about cases, each with its conversation. */
  caseConversations: Type.Array(CaseDoubtFile),
  /** Changes of the person that arrived after closing and that the office left out, with its reason. */
  leftOut: Type.Array(exact({ id: Uuid, why: Type.String() })),
})
export type DeskWork = Static<typeof DeskWork>

/** A carried file, and what became of each change in it. */
export const LARGEST_CARRY = 20_000_000
/** What a device writes into one. */
export const CarriedOut = exact({
  person: Uuid,
  clock: Type.String({ maxLength: 64 }),
  changes: Type.Array(AsSent, { maxItems: 20_000 }),
  files: Type.Array(
    exact({
      hash: Type.String({ pattern: '^[0-9a-f]{64}$' }),
      bytes: Type.Integer({ minimum: 1 }),
      data: Type.String(),
    }),
    { maxItems: 2000 },
  ),
})
export type CarriedOut = Omit<Static<typeof CarriedOut>, 'changes'> & { changes: DeskChange[] }
export const CarryIn = exact({ file: Type.String({ minLength: 1, maxLength: LARGEST_CARRY }) })
export const CarriedIn = exact({
  device: Type.String(),
  unit: UnitRef,
  person: Type.String(),
  received: Type.Integer(),
  alreadyHad: Type.Integer(),
  conflicts: Type.Integer(),
  early: Type.Integer(),
  refused: Type.Array(exact({ code: Type.String(), message: Type.String() })),
  files: Type.Integer(),
})
export type CarriedIn = Static<typeof CarriedIn>
/**
 * What the district writes into a file for a device: what became of what it sent by file, and all that it
 * works with.
 */
export interface CarriedBack {
  outcomes: DeskOutcome[]
  /** The pictures and sounds of its unit that are here, by their hashes. */ files: string[]
  at: string
  definitions: DeskDefinitions
  work: DeskWork
  events: DeskEvent[]
  cursor: string
  stamp: string
  /** As in {@link DeskReceived}; a file of an earlier version says nothing. */
  view?: string
}

/**
 * A piece of a picture or sound: where it starts, how large the whole is, and the bytes in base64 (RFC 4648).
 */
export const LARGEST_PIECE = 48_000
export const LARGEST_FILE = 4_000_000
export const FileHash = Type.String({ pattern: '^[0-9a-f]{64}$' })
export const FilePiece = exact({
  start: Type.Integer({ minimum: 0, maximum: LARGEST_FILE - 1 }),
  bytes: Type.Integer({ minimum: 1, maximum: LARGEST_FILE }),
  data: Type.String({ minLength: 4, maxLength: LARGEST_PIECE * 2, pattern: '^[A-Za-z0-9+/]+={0,2}$' }),
})
/** How much of a file is here, from its beginning; all of it when `done`. */
export const FileSoFar = exact({ upTo: Type.Integer(), done: Type.Boolean() })
