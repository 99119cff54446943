import { Type, type Static } from '@sinclair/typebox'
import type { Difference } from '../define/differences'
import type { Lack } from '../define/readiness'
import type { Edition } from '../report/edition'
import { DayText, exact, Instant, oneOf, orNull, shapeOf, StrengthName, UnitCode, Words } from './shared'

const Code = Type.String({ pattern: '^[a-z][a-z0-9_]{0,62}$' })
const Text = Type.Record(Type.String({ pattern: '^[a-z]{2}$' }), Type.String({ maxLength: 1000 }))
const Expression = Type.String({ maxLength: 2000 })

const Band = exact({ code: Code, name: Text })
const Range = orNull(Type.Union([
  exact({ method: Type.Literal('meanSd'), k: Type.Number({ exclusiveMinimum: 0, maximum: 10 }), raises: orNull(oneOf('explain', 'note')) }),
  exact({ method: Type.Literal('modifiedZ'), limit: Type.Number({ exclusiveMinimum: 0, maximum: 20 }), raises: orNull(oneOf('explain', 'note')) }),
  exact({ method: Type.Literal('poisson'), tail: Type.Number({ exclusiveMinimum: 0, maximum: 0.5 }), raises: orNull(oneOf('explain', 'note')) }),
  exact({ method: Type.Literal('fixed'), low: Type.Number(), high: Type.Number(), raises: orNull(oneOf('explain', 'note')) }),
]))
const Item = exact({
  code: Code, name: Text, definition: Text, unitOfMeasure: Type.String({ minLength: 1, maxLength: 40 }), number: oneOf('count', 'decimal'),
  rollUp: oneOf('sum', 'mean', 'last', 'none'), range: Range, axes: Type.Array(Code, { maxItems: 2 }),
})
const Rule = exact({
  code: Code, name: Text, expression: Expression, strength: StrengthName, over: Type.Optional(Code), blanks: oneOf('notJudged', 'zero'), forClerk: Text, forOfficer: Text,
})
const Days = Type.Integer({ minimum: 0, maximum: 400 })

/** An edition as a draft holds it: its shape must be right, its content may still be unfinished. */
export const DraftEdition = Type.Unsafe<Edition>(exact({
  dataset: Code, number: Type.Integer({ minimum: 1 }), name: Text, frequency: oneOf('day', 'week', 'month', 'quarter', 'halfYear', 'year'),
  timing: exact({ opensAhead: Type.Integer({ minimum: 0, maximum: 60 }), dueDays: Days, closeDays: Days }),
  axes: Type.Array(exact({ code: Code, name: Text, bands: Type.Array(Band, { maxItems: 60 }) }), { maxItems: 60 }),
  sections: Type.Array(exact({ code: Code, name: Text, items: Type.Array(Item, { maxItems: 500 }) }), { maxItems: 60 }),
  rules: Type.Array(Rule, { maxItems: 500 }),
  indicators: Type.Array(exact({ code: Code, name: Text, numerator: Expression, denominator: Expression, factor: Type.Number(), unitOfMeasure: Text }), { maxItems: 200 }),
}))

/** Who reports it: all units of a level within a branch, from a day. */
export const DraftReports = exact({ level: Type.Integer({ minimum: 1, maximum: 9 }), branch: UnitCode, from: DayText })
export type DraftReports = Static<typeof DraftReports>

export const OfDataset = exact({ dataset: Code })

export const DraftLine = exact({ dataset: Code, name: Words, by: Type.String(), at: Instant, edition: orNull(Type.Integer()) })
export type DraftLine = Static<typeof DraftLine>

export const DraftFile = exact({
  draft: shapeOf<Edition>('The edition that would be published'),
  reports: DraftReports,
  /** 0 while nothing was kept yet. */
  version: Type.Integer({ minimum: 0 }),
  kept: orNull(exact({ by: Type.String(), at: Instant })),
  /** The newest edition, if there is one: codes in it can no longer be changed. */
  published: orNull(shapeOf<Edition>('The newest edition')),
  /** How many units would report it now. */
  units: Type.Integer({ minimum: 0 }),
  lacks: Type.Array(shapeOf<Lack>('What it lacks')),
  differences: Type.Array(shapeOf<Difference>('What it says otherwise than the newest edition')),
})
export type DraftFile = Static<typeof DraftFile>

export const DraftSave = exact({ version: Type.Integer({ minimum: 0 }), draft: DraftEdition, reports: DraftReports })
export type DraftSave = Static<typeof DraftSave>
