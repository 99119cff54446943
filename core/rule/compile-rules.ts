import { compile, type Compiled } from '../expression/compile'
import { vocabularyOf, type Vocabulary } from '../expression/vocabulary'
import type { Axis, Edition } from '../report/edition'
import { bad, good, type Problem, type Result } from '../result'
import type { RuleDefinition } from './definition'

/** A rule ready to run; one that goes over an axis becomes one of these for each band. */
export interface CompiledRule {
  rule: RuleDefinition
  band: string | null
  compiled: Compiled
}

/** Compiles all rules of an edition. The problems of a rule carry its code as `values.rule`. */
export const compileRules = (edition: Edition, vocabulary: Vocabulary = vocabularyOf(edition)): Result<CompiledRule[]> =>
  compileRuleList(edition.rules, vocabulary, edition.axes)

/**
 * Compiles rules over any vocabulary: a dataset with the datasets and registers beside it, one form of a register, a
 * case with all its forms.
 * @param axes those that a rule may go over.
 * Problems: `rule-double` (two rules of one code), `rule-no-axis`, and those of the expressions.
 */
export function compileRuleList(rules: readonly RuleDefinition[], vocabulary: Vocabulary, axes: readonly Axis[] = []): Result<CompiledRule[]> {
  const compiledRules: CompiledRule[] = []
  const problems: Problem[] = []
  const seen = new Set<string>()
  for (const rule of rules) {
    if (seen.has(rule.code)) problems.push({ code: 'rule-double', message: `There are two rules ${rule.code}.`, values: { rule: rule.code } })
    seen.add(rule.code)
    const axis = rule.over ? axes.find(candidate => candidate.code === rule.over) : undefined
    if (rule.over && !axis) {
      problems.push({ code: 'rule-no-axis', message: `Rule ${rule.code} goes over ${rule.over}, which is no axis here.`, values: { rule: rule.code, word: rule.over } })
      continue
    }
    const bands = axis ? axis.bands.map(band => band.code) : [null]
    for (const band of bands) {
      const compiled = compile(rule.expression, vocabulary, 'truth', band && axis ? { axis: axis.code, band } : undefined)
      if (compiled.ok) compiledRules.push({ rule, band, compiled: compiled.value })
      else {
        problems.push(...compiled.problems.map(problem => ({ ...problem, values: { ...problem.values, rule: rule.code } })))
        break
      }
    }
  }
  return problems.length ? bad(...problems) : good(compiledRules)
}
