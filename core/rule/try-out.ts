import type { Explanation } from '../expression/explain'
import { parsePeriod } from '../calendar/period-text'
import { periodTable, tablesOf, type CountedAt, type ReportColumns } from '../report/period-table'
import type { ColumnTable } from '../report/table'
import { must } from '../result'
import type { CompiledRule } from './compile-rules'
import { isFor } from './definition'
import { detail, FAILED, judge, NOT_JUDGED } from './judge'

/**
 * The received reports of some units over some periods, as columns. A place in a column is `period ×
 * units.length + unit`.
 */
export interface Past extends ReportColumns {
  /** Newest first; the first `judged` are judged, one after the other, the others are only looked back at. */
  periods: { period: string; lastDay: string }[]
  judged: number
  /** Units with their path from the top. */
  units: { code: string; name: string; path: string[] }[]
  /** By the text of a count how many cases it makes; null where it cannot be said. */
  counts?: Record<string, (number | null)[]>
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

/** The table of each period, in the order of {@link Past.periods}; each looks back on those before it. */
export function tablesOfPast(past: Past): ColumnTable[] {
  const periods = past.periods.map(({ period }) => period)
  const at = tablesOf(periods, past.units.length, past)
  const placeOf = new Map(periods.map((period, place) => [must(parsePeriod(period)).index, place]))
  const size = past.units.length
  const countedAt: CountedAt = ({ index }, text) => {
    const [place, numbers] = [placeOf.get(index), past.counts?.[text]]
    return Float64Array.from({ length: size }, (_, unit) =>
      place === undefined || !numbers ? NaN : (numbers[place * size + unit] ?? NaN),
    )
  }
  return periods.map(period => periodTable(must(parsePeriod(period)), at, undefined, countedAt)!)
}

/**
 * Judges a rule (or the rules that one makes over an axis) on past reports, one period at a time.
 * @param today the day number that `today()` gives.
 * @yields how many periods are done, so that the work can be shown and stopped.
 */
export function* tryOut(
  rules: readonly CompiledRule[],
  past: Past,
  today?: number,
): Generator<number, TryOut> {
  const result: TryOut = { reports: 0, fired: 0, notJudged: 0, hits: [] }
  const tables = tablesOfPast(past)
  const size = past.units.length
  for (let period = 0; period < Math.min(past.judged, tables.length); period++) {
    const table = tables[period]!
    const judgements = judge(rules, table, today)
    const { lastDay } = past.periods[period]!
    for (let unit = 0; unit < size; unit++) {
      const of = judgements.filter(({ rule }) => isFor(rule.rule, past.units[unit]!.path, lastDay))
      if (!past.received[period * size + unit] || !of.length) continue
      result.reports++
      const failed = of.filter(({ verdicts }) => verdicts[unit] === FAILED)
      if (failed.length) result.fired++
      else if (of.some(({ verdicts }) => verdicts[unit] === NOT_JUDGED)) result.notJudged++
      for (const judgement of failed) {
        const explained =
          result.hits.length < MOST_EXPLAINED ? detail(judgement, table, unit, today).explanation : undefined
        result.hits.push({
          unit,
          period,
          band: judgement.rule.band,
          ...(explained && { explanation: explained }),
        })
      }
    }
    yield period + 1
  }
  return result
}
