import { compile, type Compiled } from '../expression/compile'
import { vocabularyOf, type Vocabulary } from '../expression/vocabulary'
import { dependsOn } from '../expression/depends-on'
import { RANGE_PERIODS } from '../quality/expected-range'
import type { Axis, Edition } from '../report/edition'
import type { LookBack } from '../report/period-table'
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
 * The rules of a published edition. What was published before a rule of the language became stricter is left out where
 * it no longer compiles, and is then not judged: the next edition's readiness says why.
 */
export const runnableRules = (edition: Edition): CompiledRule[] => {
  const vocabulary = vocabularyOf(edition)
  return edition.rules.flatMap((rule) => {
    const compiled = compileRuleList([rule], vocabulary, edition.axes)
    return compiled.ok ? compiled.value : []
  })
}

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

/**
 * How far some expressions look back: so much history is read wherever they are judged.
 * @param least what is read besides: ranges need {@link RANGE_PERIODS}.
 */
export function lookBackOf(compiled: readonly Compiled[], least = RANGE_PERIODS): LookBack {
  const needs = compiled.map(one => dependsOn(one).lookBack)
  const most = Math.max(1, ...needs.map(({ length }) => length))
  return Array.from({ length: most }, (_, years) => Math.max(years ? 0 : least, ...needs.map(backs => backs[years] ?? 0)))
}

/** The expressions of an edition's indicators that compile. */
export const indicatorExpressions = (edition: Edition, vocabulary: Vocabulary = vocabularyOf(edition)): Compiled[] =>
  edition.indicators.flatMap(({ numerator, denominator }) => [numerator, denominator]).flatMap((text) => {
    const compiled = compile(text, vocabulary, 'number')
    return compiled.ok ? [compiled.value] : []
  })
