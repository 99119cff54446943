import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import type { Edition } from '../report/edition'
import type { RuleDefinition } from './definition'

/** The demo's monthly summary with other rules: for tests of rules. */
export function withRules(...rules: Partial<RuleDefinition>[]): Edition {
  const blank = {
    name: { en: 'Rule' },
    strength: 'mustFix' as const,
    blanks: 'notJudged' as const,
    forClerk: { en: '' },
    forOfficer: { en: '' },
  }
  return {
    ...MONTHLY_SUMMARY,
    rules: rules.map((rule, at) => ({ ...blank, code: `rule_${at}`, expression: 'true', ...rule })),
  }
}
