import { codeFromLabel } from '#core/form/code'
import type { RuleDefinition } from '#core/rule/definition'

/** A rule that says nothing yet, with a code that none of the others has. */
export const newRule = (
  others: readonly Pick<RuleDefinition, 'code'>[],
  name: RuleDefinition['name'],
): Omit<RuleDefinition, 'over'> => ({
  code: codeFromLabel(
    'rule',
    others.map(({ code }) => code),
  ),
  name,
  expression: '',
  strength: 'explain',
  blanks: 'notJudged',
  forClerk: {},
  forOfficer: {},
})
