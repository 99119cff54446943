import { NOTHING, vocabularyOf } from '../expression/vocabulary'
import { compile } from '../expression/compile'
import { cellsOf, type Edition, type IndicatorDefinition } from '../report/edition'
import { parsePeriod } from '../calendar/period-text'
import { periodTable, tablesOf } from '../report/period-table'
import { tableOf } from '../report/table'
import { bad, good, must, type Problem, type Result } from '../result'
import type { Past } from '../rule/try-out'
import { asOneReport, indicators, type IndicatorFigure } from './indicator'

/**
 * An indicator over past periods: each cell rolled up over the units first, then the rate.
 * @returns a figure for each judged period, newest first, or the mistakes of its expressions.
 */
export function indicatorOverPast(
  edition: Edition,
  indicator: IndicatorDefinition,
  past: Past,
  today?: number,
): Result<IndicatorFigure[]> {
  const vocabulary = vocabularyOf(edition, NOTHING)
  const problems: Problem[] = [indicator.numerator, indicator.denominator].flatMap(text => {
    const compiled = compile(text, vocabulary, 'number')
    return compiled.ok ? [] : [...compiled.problems]
  })
  if (problems.length) return bad(...problems)
  const cells = cellsOf(edition).filter(({ key }) => past.numbers[key])
  const periods = past.periods.map(({ period }) => must(parsePeriod(period)))
  const at = tablesOf(
    past.periods.map(({ period }) => period),
    past.units.length,
    past,
  )
  // A unit without a report lacks it, and a blank is left out: neither has a number.
  const figures = new Map(periods.map(period => [period.index, tableOf([asOneReport(cells, at(period)!)])]))
  const alone: Edition = { ...edition, indicators: [indicator] }
  return good(
    periods.slice(0, past.judged).map(
      period =>
        indicators(
          alone,
          periodTable(period, ({ index }) => figures.get(index))!,
          today,
        )[0]!,
    ),
  )
}
