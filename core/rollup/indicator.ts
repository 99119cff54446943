import { compile } from '../expression/compile'
import { NOTHING, vocabularyOf } from '../expression/vocabulary'
import { nearlyEqual } from '../nearly-equal'
import type { Cell, Edition, IndicatorDefinition } from '../report/edition'
import type { CellMap, ColumnTable } from '../report/table'
import { must } from '../result'
import { isAmount, overUnits } from './roll-up'

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
 * @param table the rolled-up cells as if they were one report, with those of the periods before where the
 *   expressions look back. @param today the day number that `today()` gives.
 */
export function indicators(edition: Edition, table: ColumnTable, today?: number): IndicatorFigure[] {
  const vocabulary = vocabularyOf(edition, NOTHING)
  const run = (expression: string) => {
    const value = must(compile(expression, vocabulary, 'number')).run(
      table,
      today === undefined ? {} : { today },
    )[0]!
    return Number.isNaN(value) ? null : value
  }
  return edition.indicators.map((indicator: IndicatorDefinition) => {
    const numerator = run(indicator.numerator)
    const denominator = run(indicator.denominator)
    const value =
      numerator === null || denominator === null || nearlyEqual(denominator, 0)
        ? null
        : (numerator / denominator) * indicator.factor
    return { code: indicator.code, numerator, denominator, value }
  })
}

/** The rolled-up cells of some reports, as if they were one report. @param received reports of one period. */
export function asOneReport(cells: readonly Cell[], received: ColumnTable): CellMap {
  return Object.fromEntries(
    cells.flatMap(({ key, item }) => {
      if (!isAmount(item.rollUp)) return []
      const { value } = overUnits(received, [key], item.rollUp)
      return value === null ? [] : [[key, { kind: 'value' as const, value }]]
    }),
  )
}
