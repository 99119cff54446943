import { parsePeriod } from '#core/calendar/period-text'
import { countedRegister } from '#core/cases/counted'
import { compile } from '#core/expression/compile'
import { listsOf, NOTHING } from '#core/expression/vocabulary'
import { countsIn } from '#core/reconcile/count-figures'
import { must } from '#core/result'
import type { Past } from '#core/rule/try-out'
import { newestRegisters, runnableRegisters } from '../cases/registers'
import type { Sql } from '../database'
import { countFiguresOf } from './count-figures'

/** The cases of so many units are read at a time. */
const UNITS_AT_ONCE = 50

/**
 * How many cases some counts make over the periods of a past, for each of its units. A count that does not
 * compile is left out.
 * @param texts the counts as they are printed
 */
export async function countPast(
  sql: Pick<Sql, 'query'>,
  texts: readonly string[],
  { periods, units }: Past,
): Promise<NonNullable<Past['counts']>> {
  const registers = runnableRegisters(await newestRegisters(sql))
  const lists = listsOf({ counts: [...registers.values()].map(countedRegister) })
  const counts = countsIn(
    texts.flatMap(text => {
      const compiled = compile(text, { label: {}, names: NOTHING, others: NOTHING, lists }, 'number')
      return compiled.ok ? [{ compiled: compiled.value }] : []
    }),
  )
  const [newest, oldest] = [must(parsePeriod(periods[0]!.period)), must(parsePeriod(periods.at(-1)!.period))]
  const found = Object.fromEntries(
    counts.map(({ text }) => [text, new Array<number | null>(periods.length * units.length).fill(null)]),
  )
  for (let from = 0; from < units.length; from += UNITS_AT_ONCE) {
    const places = units.slice(from, from + UNITS_AT_ONCE).map(({ code }) => ({
      round: { period: periods[0]!.period },
      unit: { code },
      ready: { counts, countsLookBack: [newest.index - oldest.index] },
    }))
    const figures = await countFiguresOf(sql, places)
    figures.forEach(({ periods: own, numbers }, at) => {
      for (const [text, column] of Object.entries(numbers))
        periods.forEach(({ period }, place) => {
          found[text]![place * units.length + from + at] = column[own.indexOf(period)] ?? null
        })
    })
  }
  return found
}
