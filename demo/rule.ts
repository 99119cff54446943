import type { RuleDefinition } from '#core/rule/definition'
import { words, type Pair } from './words'

/** A rule that does not judge blanks, over the units or over the bands of an axis. */
export const rule = (
  code: string,
  strength: RuleDefinition['strength'],
  expression: string,
  name: Pair,
  forClerk: Pair,
  forOfficer: Pair,
  over?: string,
): RuleDefinition => ({
  code,
  name: words(name),
  expression,
  strength,
  blanks: 'notJudged',
  forClerk: words(forClerk),
  forOfficer: words(forOfficer),
  ...(over && { over }),
})
