import type { Words } from './edition'

/** What an item of a dataset and a question of a case form have in common. */

/** Is the answer a number that somebody types? What is computed is a number too, and is not typed. */
export const isTypedNumber = (kind: string): kind is 'wholeNumber' | 'decimal' =>
  kind === 'wholeNumber' || kind === 'decimal'

/** A choice; where it depends on another answer, the choice there that it belongs to. */
export interface Choice {
  code: string
  label: Words
  under?: string
}

/**
 * A condition on an answer, with what is said when it does not hold. Unknown passes: nobody is stopped by a
 * blank.
 */
export interface Acceptance {
  /** An expression of the form's own questions, this one among them. */
  expression: string
  message: Words
}

/** When it is shown, needed and accepted. */
export interface Conditions {
  /** Shown only when this is true; unknown hides. */
  shownWhen?: string
  /** `always`, or an expression. *Not known* with a reason answers it too. */
  required?: 'always' | { when: string }
  acceptedIf?: readonly Acceptance[]
}
