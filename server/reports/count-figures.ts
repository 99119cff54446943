import { firstDay, lastDay, type Period } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import { parsePeriod } from '#core/calendar/period-text'
import { caseOfKnown } from '#core/cases/fold'
import { unitOn, type CaseMove } from '#core/cases/life'
import { earlierPeriods } from '#core/report/period-table'
import { dayIn, type Answers } from '#core/form/answer'
import { groupBy } from '#core/group-by'
import { countFigures, type CountedUnit, type CountFigures } from '#core/reconcile/count-figures'
import { must } from '#core/result'
import { seenBy } from '../cases/case-events'
import { mayLieBetween } from '../cases/counting-day'
import { newestRegisters, runnableRegisters } from '../cases/registers'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'
import { today } from '../settings'

/** A place whose edition may count cases. */
export interface CountsCases {
  round: Pick<Round, 'period'>
  unit: { code: string }
  ready: Pick<ReadyEdition, 'counts' | 'countsLookBack'>
}

/** The periods that a place's counts look at: its own first. */
function periodsOf({ round, ready }: CountsCases): Period[] {
  const period = must(parsePeriod(round.period))
  return [period, ...earlierPeriods(period, ready.countsLookBack)]
}

/**
 * The cases of a register that count for some units, with a counting date within some periods; by the unit
 * that had them on that day.
 */
async function casesOf(
  sql: Pick<Sql, 'query'>,
  register: string,
  countingDate: string,
  units: readonly string[],
  periods: readonly Period[],
): Promise<Map<string, CountedUnit['cases']>> {
  const rows = await sql.query<{ id: string; unit: string; moves: CaseMove[]; known: Answers }>(
    `SELECT c.id, c.unit, c.moves, c.known FROM case_record c
     WHERE c.register = $1 AND ${seenBy('$2')} AND c.merged_into IS NULL
       AND ${mayLieBetween("(c.known -> $3::text ->> 'value')", '$4::text', '$5::text')}`,
    [
      register,
      units,
      countingDate,
      printDay(Math.min(...periods.map(firstDay))),
      // A day with its time comes after the day alone.
      `${printDay(Math.max(...periods.map(lastDay)))}~`,
    ],
  )
  return new Map(
    [...groupBy(rows, row => unitOn(row, dayIn(row.known[countingDate])))].map(([unit, own]) => [
      unit,
      own.map(({ id, known }) => caseOfKnown(id, known)),
    ]),
  )
}

/** The registers that the rules of some places' editions count, each with the cases of the place's unit. */
export async function countedUnitsOf(
  sql: Pick<Sql, 'query'>,
  places: readonly CountsCases[],
): Promise<(place: CountsCases) => ReadonlyMap<string, CountedUnit>> {
  const counting = places.filter(({ ready }) => ready.counts.length)
  const found = new Map(counting.map(place => [place, new Map<string, CountedUnit>()]))
  if (counting.length) {
    const registers = runnableRegisters(await newestRegisters(sql))
    for (const code of new Set(counting.flatMap(({ ready }) => ready.counts.map(one => one.register)))) {
      const register = registers.get(code)
      if (!register) continue
      const own = counting.filter(({ ready }) => ready.counts.some(one => one.register === code))
      const cases = await casesOf(
        sql,
        code,
        register.register.countingDate,
        [...new Set(own.map(({ unit }) => unit.code))],
        own.flatMap(periodsOf),
      )
      for (const place of own)
        found.get(place)!.set(code, { register, cases: cases.get(place.unit.code) ?? [] })
    }
  }
  return place => found.get(place) ?? new Map<string, CountedUnit>()
}

/**
 * How many cases the rules of some places' editions count: for the periods of these places and those before
 * them, in their order. Where no rule counts, nothing is asked.
 */
export async function countFiguresOf(
  sql: Pick<Sql, 'query'>,
  places: readonly CountsCases[],
): Promise<CountFigures[]> {
  const unitsOf = await countedUnitsOf(sql, places)
  const day = places.some(({ ready }) => ready.counts.length) ? await today(sql) : 0
  return places.map(place => countFigures(place.ready.counts, unitsOf(place), periodsOf(place), day))
}
