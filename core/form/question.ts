import type { Choice, Conditions } from '../report/asked'
import type { Axis, Band, RangeMethod, Words } from '../report/edition'

export type { Acceptance, Choice } from '../report/asked'

/** What can be asked. Everything but `note`, `table` and `repeat` has an answer of its own. */
export type QuestionKind =
  | 'text'
  | 'wholeNumber'
  | 'decimal'
  | 'date'
  | 'partialDate'
  | 'time'
  | 'yesNo'
  | 'oneOf'
  | 'severalOf'
  | 'position'
  | 'picture'
  | 'sound'
  | 'identifier'
  | 'unit'
  | 'person'
  | 'computed'
  | 'note'
  | 'table'
  | 'repeat'

interface Asked extends Conditions {
  code: string
  label: Words
  /** What to count and what not, one touch away. */
  definition?: Words
  /** An expression whose value stands in the answer until somebody touches it. */
  default?: string
}

interface Chosen {
  choices: readonly Choice[]
  /** The question whose answer narrows the choices to those `under` it: a choice, or a unit. */
  cascade?: string
  /**
   * The shared list that the choices were taken from. They stand here whole: a published form changes with no
   * list.
   */
  list?: string
}

interface Numeric {
  unitOfMeasure?: string
  least?: number
  most?: number
  /** How the expected range is found, where one is. */
  range?: RangeMethod | null
}

/** What becomes an answer. */
export type AnswerQuestion = Asked &
  (
    | { kind: 'text'; longest?: number; pattern?: string }
    | { kind: 'identifier'; pattern?: string }
    | ({ kind: 'wholeNumber' | 'decimal'; axes?: readonly string[] } & Numeric)
    | { kind: 'date' | 'partialDate' | 'time' | 'yesNo' | 'position' | 'person' }
    /**
     * A picture that is kept as it was taken carries the place and the time that its camera wrote beside it.
     */
    | { kind: 'picture'; mostBytes?: number; asTaken?: boolean }
    | { kind: 'sound'; mostBytes?: number }
    | ({ kind: 'oneOf' | 'severalOf' } & Chosen)
    /** A unit of the tree, on a level, below the unit that another question was answered with. */
    | { kind: 'unit'; level: number; cascade?: string }
    | { kind: 'computed'; expression: string; unitOfMeasure?: string }
  )

type Among<One, Kind> = One extends { kind: infer Kinds } ? (Kind extends Kinds ? One : never) : never

/** The questions of one kind. */
export type QuestionOf<Kind extends AnswerQuestion['kind']> = Among<AnswerQuestion, Kind>

/** Words to read. */
export type Note = Pick<Asked, 'code' | 'label' | 'shownWhen'> & { kind: 'note' }

/** Fixed rows, each asked the same questions: room by room, basins, working basins, soap. */
export type Table = Pick<Asked, 'code' | 'label' | 'definition' | 'shownWhen'> & {
  kind: 'table'
  rows: readonly Band[]
  columns: readonly AnswerQuestion[]
}

/** Questions that are answered as often as there is something to tell: each child of a household. */
export type Repeat = Pick<Asked, 'code' | 'label' | 'definition' | 'shownWhen'> & {
  kind: 'repeat'
  parts: readonly AnswerQuestion[]
  most?: number
}

export type Question = AnswerQuestion | Note | Table | Repeat

export interface FormSection {
  kind: 'section'
  code: string
  label: Words
  shownWhen?: string
  parts: readonly FormPart[]
}

export type FormPart = FormSection | Question

/** A form as it is defined: of a case register, or a dataset. */
export interface Form {
  code: string
  name: Words
  /** Breakdowns that its number questions may have. */
  axes?: readonly Axis[]
  parts: readonly FormPart[]
}

/**
 * What the answer of each kind is in an expression. A time is its minutes since midnight, a partial date its
 * computing day.
 */
export const TYPE_OF_KIND = {
  text: 'text',
  identifier: 'text',
  wholeNumber: 'number',
  decimal: 'number',
  date: 'day',
  partialDate: 'day',
  time: 'number',
  yesNo: 'truth',
  oneOf: 'text',
  severalOf: 'answers',
  position: 'text',
  picture: 'text',
  sound: 'text',
  unit: 'text',
  person: 'text',
} as const satisfies Partial<Record<QuestionKind, string>>
