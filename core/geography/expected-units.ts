import { firstDay, lastDay, type Period } from '../calendar/period'
import { overlap, type UnitState } from './unit'
import type { UnitTree } from './unit-tree'

/** Who reports a dataset, over days [from, to). What several assignments name is expected once. */
export type Assignment = { from: number; to: number | null } &
  /** All units of a level, perhaps only within a branch. */
  (
    | { by: 'level'; level: number; branch?: string }
    /** Whatever is in a branch. */
    | { by: 'branch'; branch: string }
    | { by: 'group'; group: string }
    | { by: 'unit'; unit: string }
  )

/** A named set of units, each a member over days [from, to). */
export interface UnitGroup {
  code: string
  members: readonly { unit: string; from: number; to: number | null }[]
}

/** A unit that a round expects, as it was at the end of the period, or on its last open day in it. */
export interface ExpectedUnit extends UnitState {
  /** The day on which all this was so. */
  day: number
  path: string[]
}

/**
 * The units that a round expects: those that the dataset is assigned to on some day of the period, and that
 * were open on some day of it. A unit that moved or closed in the period counts where it was last.
 * @returns in the order of the tree's units.
 */
export function expectedUnits(
  tree: UnitTree,
  assignments: readonly Assignment[],
  groups: readonly UnitGroup[],
  period: Period,
): ExpectedUnit[] {
  const days = { from: firstDay(period), to: lastDay(period) + 1 }
  const inTime = assignments.filter(assignment => overlap(assignment, days))
  const members = new Map(
    groups.map(group => [
      group.code,
      new Set(group.members.filter(member => overlap(member, days)).map(({ unit }) => unit)),
    ]),
  )

  const assigned = (unit: ExpectedUnit) =>
    inTime.some(assignment => {
      switch (assignment.by) {
        case 'level':
          return (
            unit.level === assignment.level &&
            (assignment.branch === undefined || unit.path.includes(assignment.branch))
          )
        case 'branch':
          return unit.path.includes(assignment.branch)
        case 'group':
          return members.get(assignment.group)?.has(unit.code) ?? false
        case 'unit':
          return unit.code === assignment.unit
      }
    })
  return tree.units.flatMap(({ code }) => {
    const day = tree.lastOpenDay(code, days.from, days.to - 1)
    if (day === null) return []
    const unit: ExpectedUnit = { ...tree.at(code, day)!, day, path: tree.path(code, day) }
    return assigned(unit) ? [unit] : []
  })
}
