import type { Words } from '../report/edition'

/** How much a failed rule weighs: it prevents sending, asks for a sentence, or is only shown. */
export type Strength = 'mustFix' | 'explain' | 'note'

/** Something that must hold in each report, as a person wrote it. */
export interface RuleDefinition {
  code: string
  name: Words
  expression: string
  strength: Strength
  /**
   * The code of an axis: the rule is judged once for each of its bands. Of two axes: once for each pair of
   * their bands. Each is judged as soon as its own cells are there.
   */
  over?: string | readonly string[]
  /** The code of a unit: the rule is for what lies at or below it; everywhere when it is left out. */
  branch?: string
  /** The first day for which the rule holds, as `2026-10-01`: periods that end before it are left alone. */
  from?: string
  /** What a blank makes of the rule: not judged, or counted as zero. */
  blanks: 'notJudged' | 'zero'
  forClerk: Words
  forOfficer: Words
}

/** The axes that a rule goes over, none for one about whole items. */
export const axesOver = ({ over }: Pick<RuleDefinition, 'over'>): readonly string[] =>
  over === undefined ? [] : typeof over === 'string' ? [over] : over

/**
 * Is a rule for a unit in a period? @param path codes of the unit and all above it; @param lastDay of the
 * period.
 */
export const isFor = (
  { branch, from }: Pick<RuleDefinition, 'branch' | 'from'>,
  path: readonly string[],
  lastDay: string,
): boolean => (branch === undefined || path.includes(branch)) && (from === undefined || from <= lastDay)
