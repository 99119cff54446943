import { compile, type Compiled } from '../expression/compile'
import { NOTHING, vocabularyOf, type Vocabulary } from '../expression/vocabulary'
import { dependsOn } from '../expression/depends-on'
import { RANGE_PERIODS } from '../quality/expected-range'
import type { Axis, Edition } from '../report/edition'
import type { LookBack } from '../report/period-table'
import { bad, good, type Problem, type Result } from '../result'
import type { Narrowing } from '../expression/bind'
import { axesOver, type RuleDefinition } from './definition'
import { rulesOf } from './item-rules'

/** A rule ready to run; one that goes over axes becomes one of these for each band, or pair of bands. */
export interface CompiledRule {
  rule: RuleDefinition
  /** The band, or the bands of both axes as `u5.f`. */
  band: string | null
  compiled: Compiled
}

/** Compiles all rules of an edition. The problems of a rule carry its code as `values.rule`. */
export const compileRules = (
  edition: Edition,
  vocabulary: Vocabulary = vocabularyOf(edition),
): Result<CompiledRule[]> => compileRuleList(rulesOf(edition), vocabulary, edition.axes)

/**
 * The rules of a published edition. What was published before a rule of the language became stricter is left
 * out where it no longer compiles, and is then not judged: the next edition's readiness says why.
 */
export const runnableRules = (edition: Edition): CompiledRule[] => {
  const vocabulary = vocabularyOf(edition)
  return rulesOf(edition).flatMap(rule => {
    const compiled = compileRuleList([rule], vocabulary, edition.axes)
    return compiled.ok ? compiled.value : []
  })
}

/**
 * Compiles rules over any vocabulary: a dataset with the datasets and registers beside it, one form of a
 * register, a case with all its forms.
 * @param axes those that a rule may go over. Problems: `rule-double` (two rules of one code), `rule-no-axis`,
 *   and those of the expressions.
 */
export function compileRuleList(
  rules: readonly RuleDefinition[],
  vocabulary: Vocabulary,
  axes: readonly Axis[] = [],
): Result<CompiledRule[]> {
  const compiledRules: CompiledRule[] = []
  const problems: Problem[] = []
  const seen = new Set<string>()
  for (const rule of rules) {
    if (seen.has(rule.code))
      problems.push({
        code: 'rule-double',
        message: `There are two rules ${rule.code}.`,
        values: { rule: rule.code },
      })
    seen.add(rule.code)
    const over = axesOver(rule)
    const strange = over.find(code => !axes.some(axis => axis.code === code))
    if (strange !== undefined) {
      problems.push({
        code: 'rule-no-axis',
        message: `Rule ${rule.code} goes over ${strange}, which is no axis here.`,
        values: { rule: rule.code, word: strange },
      })
      continue
    }
    for (const narrowing of narrowings(over, axes)) {
      const compiled = compile(rule.expression, vocabulary, 'truth', narrowing)
      if (compiled.ok)
        compiledRules.push({
          rule,
          band: narrowing.map(({ band }) => band).join('.') || null,
          compiled: compiled.value,
        })
      else {
        problems.push(
          ...compiled.problems.map(problem => ({
            ...problem,
            values: { ...problem.values, rule: rule.code },
          })),
        )
        break
      }
    }
  }
  return problems.length ? bad(...problems) : good(compiledRules)
}

/** Every band of an axis, every pair of bands of two; the whole once where there is none. */
const narrowings = (over: readonly string[], axes: readonly Axis[]): Narrowing[] =>
  over.reduce<Narrowing[]>(
    (all, code) =>
      all.flatMap(before =>
        axes
          .find(axis => axis.code === code)!
          .bands.map(band => [...before, { axis: code, band: band.code }]),
      ),
    [[]],
  )

/**
 * How far some expressions look back: so much history is read wherever they are judged.
 * @param least what is read besides: ranges need {@link RANGE_PERIODS}.
 */
export function lookBackOf(compiled: readonly Compiled[], least = RANGE_PERIODS): LookBack {
  const needs = compiled.map(one => dependsOn(one).lookBack)
  const most = Math.max(1, ...needs.map(({ length }) => length))
  return Array.from({ length: most }, (_, years) =>
    Math.max(years ? 0 : least, ...needs.map(backs => backs[years] ?? 0)),
  )
}

/** The expressions of an edition's indicators that compile. */
export const indicatorExpressions = (
  edition: Edition,
  vocabulary: Vocabulary = vocabularyOf(edition, NOTHING),
): Compiled[] =>
  edition.indicators
    .flatMap(({ numerator, denominator }) => [numerator, denominator])
    .flatMap(text => {
      const compiled = compile(text, vocabulary, 'number')
      return compiled.ok ? [compiled.value] : []
    })
