import { compile, type Compiled } from '../expression/compile'
import { NOTHING, vocabularyOf } from '../expression/vocabulary'
import { nearlyEqual } from '../nearly-equal'
import type { Cell, Edition, IndicatorDefinition } from '../report/edition'
import type { CellMap, ColumnTable } from '../report/table'
import { isAmount, overUnits } from './roll-up'

export interface IndicatorFigure {
  code: string
  /** The rolled-up numerator and denominator, null when blank. */
  numerator: number | null
  denominator: number | null
  /** numerator / denominator × factor; null when either is blank or the denominator is zero. */
  value: number | null
}

/** An indicator that is ready to be computed again and again. */
export interface ReadyIndicator {
  definition: IndicatorDefinition
  /** The keys of the cells of this period that it reads. */
  cells: ReadonlySet<string>
  /**
   * @param table one report, or rolled-up cells as if they were one, with those of the periods before where it looks
   *   back
   * @param today the day number that `today()` gives
   */
  figure: (table: ColumnTable, today?: number) => IndicatorFigure
}

/**
 * Makes the indicators of an edition ready: their expressions are compiled once. One of a draft that cannot be read
 * yet is left out; a published edition has none.
 */
export function readyIndicators(edition: Edition): ReadyIndicator[] {
  const vocabulary = vocabularyOf(edition, NOTHING)
  const run = (compiled: Compiled, table: ColumnTable, today?: number) => {
    const value = compiled.run(table, today === undefined ? {} : { today })[0]!
    return Number.isNaN(value) ? null : value
  }
  return edition.indicators.flatMap(definition => {
    const numerator = compile(definition.numerator, vocabulary, 'number')
    const denominator = compile(definition.denominator, vocabulary, 'number')
    if (!numerator.ok || !denominator.ok) return []
    return [
      {
        definition,
        cells: new Set([...numerator.value.cells, ...denominator.value.cells]),
        figure(table, today) {
          const over = run(numerator.value, table, today)
          const under = run(denominator.value, table, today)
          const isNone = over === null || under === null || nearlyEqual(under, 0)
          return {
            code: definition.code,
            numerator: over,
            denominator: under,
            value: isNone ? null : (over / under) * definition.factor,
          }
        },
      },
    ]
  })
}

/**
 * Indicators over figures that were rolled up before: rates are never averaged.
 * @param table the rolled-up cells as if they were one report, with those of the periods before where the
 *   expressions look back. @param today the day number that `today()` gives.
 * @throws Error for an edition with an indicator that cannot be read: it was never published
 */
export function indicators(edition: Edition, table: ColumnTable, today?: number): IndicatorFigure[] {
  const ready = readyIndicators(edition)
  if (ready.length !== edition.indicators.length)
    throw new Error(`An indicator of ${edition.dataset} cannot be read.`)
  return ready.map(({ figure }) => figure(table, today))
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
