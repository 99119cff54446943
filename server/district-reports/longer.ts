import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { periodsBetween } from '#core/calendar/period'
import type { LongerReport } from '#core/contract/district-reports'
import { isAmount } from '#core/rollup/roll-up'
import { must } from '#core/result'
import { beginOfLonger, longerFigures } from '#core/rollup/longer-periods'
import type { Borders } from '#core/rollup/cube'
import type { Access } from '../access/access'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { receivedOf } from '../reports/place'
import { roundById, roundRef, roundsOfPeriods } from '../rounds/round'
import { settings } from '../settings'
import { expectedUnitsOf } from '../units/expected-units'
import { districtAsked } from './district-report'

/** So many reports are read by one statement: on the embedded engine everybody waits for each. */
const AT_ONCE = 1000

/** The units that a district had, in each of some rounds or today. */
async function unitsWithin(
  sql: Pick<Sql, 'query'>,
  rounds: Parameters<typeof expectedUnitsOf>[1],
  district: string,
  borders: 'then' | 'today',
): Promise<Map<string, Set<string>>> {
  const expected = await expectedUnitsOf(sql, rounds, borders === 'then' ? district : null)
  const codesOf = (round: string) => expected.get(round)!.map(({ code }) => code)
  if (borders === 'then') return new Map(rounds.map(({ id }) => [id, new Set(codesOf(id))]))
  const now = await sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE path @> $1::text[]', [
    [district],
  ])
  const own = new Set(now.map(({ code }) => code))
  return new Map(rounds.map(({ id }) => [id, new Set(codesOf(id).filter(code => own.has(code)))]))
}

/**
 * A district's figures of a dataset from the beginning of the month, quarter and year up to a round, as far
 * as these are longer than the round's own period.
 * @param asked `borders`: `then` rolls each report up through the parents that its unit had in its period;
 * `today`
 *   counts the units that the district has now, over all of it.
 * @throws Refusal 404, 403, 409 `not-a-district`
 */
export async function longerReport(
  access: Access,
  roundId: string,
  asked: { unit?: string; borders?: 'then' | 'today' } = {},
): Promise<LongerReport> {
  const unit = await districtAsked(access, asked.unit)
  const sql = await database()
  const round = await roundById(sql, roundId)
  const { edition, cells } = await editionOf(sql, round.dataset, round.edition)
  const last = must(parsePeriod(round.period))
  const calendar = await settings(sql)
  const periods = periodsBetween(beginOfLonger(last, calendar), last)
  const rounds = await roundsOfPeriods(sql, round.dataset, periods.map(printPeriod))
  const within = await unitsWithin(sql, rounds, unit.code, asked.borders ?? 'then')
  const units = [...new Set([...within.values()].flatMap(codes => [...codes]))].sort()
  const placeOfUnit = new Map(units.map((code, at) => [code, at]))
  const placeOfRound = new Map(
    rounds.map(({ id, period }) => [id, periods.findIndex(one => printPeriod(one) === period)]),
  )
  const size = periods.length * units.length
  const expected = new Uint8Array(size)
  for (const [id, codes] of within)
    for (const code of codes) expected[placeOfRound.get(id)! * units.length + placeOfUnit.get(code)!] = 1

  const reports = await sql.query<{ id: number; round: string; unit: string }>(
    `SELECT id, round, unit FROM report WHERE round = ANY($1::text[]) AND unit = ANY($2::text[]) AND ${receivedOf('report')} ORDER BY id`,
    [rounds.map(({ id }) => id), units],
  )
  const counted = reports.flatMap(({ id, round: of, unit: code }) => {
    const place = placeOfRound.get(of)! * units.length + placeOfUnit.get(code)!
    return expected[place] ? [{ id, place }] : []
  })
  const received = new Uint8Array(size)
  for (const { place } of counted) received[place] = 1
  const columns = new Map(
    cells
      .filter(({ item }) => isAmount(item.rollUp))
      .map(cell => [cell.key, new Float64Array(size).fill(NaN)]),
  )
  for (let from = 0; from < counted.length; from += AT_ONCE) {
    const some = counted.slice(from, from + AT_ONCE)
    const found = await sql.query<{ cell: string; places: number[]; numbers: number[] }>(
      `SELECT c.cell, array_agg(w.place) AS places, array_agg(c.value) AS numbers
       FROM unnest($1::bigint[], $2::int[]) AS w (report, place) JOIN cell_value c ON c.report = w.report
       WHERE c.value IS NOT NULL AND c.report BETWEEN $3 AND $4 GROUP BY c.cell`,
      [some.map(({ id }) => id), some.map(({ place }) => place), some[0]!.id, some.at(-1)!.id],
    )
    for (const { cell, places, numbers } of found) {
      const column = columns.get(cell)
      if (column) places.forEach((place, at) => (column[place] = numbers[at]!))
    }
  }
  const operatorOf = new Map(cells.map(({ key, item }) => [key, item.rollUp]))
  const borders: Borders = {
    count: 1,
    groupOf: period => Int32Array.from(units, (_, at) => (expected[period * units.length + at] ? 0 : -1)),
  }
  const figures = longerFigures(
    edition,
    calendar,
    {
      units: units.length,
      periods,
      cells: [...columns].map(([key, values]) => ({ key, operator: operatorOf.get(key)!, values })),
    },
    borders,
    expected,
    received,
  )
  return {
    round: roundRef(round),
    unit: { code: unit.code, name: unit.name },
    spans: figures.map(({ period, lines, ...counts }) => ({
      period: printPeriod(period),
      ...counts,
      lines: lines
        .filter(({ item }) => isAmount(item.rollUp))
        .map(({ item, value, reportsIn }) => ({
          item: item.code,
          name: item.name,
          unitOfMeasure: item.unitOfMeasure,
          value,
          reportsIn,
        })),
    })),
  }
}
