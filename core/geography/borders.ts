import { firstDay, lastDay, type Period } from '../calendar/period'
import type { Borders } from '../rollup/cube'
import type { UnitTree } from './unit-tree'

/** The groups of a roll-up with the units that they stand for, in the order of the figures. */
export interface NamedBorders extends Borders {
  groups: string[]
}

/**
 * The borders by which units roll up to a level: those of the end of each period, so that a unit that moved
 * counts where it was; or those of one day for all periods, to see any year on today's borders. A unit that
 * closed counts where it was last.
 * @param units codes, in the order of the cube.
 * @param today the day whose borders hold for every period; without it each period has its own.
 */
export function bordersOf(
  tree: UnitTree,
  units: readonly string[],
  level: number,
  periods: readonly Period[],
  today?: number,
): NamedBorders {
  const places = new Map<string, number>()
  const groups: string[] = []
  const placesIn = (first: number, last: number) =>
    Int32Array.from(units, code => {
      const day = tree.lastOpenDay(code, first, last)
      const above = day === null ? null : tree.aboveOnLevel(code, level, day)
      if (above === null) return -1
      if (!places.has(above)) places.set(above, groups.push(above) - 1)
      return places.get(above)!
    })
  const always = today === undefined ? undefined : placesIn(-Infinity, today)
  const ofPeriods = periods.map(period => always ?? placesIn(firstDay(period), lastDay(period)))
  return { groups, count: groups.length, groupOf: period => ofPeriods[period]! }
}
