import { printPeriod, parsePeriod } from '../calendar/period-text'
import { periodAbove, type Period } from '../calendar/period'
import { numberIn, tableOfColumns, type CellMap } from '../report/table'
import { must } from '../result'
import { rowsForRules, countReports, eachUnit, type Cube } from './cube'
import { cellsOfItem, type NamedDataset } from '../report/edition'
import type { OtherTables } from '../report/period-table'

/** One unit's figures of another dataset, rolled up to the periods of a report and of those before it. */
export interface OtherFigures {
  /** The report's own period first. */
  periods: string[]
  /** By cell, in the order of the periods; null where not every report that was expected is in. */
  numbers: Record<string, (number | null)[]>
  /** How many reports of the finer periods are in, and were expected. */
  received: number[]
  expected: number[]
}

/** One report of the finer dataset: null where none is in. */
export interface FinerReport {
  period: Period
  isExpected: boolean
  report: CellMap | null
}

/**
 * Rolls the reports of a finer dataset (weeks) up to the periods of another (months), for one unit.
 * @param cells those that the rules name. @param reports of consecutive periods, earliest first.
 * @example a month of five weeks of which four are in has received 4, expected 5, and null for every cell
 */
export function rollOthersUp(
  named: NamedDataset,
  cells: readonly string[],
  reports: readonly FinerReport[],
  periods: readonly Period[],
): OtherFigures {
  const operatorOf = new Map(
    named.items.flatMap(item => cellsOfItem(named, item).map(({ key }) => [key, item.rollUp] as const)),
  )
  const cycle = periods[0]!
  // A finer period that rolls up to none of these is not read: of a dataset that is not finer, none is.
  const within = reports.filter(({ period }) => periodAbove(period, cycle).ok)
  const cube: Cube = {
    units: 1,
    periods: within.map(({ period }) => period),
    cells: cells.map(key => ({
      key,
      operator: operatorOf.get(key) ?? 'none',
      values: Float64Array.from(within, ({ report }) => {
        const content = report?.[key]
        return content?.kind === 'value' ? numberIn(content.value) : NaN
      }),
    })),
  }
  const expected = Uint8Array.from(within, ({ isExpected }) => +isExpected)
  const received = Uint8Array.from(within, ({ report }) => +(report !== null))
  const rolled = must(rowsForRules(cube, expected, cycle))
  const counts = must(countReports(cube, expected, received, eachUnit(1), cycle))
  const placeOf = new Map(rolled.periods.map((period, at) => [period.index, at]))
  const at = <T>(column: ArrayLike<T>, period: Period): T | undefined =>
    column[placeOf.get(period.index) ?? -1]
  return {
    periods: periods.map(printPeriod),
    numbers: Object.fromEntries(
      cells.map(key => [
        key,
        periods.map(period => {
          const value = at(rolled.columns.get(key)!, period) ?? NaN
          return Number.isNaN(value) ? null : value
        }),
      ]),
    ),
    received: periods.map(period => at(counts.received, period) ?? 0),
    expected: periods.map(period => at(counts.expected, period) ?? 0),
  }
}

/** The tables of such figures, as rules ask for them. */
export function tablesOfOthers(others: Readonly<Record<string, OtherFigures>> = {}): OtherTables {
  return (period, dataset) => {
    const figures = others[dataset]
    const place = figures?.periods.findIndex(text => must(parsePeriod(text)).index === period.index) ?? -1
    if (!figures || place < 0) return undefined
    return tableOfColumns({
      size: 1,
      numbers: new Map(
        Object.entries(figures.numbers).map(([cell, column]) => [
          cell,
          Float64Array.of(column[place] ?? NaN),
        ]),
      ),
    })
  }
}
