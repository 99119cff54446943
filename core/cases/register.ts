import type { Words } from '../report/edition'
import type { Form } from '../form/question'
import type { RuleDefinition } from '../rule/definition'

/** What a form is for: it opens a case, follows it, or brings a result. */
export type FormRole = 'registration' | 'followUp' | 'result'

export interface RegisterForm {
  role: FormRole
  form: Form
  /** May it be filled more than once for one case? */
  many: boolean
  /** Which question of the form says when it happened; the day of entry where it is blank. */
  eventDate: string
}

/**
 * One kind of case, with its forms. A question that stands in two forms under one code is one question of the
 * case.
 */
export interface CaseRegister {
  code: string
  name: Words
  /** What a case is about. */
  subject: 'person' | 'household' | 'specimen' | 'unit'
  forms: readonly RegisterForm[]
  /** The register of the case that a case of this one belongs to: a contact of a measles case. */
  parent?: string
  /** The questions that make the line in the list of cases. */
  line: readonly string[]
  /** The questions that tell who it is: what duplicates are found by. */
  identity: {
    name?: string
    birthDate?: string
    ageYears?: string
    sex?: string
    place?: string
    identifiers: readonly string[]
  }
  /** The question by whose day a case counts in a period. */
  countingDate: string
  /** What the facility follows: absent where it follows nothing. */
  follow?: {
    /** The question that says when the next visit is. */
    nextVisit?: string
    /** The question that brings the result: asked in an entry and blank there, it is awaited. */
    result?: string
    /** The questions that people of one household answer alike: *same household as…* carries them over. */
    household?: string[]
  }
  /** Which answers are personal, and for how long they are kept; without it all are kept for ever. */
  keeping?: {
    /** So many years after the last event of a case its personal answers are replaced. */
    years: number
    personal: readonly string[]
  }
  /** Rules on one entry, over a case's entries, and against the parent case. */
  rules: readonly RuleDefinition[]
}
