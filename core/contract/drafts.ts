import { Type, type Static } from '@sinclair/typebox'
import { FARTHEST_BACK } from '../expression/functions'
import type { Difference } from '../define/differences'
import type { Lack } from '../define/readiness'
import { LONGEST_TEXT } from '../form/answer'
import {
  ITEM_KINDS,
  type CountedRegister,
  type Edition,
  type NamedDataset,
  type Words as CoreWords,
} from '../report/edition'
import {
  CellKey,
  DayText,
  exact,
  Instant,
  oneOf,
  orNull,
  RollUpName,
  RoundRef,
  shapeOf,
  StrengthName,
  UnitCode,
  UnitRef,
  Words,
} from './common'

export const Code = Type.String({ pattern: '^[a-z][a-z0-9_]{0,62}$' })
export const Text = Type.Unsafe<CoreWords>({
  type: 'object',
  propertyNames: { format: 'language' },
  additionalProperties: { type: 'string', maxLength: 1000 },
  maxProperties: 20,
})
export const Expression = Type.String({ maxLength: 2000 })

export const Band = exact({ code: Code, name: Text })
export const Range = orNull(
  Type.Union([
    exact({
      method: Type.Literal('meanSd'),
      k: Type.Number({ exclusiveMinimum: 0, maximum: 10 }),
      raises: orNull(oneOf('explain', 'note')),
    }),
    exact({
      method: Type.Literal('modifiedZ'),
      limit: Type.Number({ exclusiveMinimum: 0, maximum: 20 }),
      raises: orNull(oneOf('explain', 'note')),
    }),
    exact({
      method: Type.Literal('poisson'),
      tail: Type.Number({ exclusiveMinimum: 0, maximum: 0.5 }),
      raises: orNull(oneOf('explain', 'note')),
    }),
    exact({
      method: Type.Literal('fixed'),
      low: Type.Number(),
      high: Type.Number(),
      raises: orNull(oneOf('explain', 'note')),
    }),
  ]),
)
export const Choices = Type.Array(exact({ code: Code, label: Text, under: Type.Optional(Code) }), {
  maxItems: 2000,
})
/** When something is shown, needed and accepted. */
export const Conditions = {
  shownWhen: Type.Optional(Expression),
  required: Type.Optional(Type.Union([Type.Literal('always'), exact({ when: Expression })])),
  acceptedIf: Type.Optional(Type.Array(exact({ expression: Expression, message: Text }), { maxItems: 20 })),
}
const Item = exact({
  code: Code,
  name: Text,
  definition: Text,
  kind: oneOf(...ITEM_KINDS),
  unitOfMeasure: Type.String({ maxLength: 40 }),
  rollUp: RollUpName,
  range: Range,
  axes: Type.Array(Code, { maxItems: 2 }),
  least: Type.Optional(Type.Number({ minimum: 0 })),
  most: Type.Optional(Type.Number({ minimum: 0 })),
  choices: Type.Optional(Choices),
  list: Type.Optional(Code),
  longest: Type.Optional(Type.Integer({ minimum: 1, maximum: LONGEST_TEXT })),
  pattern: Type.Optional(Type.String({ maxLength: 200 })),
  expression: Type.Optional(Expression),
  ...Conditions,
})
export const Rule = exact({
  code: Code,
  name: Text,
  expression: Expression,
  strength: StrengthName,
  over: Type.Optional(Type.Union([Code, Type.Array(Code, { minItems: 1, maxItems: 2 })])),
  branch: Type.Optional(UnitCode),
  from: Type.Optional(DayText),
  blanks: oneOf('notJudged', 'zero'),
  forClerk: Text,
  forOfficer: Text,
})
const Days = Type.Integer({ minimum: 0, maximum: 400 })

export const Axis = exact({ code: Code, name: Text, bands: Type.Array(Band, { maxItems: 60 }) })

/** An edition as a draft holds it: its shape must be right, its content may still be unfinished. */
export const DraftEdition = Type.Unsafe<Edition>(
  exact({
    dataset: Code,
    number: Type.Integer({ minimum: 1 }),
    name: Text,
    frequency: oneOf('day', 'week', 'month', 'quarter', 'halfYear', 'year', 'financialYear'),
    timing: exact({ opensAhead: Type.Integer({ minimum: 0, maximum: 60 }), dueDays: Days, closeDays: Days }),
    axes: Type.Array(Axis, { maxItems: 60 }),
    sections: Type.Array(exact({ code: Code, name: Text, items: Type.Array(Item, { maxItems: 500 }) }), {
      maxItems: 60,
    }),
    rules: Type.Array(Rule, { maxItems: 500 }),
    others: Type.Optional(Type.Array(shapeOf<NamedDataset>('Set by the server'), { maxItems: 100 })),
    counts: Type.Optional(Type.Array(shapeOf<CountedRegister>('Set by the server'), { maxItems: 100 })),
    caseCounts: Type.Optional(
      Type.Array(
        exact({
          code: Code,
          name: Text,
          register: Code,
          cells: Type.Array(CellKey, { maxItems: 200 }),
          where: Type.Optional(Expression),
          place: oneOf('care', 'residence'),
          residence: Type.Optional(Code),
          date: Type.String({ maxLength: 62 }),
          raises: Type.Optional(oneOf('explain', 'note')),
        }),
        { maxItems: 60 },
      ),
    ),
    indicators: Type.Array(
      exact({
        code: Code,
        name: Text,
        numerator: Expression,
        denominator: Expression,
        factor: Type.Number(),
        unitOfMeasure: Text,
      }),
      { maxItems: 200 },
    ),
  }),
)

