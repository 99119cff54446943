import type { Words } from '../report/edition'
import type { AnswerContent, Answers } from './answer'
import type { UnitWithin } from './choices'

/** What filling needs from around the form. */
export interface FillingOptions {
  /** The day number of today, for `today()`. */
  today?: number
  unitWithin?: UnitWithin
}

/**
 * A form while it is filled. Never changed: each answer makes a new one, so that going back is keeping the
 * old.
 */
export interface Filling {
  /** What was answered, and defaults that nobody touched. A repeat's own key holds its instances in order. */
  answers: ReadonlyMap<string, AnswerContent>
  /** Keys that a person answered; their defaults no longer apply. */
  touched: ReadonlySet<string>
  computed: ReadonlyMap<string, AnswerContent>
  /**
   * Questions, tables, notes, repeats and sections that do not apply, by code (in a repeat behind their
   * instance).
   */
  hidden: ReadonlySet<string>
  /** Cells that are required and blank. *Not known* is an answer. */
  missing: ReadonlySet<string>
  /** Cells whose answer is not accepted, with the messages. */
  refused: ReadonlyMap<string, readonly Words[]>
}

/** What one act did. */
export interface FillingStep {
  filling: Filling
  /** Given answers that do not apply any more: shown before the step is applied. */
  cleared: { key: string; content: AnswerContent }[]
  /** Codes of the steps that were computed anew, in order (in a repeat behind their instance). */
  recomputed: string[]
}

export const NOTHING_FILLED: Filling = {
  answers: new Map(),
  touched: new Set(),
  computed: new Map(),
  hidden: new Set(),
  missing: new Set(),
  refused: new Map(),
}

/** What stands in a cell: computed, answered, or undefined for blank. */
export const contentAt = (filling: Filling, key: string): AnswerContent | undefined =>
  filling.computed.get(key) ?? filling.answers.get(key)

/** The answers as they are kept and sent: what was given and what was computed. */
export const answersOf = (filling: Filling): Answers =>
  Object.fromEntries([...filling.answers, ...filling.computed])
