import { compile, type Compiled } from '../expression/compile'
import type { Edition } from '../report/edition'
import { bad, good, type Problem, type Result } from '../result'
import type { RuleDefinition } from './definition'

/** A rule ready to run; one that goes over an axis becomes one of these for each band. */
export interface CompiledRule {
  rule: RuleDefinition
  band: string | null
  compiled: Compiled
}

/** Compiles all rules of an edition. The problems of a rule carry its code as `values.rule`. */
export function compileRules(edition: Edition): Result<CompiledRule[]> {
  const compiledRules: CompiledRule[] = []
  const problems: Problem[] = []
  for (const rule of edition.rules) {
    const axis = rule.over ? edition.axes.find(candidate => candidate.code === rule.over) : undefined
    if (rule.over && !axis) {
      problems.push({ code: 'rule-no-axis', message: `Rule ${rule.code} goes over ${rule.over}, which is no axis here.`, values: { rule: rule.code, word: rule.over } })
      continue
    }
    const bands = axis ? axis.bands.map(band => band.code) : [null]
    for (const band of bands) {
      const compiled = compile(rule.expression, edition, 'truth', band && axis ? { axis: axis.code, band } : undefined)
      if (compiled.ok) compiledRules.push({ rule, band, compiled: compiled.value })
      else {
        problems.push(...compiled.problems.map(problem => ({ ...problem, values: { ...problem.values, rule: rule.code } })))
        break
      }
    }
  }
  return problems.length ? bad(...problems) : good(compiledRules)
}
