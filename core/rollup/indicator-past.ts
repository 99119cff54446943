import { vocabularyOf } from '../expression/vocabulary'
import { compile } from '../expression/compile'
import { cellsOf, type Edition, type IndicatorDefinition } from '../report/edition'
import { tableOf, type CellMap } from '../report/table'
import { bad, good, type Problem, type Result } from '../result'
import { tablesOfPast, type Past } from '../rule/try-out'
import { indicators, type IndicatorFigure } from './indicator'
import { overUnits } from './roll-up'

/**
 * An indicator over past periods: each cell rolled up over the units first, then the rate.
 * @returns a figure for each judged period, newest first, or the mistakes of its expressions.
 */
export function indicatorOverPast(edition: Edition, indicator: IndicatorDefinition, past: Past): Result<IndicatorFigure[]> {
  const vocabulary = vocabularyOf(edition)
  const problems: Problem[] = [indicator.numerator, indicator.denominator].flatMap((text) => {
    const compiled = compile(text, vocabulary, 'number')
    return compiled.ok ? [] : [...compiled.problems]
  })
  if (problems.length) return bad(...problems)
  const cells = cellsOf(edition).filter(({ key }) => past.numbers[key])
  const size = past.units.length
  const figures = tablesOfPast(past).map((_, period): CellMap => {
    // Only what was received is rolled up: a unit without a report lacks it, and does not count as blank.
    const rows = past.units.map((_unit, unit) => period * size + unit).filter(place => past.received[place])
    const table = tableOf(rows.map(place => Object.fromEntries(cells.flatMap(({ key }) => {
      const value = past.numbers[key]![place] ?? null
      return value === null ? [] : [[key, { kind: 'value' as const, value }]]
    }))))
    return Object.fromEntries(cells.flatMap(({ key, item }) => {
      const { value } = overUnits(table, [key], item.rollUp)
      return value === null ? [] : [[key, { kind: 'value' as const, value }]]
    }))
  })
  const alone: Edition = { ...edition, indicators: [indicator] }
  return good(figures.slice(0, past.judged).map((now, at) => indicators(alone, now, figures.slice(at + 1))[0]!))
}
