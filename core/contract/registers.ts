import { Type, type Static, type TSchema } from '@sinclair/typebox'
import type { CaseDoubt } from '../cases/case-doubts'
import type { CaseRegister } from '../cases/register'
import type { RegisterDifference } from '../define/register-differences'
import type { Lack } from '../define/readiness'
import type { ChoiceList } from '../define/choice-list'
import { Axis, Band, Choices, Code, Conditions, Expression, Range, Rule, Text } from './drafts'
import { CaseLine } from './cases'
import { Count, exact, Instant, oneOf, orNull, shapeOf, Uuid, Words } from './common'

const Optional = <T extends TSchema>(schema: T) => Type.Optional(schema)
const Flag = { shownWhen: Conditions.shownWhen }
const Named = { code: Code, label: Text, definition: Optional(Text), ...Flag }
const Asked = {
  ...Named,
  ...Conditions,
  default: Optional(Expression),
}
const Pattern = Optional(Type.String({ maxLength: 200 }))
const kinds = <T extends string>(...words: T[]) => ({ kind: oneOf(...words) })

const AnswerQuestion = Type.Union([
  exact({
    ...kinds('text'),
    ...Asked,
    longest: Optional(Type.Integer({ minimum: 1, maximum: 2000 })),
    pattern: Pattern,
  }),
  exact({ ...kinds('identifier'), ...Asked, pattern: Pattern }),
  exact({
    ...kinds('wholeNumber', 'decimal'),
    ...Asked,
    axes: Optional(Type.Array(Code, { maxItems: 2 })),
    unitOfMeasure: Optional(Type.String({ maxLength: 40 })),
    least: Optional(Type.Number()),
    most: Optional(Type.Number()),
    range: Optional(Range),
  }),
  exact({ ...kinds('date', 'partialDate', 'time', 'yesNo', 'position', 'person'), ...Asked }),
  exact({
    ...kinds('picture', 'sound'),
    ...Asked,
    mostBytes: Optional(Type.Integer({ minimum: 1000, maximum: 8_388_608 })),
    asTaken: Optional(Type.Boolean()),
  }),
  exact({
    ...kinds('oneOf', 'severalOf'),
    ...Asked,
    choices: Choices,
    cascade: Optional(Code),
    list: Optional(Code),
  }),
  exact({
    ...kinds('unit'),
    ...Asked,
    level: Type.Integer({ minimum: 1, maximum: 9 }),
    cascade: Optional(Code),
  }),
  exact({
    ...kinds('computed'),
    ...Asked,
    expression: Expression,
    unitOfMeasure: Optional(Type.String({ maxLength: 40 })),
  }),
])
const Question = Type.Union([
  AnswerQuestion,
  exact({ ...kinds('note'), code: Code, label: Text, ...Flag }),
  exact({
    ...kinds('table'),
    ...Named,
    rows: Type.Array(Band, { maxItems: 200 }),
    columns: Type.Array(AnswerQuestion, { maxItems: 40 }),
  }),
  exact({
    ...kinds('repeat'),
    ...Named,
    parts: Type.Array(AnswerQuestion, { maxItems: 60 }),
    most: Optional(Type.Integer({ minimum: 1, maximum: 200 })),
  }),
])
const section = (part: TSchema) =>
  exact({ ...kinds('section'), code: Code, label: Text, ...Flag, parts: Type.Array(part, { maxItems: 400 }) })
/** Sections in sections, four deep at the most: deeper than any paper goes. */
const Part = [1, 2, 3, 4].reduce<TSchema>(inner => Type.Union([Question, section(inner)]), Question)

const Form = exact({
  code: Code,
  name: Text,
  axes: Optional(Type.Array(Axis, { maxItems: 40 })),
  parts: Type.Array(Part, { maxItems: 400 }),
})
const OptionalCode = Optional(Code)

