import { numberOf } from '../report/cell'
import type { CellMap } from '../report/table'

/**
 * What two rounds can be compared on: only the numbers that a facility gave in both. A facility that is new,
 * or that has not sent yet, would else look like a rise or fall of what is counted.
 * @param now the received reports of a round, by unit; `before` those of the round before.
 * @returns the reports of the units that are in both, with just those cells, in one order.
 */
export function inBoth(
  now: ReadonlyMap<string, CellMap>,
  before: ReadonlyMap<string, CellMap>,
): { now: CellMap[]; before: CellMap[] } {
  const both = [...now].flatMap(([unit, report]) => {
    const earlier = before.get(unit)
    if (!earlier) return []
    const cells = Object.keys(report).filter(
      cell => numberOf(report[cell]) !== null && numberOf(earlier[cell]) !== null,
    )
    const only = (of: CellMap): CellMap => Object.fromEntries(cells.map(cell => [cell, of[cell]!]))
    return cells.length ? [{ now: only(report), before: only(earlier) }] : []
  })
  return { now: both.map(one => one.now), before: both.map(one => one.before) }
}