const Dated = { from: DayText, to: orNull(DayText) }
/**
 * One way of naming who reports: a level (perhaps in a branch), all in a branch, a group, one unit; over days
 * [from, to).
 */
export const ReportsLine = Type.Union([
  exact({
    by: Type.Literal('level'),
    level: Type.Integer({ minimum: 1, maximum: 9 }),
    branch: orNull(UnitCode),
    ...Dated,
  }),
  exact({ by: Type.Literal('branch'), branch: UnitCode, ...Dated }),
  exact({ by: Type.Literal('group'), group: Code, ...Dated }),
  exact({ by: Type.Literal('unit'), unit: UnitCode, ...Dated }),
])
export type ReportsLine = Static<typeof ReportsLine>
/** Who reports a dataset; a unit that several lines name is expected once. */
export const DraftReports = Type.Array(ReportsLine, { maxItems: 300 })
export type DraftReports = Static<typeof DraftReports>

const Few = exact({ count: Type.Integer({ minimum: 0 }), units: Type.Array(UnitRef) })
/** Who would report it, and what that changes against today; the first units by name of each. */
export const DraftReporting = exact({
  all: Few,
  joins: Few,
  leaves: Few,
  /** Units of the reporting level, in the person's part, that would not report it. */ without: Few,
})
export type DraftReporting = Static<typeof DraftReporting>

export const OfDataset = exact({ dataset: Code })

export const DraftLine = exact({
  dataset: Code,
  name: Words,
  by: Type.String(),
  at: Instant,
  edition: orNull(Type.Integer()),
})
export type DraftLine = Static<typeof DraftLine>

export const DraftFile = exact({
  draft: shapeOf<Edition>('The edition that would be published'),
  reports: DraftReports,
  /** 0 while nothing was saved yet. */
  version: Type.Integer({ minimum: 0 }),
  saved: orNull(exact({ by: Type.String(), at: Instant })),
  /** The newest edition, if there is one: codes in it can no longer be changed. */
  published: orNull(shapeOf<Edition>('The newest edition')),
  reporting: DraftReporting,
  /** Rounds that are open to facilities, newest first: the next edition can enter them. */
  openRounds: Type.Array(RoundRef),
  /** Case registers that its rules may count. */
  registers: Type.Array(shapeOf<CountedRegister>('A register that is published')),
  /** Other datasets that its rules may name: those whose periods roll up to its own. */
  datasets: Type.Array(shapeOf<NamedDataset>('A dataset that is published')),
  /** May the person keep it? Not where it is reported outside their part of the tree. */
  mine: Type.Boolean(),
  lacks: Type.Array(shapeOf<Lack>('What it lacks')),
  differences: Type.Array(shapeOf<Difference>('What it says otherwise than the newest edition')),
})
export type DraftFile = Static<typeof DraftFile>

export const DraftSave = exact({
  version: Type.Integer({ minimum: 0 }),
  draft: DraftEdition,
  reports: DraftReports,
})
export type DraftSave = Static<typeof DraftSave>

export const Services = exact({
  notOffered: Type.Array(exact({ item: Code, from: DayText, to: orNull(DayText) })),
})
export type Services = Static<typeof Services>
export const ServicesSave = exact({ from: DayText, items: Type.Array(Code, { maxItems: 500 }) })

/** What a rule is tried on: some cells, over so many rounds and so many periods before them. */
export const PastAsked = exact({
  cells: Type.Array(CellKey, { maxItems: 600 }),
  /** Counts of cases as they are printed: `count(measles_cases where age_years < 5)`. */
  counts: Type.Optional(Type.Array(Type.String({ maxLength: 2000 }), { maxItems: 20 })),
  rounds: Type.Integer({ minimum: 1, maximum: 36 }),
  lookBack: Type.Array(Type.Integer({ minimum: 0, maximum: FARTHEST_BACK }), { minItems: 1, maxItems: 4 }),
  unit: Type.Optional(UnitCode),
})
export type PastAsked = Static<typeof PastAsked>

/** One edition among those of a dataset or register. */
export const EditionLine = exact({ number: Type.Integer(), publishedAt: Instant })
export type EditionLine = Static<typeof EditionLine>
