import { compile } from '../expression/compile'
import { vocabularyOf } from '../expression/vocabulary'
import type { Edition, IndicatorDefinition } from '../report/edition'
import { tableOf, type CellMap } from '../report/table'
import { must } from '../result'

export interface IndicatorFigure {
  code: string
  /** The rolled-up numerator and denominator, null when blank. */
  numerator: number | null
  denominator: number | null
  /** numerator / denominator × factor; null when either is blank or the denominator is zero. */
  value: number | null
}

/**
 * Indicators over figures that were rolled up before: rates are never averaged.
 * @param figures the rolled-up cells, as if they were one report; `earlier` the same of the periods before.
 */
export function indicators(edition: Edition, figures: CellMap, earlier: readonly CellMap[] = []): IndicatorFigure[] {
  const table = tableOf([figures], earlier.map(cells => [cells]))
  const vocabulary = vocabularyOf(edition)
  const run = (expression: string) => {
    const value = must(compile(expression, vocabulary, 'number')).run(table)[0]!
    return Number.isNaN(value) ? null : value
  }
  return edition.indicators.map((indicator: IndicatorDefinition) => {
    const numerator = run(indicator.numerator)
    const denominator = run(indicator.denominator)
    const value = numerator === null || !denominator ? null : (numerator / denominator) * indicator.factor
    return { code: indicator.code, numerator, denominator, value }
  })
}
