import {
  firstDay,
  periodAbove,
  periodOfDay,
  sameCycle,
  shiftPeriod,
  type Calendar,
  type Cycle,
  type Period,
} from '../calendar/period'
import { cellsOf, itemsOf, type Edition, type Item } from '../report/edition'
import { must } from '../result'
import { countReports, rollUp, type Borders, type Cube } from './cube'

/** The periods that figures are shown over besides a round's own, from short to long. */
const longerCycles = ({ firstMonth }: Calendar): Cycle[] => [
  { frequency: 'month' },
  { frequency: 'quarter' },
  { frequency: 'year' },
  ...(firstMonth === 1 ? [] : [{ frequency: 'year' as const, firstMonth }]),
]

/**
 * The longer periods in which a period lies, the shortest first. A period that straddles two of a kind has
 * none of that kind.
 * @example longerThan(must(parsePeriod('2026-10')), USUAL_CALENDAR) // 2026-Q4, 2026
 */
export const longerThan = (period: Period, calendar: Calendar): Period[] =>
  longerCycles(calendar).flatMap(cycle => {
    const above = periodAbove(period, cycle)
    return above.ok && !sameCycle(above.value, period) ? [above.value] : []
  })

/** The first of the finer periods that roll up to a longer one. */
function firstWithin(longer: Period, finer: Period): Period {
  const first = periodOfDay(finer, firstDay(longer))
  // The week of 1 January may belong to the year before.
  const above = periodAbove(first, longer)
  return above.ok && above.value.index === longer.index ? first : shiftPeriod(first, 1)
}

/**
 * The first period of the longest period that a period lies in: as far back as its longer figures reach. With
 * a financial year from July that may be in the year before.
 */
export const beginOfLonger = (period: Period, calendar: Calendar): Period =>
  longerThan(period, calendar)
    .map(longer => firstWithin(longer, period))
    .reduce((earliest, one) => (one.index < earliest.index ? one : earliest), period)

/** An item over a longer period up to a round. */
export interface LongerLine {
  item: Item
  /** null when nothing is in it, or when the item has no amount. */
  value: number | null
  reportsIn: number
}

/** The figures of one longer period, from its beginning to the round. */
export interface LongerFigures {
  period: Period
  /** How many of its rounds expected somebody so far. */
  rounds: number
  expected: number
  received: number
  lines: LongerLine[]
}

/**
 * A district's figures over the longer periods in which the last period of a cube lies. Sums add up over
 * units and time, means count each report once, the last value is that of each unit's latest report (see
 * {@link rollUp}).
 * @param cube periods from {@link beginOfLonger} to the round's own, with the edition's cells.
 * @param borders one group: the district, as it was in each period or as it is today.
 * @param expected and `received`: 1 where a unit's report was expected, and is in (period × units + unit).
 */
export function longerFigures(
  edition: Edition,
  calendar: Calendar,
  cube: Cube,
  borders: Borders,
  expected: Uint8Array,
  received: Uint8Array,
): LongerFigures[] {
  const last = cube.periods.at(-1)!
  const keys = new Map(itemsOf(edition).map(item => [item.code, [] as string[]]))
  for (const { key, item } of cellsOf(edition)) keys.get(item.code)!.push(key)
  return longerThan(last, calendar).map(period => {
    const rolled = must(rollUp(cube, borders, period))
    const counts = must(countReports(cube, expected, received, borders, period))
    const at = rolled.periods.findIndex(({ index }) => index === period.index)
    return {
      period,
      rounds: cube.periods.filter(
        (one, place) =>
          must(periodAbove(one, period)).index === period.index &&
          expected.subarray(place * cube.units, (place + 1) * cube.units).includes(1),
      ).length,
      expected: counts.expected[at]!,
      received: counts.received[at]!,
      lines: itemsOf(edition).map(item => {
        const parts = keys.get(item.code)!.flatMap(key => rolled.figures.get(key) ?? [])
        const known = parts.map(({ values }) => values[at]!).filter(value => !Number.isNaN(value))
        return {
          item,
          value: known.length ? known.reduce((sum, value) => sum + value, 0) : null,
          reportsIn: Math.max(0, ...parts.map(({ counts: in_ }) => in_[at]!)),
        }
      }),
    }
  })
}
