import type { Explanation } from '../expression/explain'
import { KIND_CODES, tableOfColumns, type ColumnTable } from '../report/table'
import type { CompiledRule } from './compile-rules'
import { isFor } from './definition'
import { detail, FAILED, judge, NOT_JUDGED } from './judge'

/**
 * The received reports of some units over some periods, as columns. A place in a column is
 * `period × units.length + unit`.
 */
export interface Past {
  /** Newest first; those after the first `judged` are only looked back at. */
  periods: { period: string; lastDay: string }[]
  judged: number
  /** Units with their path from the top. */
  units: { code: string; name: string; path: string[] }[]
  /** 1 where a report was received. */
  received: number[]
  /** For each cell its numbers, null where there is none. */
  numbers: Record<string, (number | null)[]>
  /** For each cell that has any, the places where it is *not offered*. */
  notOffered: Record<string, number[]>
}

/** One report in which the rule would have fired. */
export interface Hit {
  unit: number
  period: number
  band: string | null
  explanation?: Explanation
}

/** How often a rule would have fired. Each report counts once, however many bands of it failed. */
export interface TryOut {
  reports: number
  fired: number
  notJudged: number
  hits: Hit[]
}

/** Hits that carry their numbers: more nobody opens, and each costs an explanation. */
const MOST_EXPLAINED = 2_000

/** The tables of each period, newest first; each looks back on those after it. */
export function tablesOfPast(past: Past): ColumnTable[] {
  const size = past.units.length
  const kinds = new Map(Object.entries(past.notOffered).map(([cell, places]) => {
    const column = Uint8Array.from(past.numbers[cell] ?? [], number => (number === null ? KIND_CODES.blank : KIND_CODES.value))
    for (const place of places) column[place] = KIND_CODES.notOffered
    return [cell, column]
  }))
  const numbers = new Map(Object.entries(past.numbers).map(([cell, column]) => [cell, Float64Array.from(column, number => number ?? NaN)]))
  const within = <T extends { subarray(start: number, end: number): T }>(columns: ReadonlyMap<string, T>, at: number) =>
    new Map([...columns].map(([cell, column]) => [cell, column.subarray(at * size, (at + 1) * size)]))
  const tables: ColumnTable[] = past.periods.map((_, at) => {
    const table = tableOfColumns({ size, numbers: within(numbers, at), kinds: within(kinds, at), back: periods => tables[at + periods] })
    return { ...table, yearBefore: () => tables[at + 12] }
  })
  return tables
}

/**
 * Judges a rule (or the rules that one makes over an axis) on past reports, one period at a time.
 * @yields how many periods are done, so that the work can be shown and stopped.
 */
export function* tryOut(rules: readonly CompiledRule[], past: Past): Generator<number, TryOut> {
  const result: TryOut = { reports: 0, fired: 0, notJudged: 0, hits: [] }
  const tables = tablesOfPast(past)
  const size = past.units.length
  for (let period = 0; period < Math.min(past.judged, tables.length); period++) {
    const table = tables[period]!
    const judgements = judge(rules, table)
    const { lastDay } = past.periods[period]!
    for (let unit = 0; unit < size; unit++) {
      const of = judgements.filter(({ rule }) => isFor(rule.rule, past.units[unit]!.path, lastDay))
      if (!past.received[period * size + unit] || !of.length) continue
      result.reports++
      const failed = of.filter(({ verdicts }) => verdicts[unit] === FAILED)
      if (failed.length) result.fired++
      else if (of.some(({ verdicts }) => verdicts[unit] === NOT_JUDGED)) result.notJudged++
      for (const judgement of failed) {
        const explained = result.hits.length < MOST_EXPLAINED ? detail(judgement, table, unit).explanation : undefined
        result.hits.push({ unit, period, band: judgement.rule.band, ...(explained && { explanation: explained }) })
      }
    }
    yield period + 1
  }
  return result
}
