import { Type, type Static, type TSchema } from '@sinclair/typebox'
import { UNIT_CODE } from '../geography/unit-code'
import { LONGEST_TEXT } from '../form/answer'
import type { CellContent as CoreCellContent, CellValue as CoreCellValue } from '../report/cell'
import type { Words as CoreWords } from '../report/edition'
import { LARGEST_INTEGER, LONGEST_REASON, LONGEST_SENTENCE, UUID_PATTERN, VISIBLE } from './wire'

/**
 * The shapes that more than one part of the API uses. One schema gives the type, the check and the API
 * document.
 */

/** An object with just these keys: an unknown key is a mistake, not a guess. */
export const exact = <T extends Record<string, TSchema>>(keys: T) =>
  Type.Object(keys, { additionalProperties: false })

/** One of some words. */
export const oneOf = <T extends string>(...words: readonly T[]) =>
  Type.Unsafe<T>({ type: 'string', enum: [...words] })

/** The schema's value, or null. */
export const orNull = <T extends TSchema>(schema: T) => Type.Union([schema, Type.Null()])

/** A shape that core already defines in TypeScript and that only ever leaves the server. */
export const shapeOf = <T>(description: string) => Type.Unsafe<T>({ type: 'object', description })

export const UnitCode = Type.String({
  pattern: UNIT_CODE.source,
  description: 'Code of an organisation unit, as sedge_bay, 1001 or HF-22',
})
/** How many there are. */
export const Count = Type.Integer({ minimum: 0 })
export const RoundId = Type.String({
  pattern: '^[a-z][a-z0-9_]{0,62}~[0-9A-Z-]{4,15}$',
  description: 'Dataset and period, as monthly_summary~2026-10',
})
export const CellKey = Type.String({
  pattern: '^[a-z][a-z0-9_]*(\\.[a-z0-9_]+){0,2}$',
  maxLength: 200,
  description: 'Item and bands, as live_births.girls',
})
export const Uuid = Type.String({ pattern: UUID_PATTERN, description: 'RFC 9562, in lower case' })
export const Instant = Type.String({ format: 'date-time', description: 'RFC 3339, without leap seconds' })
export const DayText = Type.String({ format: 'date', description: 'A day as 2026-10-05' })
/** A count that a column of the database can hold. */
export const Counter = (minimum = 0) => Type.Integer({ minimum, maximum: LARGEST_INTEGER })
/** A sentence that a person writes. */
export const Sentence = Type.String({ minLength: 2, maxLength: LONGEST_SENTENCE, pattern: VISIBLE })
export const Words = Type.Unsafe<CoreWords>({
  type: 'object',
  additionalProperties: { type: 'string' },
  description: 'A text by language code',
})
/** A name in each language, as a person gives it: something to see in every one. */
export const NameGiven = Type.Unsafe<CoreWords>({
  type: 'object',
  propertyNames: { format: 'language' },
  additionalProperties: { type: 'string', minLength: 1, maxLength: 200, pattern: VISIBLE },
  minProperties: 1,
  maxProperties: 20,
  description: 'A name by language code',
})
export const RollUpName = oneOf('sum', 'mean', 'last', 'counts', 'share', 'latest', 'none')
export const StrengthName = oneOf('mustFix', 'explain', 'note')
export const StateName = oneOf('awaited', 'draft', 'sent', 'sentBack', 'accepted')
export const SignName = oneOf('awaited', 'draft', 'sent', 'sentBack', 'accepted', 'overdue')
export const DistrictState = oneOf('gathering', 'ready', 'signed', 'amended')
export const RoleName = oneOf('administrator', 'officer', 'clerk', 'reader')

/** What a cell can hold: a number, yes or no, a text, a chosen code or a day, several chosen codes. */
export const CellValue = Type.Unsafe<CoreCellValue>(
  Type.Union([
    Type.Number({ minimum: 0, maximum: 1e12 }),
    Type.Boolean(),
    Type.String({ minLength: 1, maxLength: LONGEST_TEXT }),
    Type.Array(Type.String({ maxLength: 64 }), { minItems: 1, maxItems: 200 }),
  ]),
)
export const CellContent = Type.Unsafe<CoreCellContent>(
  Type.Union([
    exact({ kind: Type.Literal('value'), value: CellValue }),
    exact({
      kind: Type.Literal('notKnown'),
      reason: Type.String({ minLength: 1, maxLength: LONGEST_REASON, pattern: VISIBLE }),
    }),
    exact({ kind: Type.Literal('notOffered') }),
    exact({ kind: Type.Literal('blank') }),
  ]),
)

export const UnitRef = exact({ code: UnitCode, name: Type.String() })
export type UnitRef = Static<typeof UnitRef>

export const RoundRef = exact({
  id: RoundId,
  dataset: Type.String(),
  name: Words,
  period: Type.String(),
  opensAt: Instant,
  dueAt: Instant,
  closesAt: Instant,
})
export type RoundRef = Static<typeof RoundRef>

export const Done = exact({ done: Type.Literal(true) })
