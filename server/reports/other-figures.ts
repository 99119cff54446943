import { firstDay, lastDay, type Period } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import { parsePeriod } from '#core/calendar/period-text'
import { earlierPeriods } from '#core/report/period-table'
import { must } from '#core/result'
import { rollOthersUp, type OtherFigures } from '#core/rollup/other-datasets'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { roundsWhere, type Round } from '../rounds/round'
import { expectedUnitsOf } from '../units/expected-units'
import { cellsOfReports } from './cells'

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

/** The figures of one other dataset for one place: what was received of it, by its own reports. */
async function figuresFor(
  sql: Pick<Sql, 'query'>,
  unit: string,
  periods: readonly Period[],
  { named, cells }: ReadyEdition['others'][number],
): Promise<OtherFigures> {
  const rounds = await finerRounds(sql, named.dataset, periods.at(-1)!, periods[0]!)
  const ids = rounds.map(({ id }) => id)
  const expected = await expectedUnitsOf(sql, rounds, unit)
  const reports = await sql.query<{ id: number; round: string }>(
    `SELECT id, round FROM report WHERE unit = $1 AND round = ANY($2::text[]) AND state IN ('sent', 'accepted')`,
    [unit, ids],
  )
  const contents = await cellsOfReports(
    sql,
    reports.map(({ id }) => id),
  )
  const reportIn = new Map(reports.map(({ id, round }) => [round, contents.get(id) ?? {}]))
  return rollOthersUp(
    named,
    cells,
    rounds.map(({ id, period }) => ({
      period: must(parsePeriod(period)),
      isExpected: expected.get(id)!.some(({ code }) => code === unit),
      report: reportIn.get(id) ?? null,
    })),
    periods,
  )
}

/**
 * What the rules of some places' editions read of other datasets: rolled up to the periods of these places and
 * of those before them, in their order. A place whose rules name none costs nothing.
 */
export async function otherFiguresOf(
  sql: Pick<Sql, 'query'>,
  places: readonly NamesOthers[],
): Promise<Record<string, OtherFigures>[]> {
  const found: Record<string, OtherFigures>[] = []
  for (const { round, unit, ready } of places) {
    const period = must(parsePeriod(round.period))
    const periods = [period, ...earlierPeriods(period, ready.othersLookBack)]
    const figures: Record<string, OtherFigures> = {}
    for (const other of ready.others)
      figures[other.named.dataset] = await figuresFor(sql, unit.code, periods, other)
    found.push(figures)
  }
  return found
}