/** A register as a draft holds it: its shape must be right, its content may still be unfinished. */
export const DraftRegister = Type.Unsafe<CaseRegister>(
  exact({
    code: Code,
    name: Text,
    subject: oneOf('person', 'household', 'specimen', 'unit'),
    forms: Type.Array(
      exact({
        role: oneOf('registration', 'followUp', 'result'),
        form: Form,
        many: Type.Boolean(),
        eventDate: Type.String({ maxLength: 62 }),
      }),
      { maxItems: 30 },
    ),
    parent: OptionalCode,
    line: Type.Array(Code, { maxItems: 30 }),
    identity: exact({
      name: OptionalCode,
      birthDate: OptionalCode,
      ageYears: OptionalCode,
      sex: OptionalCode,
      place: OptionalCode,
      identifiers: Type.Array(Code, { maxItems: 10 }),
    }),
    countingDate: Type.String({ maxLength: 62 }),
    follow: Optional(
      exact({
        nextVisit: OptionalCode,
        result: OptionalCode,
        household: Optional(Type.Array(Code, { maxItems: 40 })),
      }),
    ),
    keeping: Optional(
      exact({
        years: Type.Integer({ minimum: 1, maximum: 100 }),
        personal: Type.Array(Code, { maxItems: 100 }),
      }),
    ),
    rules: Type.Array(Rule, { maxItems: 300 }),
  }),
)

export const OfRegister = exact({ register: Code })

export const RegisterLine = exact({
  register: Code,
  name: Words,
  /** The number of the newest edition; null for one that was never published. */
  edition: orNull(Type.Integer()),
  draft: orNull(exact({ by: Type.String(), at: Instant })),
})
export type RegisterLine = Static<typeof RegisterLine>

export const RegisterFile = exact({
  draft: shapeOf<CaseRegister>('The register that would be published'),
  number: Type.Integer({ minimum: 1 }),
  version: Type.Integer({ minimum: 0 }),
  saved: orNull(exact({ by: Type.String(), at: Instant })),
  /** May the person change it? Not where it is another branch's, or the whole installation's. */
  mine: Type.Boolean(),
  published: orNull(shapeOf<CaseRegister>('The newest edition')),
  /** The register that its cases belong to the cases of, as it was published last. */
  parent: orNull(shapeOf<CaseRegister>('The parent register')),
  lacks: Type.Array(shapeOf<Lack>('What it lacks')),
  differences: Type.Array(shapeOf<RegisterDifference>('What it says otherwise than the newest edition')),
})
export type RegisterFile = Static<typeof RegisterFile>
export const RegisterSave = exact({ version: Type.Integer({ minimum: 0 }), draft: DraftRegister })

/** A rule of a draft, tried on the cases that are there, a piece at a time. */
export const RegisterTry = exact({
  /** The draft as it stands in the page. */
  draft: DraftRegister,
  /** The code of the rule. */
  rule: Code,
  /** The last case of the piece before. */
  after: Type.Optional(Uuid),
})
export const RegisterTried = exact({
  /** How many cases there are in all, on the first piece. */
  all: orNull(Count),
  cases: Count,
  fired: Count,
  notJudged: Count,
  /** How many cases were looked at, whether or not the rule is about them. */
  looked: Count,
  hits: Type.Array(exact({ case: CaseLine, doubt: shapeOf<CaseDoubt>('The doubt with the answers put in') })),
  /** Where the next piece begins; null after the last. */
  after: orNull(Uuid),
})
export type RegisterTried = Static<typeof RegisterTried>

export const ChoiceListDefinition = Type.Unsafe<ChoiceList>(
  exact({ code: Code, name: Text, parent: OptionalCode, choices: Choices }),
)
export const ChoiceListFile = exact({
  list: shapeOf<ChoiceList>('The list'),
  version: Type.Integer({ minimum: 0 }),
  by: Type.String(),
  at: Instant,
  usedBy: Type.Array(Words),
})
export type ChoiceListFile = Static<typeof ChoiceListFile>
export const ChoiceListSave = exact({ version: Type.Integer({ minimum: 0 }), list: ChoiceListDefinition })
