import type { Words } from '../report/edition'

/** How much a failed rule weighs: it stops the sending, asks for a sentence, or is only told. */
export type Strength = 'mustFix' | 'explain' | 'note'

/** Something that must hold in each report, as a person wrote it. */
export interface RuleDefinition {
  code: string
  name: Words
  expression: string
  strength: Strength
  /** The code of an axis: the rule is judged once for each of its bands. */
  over?: string
  /** What a blank makes of the rule: not judged, or counted as zero. */
  blanks: 'notJudged' | 'zero'
  forClerk: Words
  forOfficer: Words
}
