import { Type, type Static } from '@sinclair/typebox'
import { DOCUMENT_FORMATS } from '../exchange/value-document'
import { CODE_KINDS } from '../sending/codes'
import {
  CellValue,
  Count,
  Counter,
  exact,
  Instant,
  oneOf,
  orNull,
  UnitCode,
  UnitRef,
  Uuid,
  Words,
} from './common'
import { Code } from './drafts'
import { VISIBLE } from './wire'

/** So many recipients an installation can have: nobody looks through more. */
export const MOST_RECIPIENTS = 50
/** The stand-in that ships with the application, and what it does when it is asked to. */
export const STAND_IN = 'stand-in'
export const STAND_IN_WAYS = ['slow', 'down', 'half', 'hangs'] as const

/** Whether extracts go to a recipient: none, those without personal answers, or any; the least first. */
export const RECIPIENT_EXTRACTS = ['none', 'plain', 'personal'] as const
export type RecipientExtracts = (typeof RECIPIENT_EXTRACTS)[number]

export const RecipientNew = exact({
  name: Type.String({ minLength: 2, maxLength: 100, pattern: VISIBLE }),
  format: oneOf(...DOCUMENT_FORMATS),
  extracts: oneOf(...RECIPIENT_EXTRACTS),
  /** An address, or `stand-in`. */
  address: Type.String({
    maxLength: 500,
    pattern: `^(https?://[^\\s]+|${STAND_IN}(:(${STAND_IN_WAYS.join('|')}))?)$`,
  }),
  /** Missing: it stays as it is. Null: there is none. */
  key: Type.Optional(orNull(Type.String({ minLength: 1, maxLength: 500, pattern: '^[!-~]+$' }))),
})
export type RecipientNew = Static<typeof RecipientNew>
export const RecipientChange = exact({ version: Counter(1), recipient: RecipientNew })
export type RecipientChange = Static<typeof RecipientChange>

export const RecipientLine = exact({
  id: Uuid,
  name: Type.String(),
  format: oneOf(...DOCUMENT_FORMATS),
  extracts: oneOf(...RECIPIENT_EXTRACTS),
  address: Type.String(),
  hasKey: Type.Boolean(),
  version: Type.Integer(),
  madeBy: Type.String(),
  madeAt: Instant,
  /** The datasets that it takes: those that have a code there. */
  datasets: Type.Array(exact({ code: Type.String(), name: Words })),
  lastAnsweredAt: orNull(Instant),
})
export type RecipientLine = Static<typeof RecipientLine>
export const RecipientList = exact({ lines: Type.Array(RecipientLine) })
export type RecipientList = Static<typeof RecipientList>

/** The longest code of another system. */
export const LONGEST_CODE = 200
const TheirCode = Type.String({ minLength: 1, maxLength: LONGEST_CODE, pattern: VISIBLE })

export const CODES_SHOW = ['all', 'lacking'] as const
export const CodeQuery = exact({
  dataset: Code,
  show: Type.Optional(oneOf(...CODES_SHOW)),
  find: Type.Optional(Type.String({ maxLength: 100 })),
  /** The last one of the page before, as `unit sedge_bay`. */
  after: Type.Optional(Type.String({ maxLength: 200 })),
})
export type CodeQuery = Static<typeof CodeQuery>

export const CodeLine = exact({
  kind: oneOf(...CODE_KINDS),
  ours: Type.String(),
  name: Words,
  theirs: orNull(Type.String()),
  leftOut: Type.Boolean(),
  lack: orNull(oneOf('missing', 'twice', 'form')),
})
export type CodeLine = Static<typeof CodeLine>
export const CodePage = exact({
  lines: Type.Array(CodeLine),
  more: Type.Boolean(),
  counts: exact({ all: Count, lacking: Count }),
})
export type CodePage = Static<typeof CodePage>

export const MOST_CODES = 2000
export const CodesGiven = exact({
  dataset: Code,
  codes: Type.Array(
    exact({
      kind: oneOf(...CODE_KINDS),
      ours: Type.String({ minLength: 1, maxLength: 200 }),
      /** Null where it is left out on purpose; missing where nothing is said any more. */
      theirs: Type.Optional(orNull(TheirCode)),
    }),
    { minItems: 1, maxItems: MOST_CODES },
  ),
})
export type CodesGiven = Static<typeof CodesGiven>
export const CodesPasted = exact({
  dataset: Code,
  text: Type.String({ minLength: 1, maxLength: 200_000 }),
})
export type CodesPasted = Static<typeof CodesPasted>
export const CodesTaken = exact({
  taken: Count,
  /** Lines of the text that say nothing: the first ones. */
  passedOver: Type.Array(
    exact({ line: Count, text: Type.String(), why: oneOf('unknown', 'ambiguous', 'short', 'long') }),
  ),
})
export type CodesTaken = Static<typeof CodesTaken>

export const SENDING_STATES = [
  'waiting',
  'sending',
  'taken',
  'partly',
  'refused',
  'failed',
  'stopped',
] as const

/** Why a recipient was not reached, as `status:503` or one of the others. */
export const DELIVERY_PROBLEMS = ['no-answer', 'not-agreed', 'too-long', 'broke-off', 'status'] as const
export type DeliveryProblem = (typeof DELIVERY_PROBLEMS)[number]

/** So many refusals of one sending are shown. */
export const MOST_REFUSALS = 200
export const SendingRefusal = exact({
  about: oneOf('code', 'value'),
  unit: orNull(UnitRef),
  cell: orNull(Type.String()),
  /** What the cell is called; null where it is none of ours. */
  cellName: orNull(Words),
  value: orNull(CellValue),
  /** Their place, in words. */
  place: Type.String(),
  message: Type.String(),
  /** Something newer went out in its place. */
  over: Type.Boolean(),
  /** The discrepancy that it became. */
  discrepancy: orNull(Uuid),
})
export const SendingLine = exact({
  id: Uuid,
  amendment: Type.Integer(),
  part: Type.Integer(),
  state: oneOf(...SENDING_STATES),
  values: Count,
  /** Answers that the format cannot hold, and what is left out on purpose. */
  noNumbers: Count,
  leftOut: Count,
  askedBy: Type.String(),
  askedAt: Instant,
  tries: Count,
  nextAt: orNull(Instant),
  /** Of what was not delivered a {@link DeliveryProblem}; of what was refused as a whole what the recipient says. */
  problem: orNull(Type.String()),
  receipt: orNull(Type.String()),
  answeredAt: orNull(Instant),
  refusals: Type.Array(SendingRefusal),
  refusalCount: Count,
})
export type SendingLine = Static<typeof SendingLine>

/** What stands between a signed report and its sending. */
export const SEND_LACKS = ['notSigned', 'codes', 'sent', 'waits'] as const
export const RecipientOfReport = exact({
  id: Uuid,
  name: Type.String(),
  format: oneOf(...DOCUMENT_FORMATS),
  /** Codes that are missing, for this report. */
  lacking: Count,
  /** Null: it can be sent. */
  lack: orNull(oneOf(...SEND_LACKS)),
  /** The next would be only what was refused, under other codes. */
  onlyRefused: Type.Boolean(),
  /** The newest first. */
  sendings: Type.Array(SendingLine),
})
export type RecipientOfReport = Static<typeof RecipientOfReport>
export const SendingsOfReport = exact({ recipients: Type.Array(RecipientOfReport) })
export type SendingsOfReport = Static<typeof SendingsOfReport>

export const SendNew = exact({ unit: Type.Optional(UnitCode), recipient: Uuid })
export const SendQuery = exact({ unit: Type.Optional(UnitCode) })
