import {
  firstDay,
  lastDay,
  periodOfDay,
  periodsBetween,
  shiftPeriod,
  type Period,
} from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import { parsePeriod } from '#core/calendar/period-text'
import { earlierPeriods } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { rollOthersUp, type OtherFigures } from '#core/rollup/other-datasets'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { roundsWhere, type Round } from '../rounds/round'
import { expectedOf } from '../units/expected-units'
import { cellsOfReports } from './cells'
import { receivedOf, reportKey } from './place'

/** A place whose edition may name other datasets. */
export interface NamesOthers {
  round: Pick<Round, 'period'>
  unit: { code: string }
  ready: Pick<ReadyEdition, 'others' | 'othersLookBack'>
}

/** So many days a period may begin before, or end after, the larger one that it rolls up to. */
const OVERLAP = 6

/** The rounds of a finer dataset that may roll up to some periods, the earliest first. */
const finerRounds = (
  sql: Pick<Sql, 'query'>,
  dataset: string,
  first: Period,
  last: Period,
): Promise<Round[]> =>
  roundsWhere(sql, 'r.dataset = $1 AND r.first_day >= $2 AND r.last_day <= $3 ORDER BY r.first_day', [
    dataset,
    printDay(firstDay(first) - OVERLAP),
    printDay(lastDay(last) + OVERLAP),
  ])

/** What was received of a finer dataset: its rounds, and for each unit which of them expected it. */
interface FinerReports {
  rounds: Round[]
  isExpected: (round: string, unit: string) => boolean
  /** By round and unit. */
  reports: ReadonlyMap<string, CellMap>
}

/**
 * Reads what some units sent of a dataset over some periods. However many they are, it is asked the same few
 * times.
 */
async function finerReports(
  sql: Pick<Sql, 'query'>,
  dataset: string,
  units: readonly string[],
  periods: readonly Period[],
): Promise<FinerReports> {
  const inOrder = [...periods].sort((one, other) => one.index - other.index)
  const rounds = await finerRounds(sql, dataset, inOrder[0]!, inOrder.at(-1)!)
  const [expectedIn, rows] = await Promise.all([
    expectedOf(sql, rounds, units),
    sql.query<{ id: number; round: string; unit: string }>(
      `SELECT id, round, unit FROM report WHERE unit = ANY($1::text[]) AND round = ANY($2::text[]) AND ${receivedOf('report')}`,
      [units, rounds.map(({ id }) => id)],
    ),
  ])
  const expected = new Set(
    [...expectedIn].flatMap(([round, found]) => found.map(({ code: unit }) => reportKey({ round, unit }))),
  )
  const contents = await cellsOfReports(
    sql,
    rows.map(({ id }) => id),
  )
  return {
    rounds,
    isExpected: (round, unit) => expected.has(reportKey({ round, unit })),
    reports: new Map(rows.map(row => [reportKey(row), contents.get(row.id) ?? {}])),
  }
}

/**
 * The finer periods after the newest round, up to the end of another period: they will be expected, and are
 * not there yet. Without them a month that has just ended would look complete before its last week has a
 * round.
 */
function stillToCome(rounds: readonly Round[], last: Period): Period[] {
  const newest = rounds.at(-1)
  if (!newest) return []
  const next = shiftPeriod(must(parsePeriod(newest.period)), 1)
  return periodsBetween(next, periodOfDay(next, lastDay(last)))
}

/** The periods that a place's rules look at: its own first. */
function periodsOf({ round, ready }: NamesOthers): Period[] {
  const period = must(parsePeriod(round.period))
  return [period, ...earlierPeriods(period, ready.othersLookBack)]
}

/**
 * What the rules of some places' editions read of other datasets: rolled up to the periods of these places
 * and of those before them, in their order. Where no rule names one, nothing is asked.
 */
export async function otherFiguresOf(
  sql: Pick<Sql, 'query'>,
  places: readonly NamesOthers[],
): Promise<Record<string, OtherFigures>[]> {
  const found = places.map((): Record<string, OtherFigures> => ({}))
  const datasets = new Set(places.flatMap(({ ready }) => ready.others.map(({ named }) => named.dataset)))
  for (const dataset of datasets) {
    const naming = places.flatMap((place, at) => {
      const other = place.ready.others.find(({ named }) => named.dataset === dataset)
      return other ? [{ place, at, ...other }] : []
    })
    const { rounds, isExpected, reports } = await finerReports(
      sql,
      dataset,
      [...new Set(naming.map(({ place }) => place.unit.code))],
      naming.flatMap(({ place }) => periodsOf(place)),
    )
    for (const { place, at, named, cells } of naming) {
      const unit = place.unit.code
      const periods = periodsOf(place)
      const begun = rounds.map(({ id, period }) => ({
        period: must(parsePeriod(period)),
        isExpected: isExpected(id, unit),
        report: reports.get(reportKey({ round: id, unit })) ?? null,
      }))
      const coming = stillToCome(rounds, periods[0]!).map(period => ({
        period,
        isExpected: begun.at(-1)!.isExpected,
        report: null,
      }))
      found[at]![dataset] = rollOthersUp(named, cells, [...begun, ...coming], periods)
    }
  }
  return found
}
