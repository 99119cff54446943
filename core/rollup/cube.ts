import { periodAbove, type Cycle, type Period } from '../calendar/period'
import type { RollUp } from '../report/edition'
import { bad, good, type Problem, type Result } from '../result'

/**
 * One cell's numbers over units and periods: the value of a unit in a period is at `period × units + unit`,
 * NaN for blank.
 */
export interface CubeCell {
  key: string
  operator: RollUp
  values: Float64Array
}

/** Many units' reports over consecutive periods, earliest first. */
export interface Cube {
  units: number
  periods: readonly Period[]
  cells: readonly CubeCell[]
}

/**
 * Which group each unit belongs to: its zone, its district, or itself. Borders move: `groupOf(period)` gives
 * them at the end of one period of the cube, −1 for a unit that was in none. For today's borders it gives the
 * same each time.
 */
export interface Borders {
  count: number
  groupOf: (period: number) => Int32Array
}

/** Every unit by itself. */
export function eachUnit(units: number): Borders {
  const same = Int32Array.from({ length: units }, (_, unit) => unit)
  return { count: units, groupOf: () => same }
}

/** A cell rolled up: the figure of a group in a larger period is at `period × groups + group`. */
export interface CubeFigures {
  /** NaN when nothing is in it, or when the item is not rolled up. */
  values: Float64Array
  /** How many reports are in it. */
  counts: Int32Array
}

export interface RolledUp {
  periods: Period[]
  groups: number
  figures: Map<string, CubeFigures>
}

/** For each period of the cube the place of the larger one that it rolls up to. */
function largerPeriods(
  periods: readonly Period[],
  cycle: Cycle,
): Result<{ larger: Period[]; placeOf: Int32Array }> {
  const larger: Period[] = []
  const problems: Problem[] = []
  const placeOf = Int32Array.from(periods, period => {
    const above = periodAbove(period, cycle)
    if (!above.ok) {
      problems.push(...above.problems)
      return -1
    }
    if (larger.at(-1)?.index !== above.value.index) larger.push(above.value)
    return larger.length - 1
  })
  return problems.length ? bad(...problems.slice(0, 1)) : good({ larger, placeOf })
}

/**
 * Rolls a cube up over units and time at once. *Sum* adds all that is known; *mean* averages it, each report
 * counting once, so that a mean of means is never made, and *share* does the same with yes (1) and no (0);
 * *counts* adds up how many said yes; *latest* takes the latest day; *last* takes each unit's latest known
 * value in the larger period (stock at the end) and adds the units up, in the group that the unit was in
 * then; *none* stays unrolled. A blank is left out, never counted as zero. Errors: those of `periodAbove`.
 */
export function rollUp(cube: Cube, borders: Borders, cycle: Cycle): Result<RolledUp> {
  const time = largerPeriods(cube.periods, cycle)
  if (!time.ok) return time
  const { larger, placeOf } = time.value
  const figures = new Map<string, CubeFigures>()
  for (const cell of cube.cells) {
    const size = larger.length * borders.count
    const into: CubeFigures = { values: new Float64Array(size), counts: new Int32Array(size) }
    if (cell.operator === 'last') addLatest(cell, cube, borders, placeOf, into)
    else addAll(cell, cube, borders, placeOf, into)
    finish(cell.operator, into)
    figures.set(cell.key, into)
  }
  return good({ periods: larger, groups: borders.count, figures })
}

function addAll(
  { values, operator }: CubeCell,
  { units, periods }: Cube,
  { count, groupOf }: Borders,
  placeOf: Int32Array,
  into: CubeFigures,
): void {
  for (let period = 0; period < periods.length; period++) {
    const groups = groupOf(period)
    const [from, to] = [period * units, placeOf[period]! * count]
    for (let unit = 0; unit < units; unit++) {
      const value = values[from + unit]!
      const group = groups[unit]!
      if (value !== value || group < 0) continue
      const at = to + group
      if (operator === 'latest') into.values[at] = into.counts[at] ? Math.max(into.values[at]!, value) : value
      else into.values[at]! += value
      into.counts[at]!++
    }
  }
}

function addLatest(
  { values }: CubeCell,
  { units, periods }: Cube,
  { count, groupOf }: Borders,
  placeOf: Int32Array,
  into: CubeFigures,
): void {
  const done = new Uint8Array(units)
  for (let period = periods.length - 1; period >= 0; period--) {
    if (placeOf[period] !== placeOf[period + 1]) done.fill(0)
    const groups = groupOf(period)
    const [from, to] = [period * units, placeOf[period]! * count]
    for (let unit = 0; unit < units; unit++) {
      const value = values[from + unit]!
      const group = groups[unit]!
      if (value !== value || group < 0) continue
      into.counts[to + group]!++
      if (done[unit]) continue
      done[unit] = 1
      into.values[to + group]! += value
    }
  }
}

function finish(operator: RollUp, { values, counts }: CubeFigures): void {
  for (let at = 0; at < values.length; at++) {
    if (counts[at] === 0 || operator === 'none') values[at] = NaN
    else if (operator === 'mean' || operator === 'share') values[at]! /= counts[at]!
  }
}

/** Reports by group and larger period: how many were expected, and how many are in. */
export interface ReportCounts {
  periods: Period[]
  groups: number
  expected: Int32Array
  received: Int32Array
}

/**
 * How many reports were expected and are in, for each group and larger period: what every rolled-up figure
 * carries.
 * @param expected 1 where a unit was expected to report (period × units + unit), as {@link CubeCell.values}
 *   is laid out.
 * @param received 1 where its report is in. One that was not expected is not counted.
 */
export function countReports(
  cube: Pick<Cube, 'units' | 'periods'>,
  expected: Uint8Array,
  received: Uint8Array,
  borders: Borders,
  cycle: Cycle,
): Result<ReportCounts> {
  const time = largerPeriods(cube.periods, cycle)
  if (!time.ok) return time
  const { larger, placeOf } = time.value
  const size = larger.length * borders.count
  const counts: ReportCounts = {
    periods: larger,
    groups: borders.count,
    expected: new Int32Array(size),
    received: new Int32Array(size),
  }
  for (let period = 0; period < cube.periods.length; period++) {
    const groups = borders.groupOf(period)
    for (let unit = 0; unit < cube.units; unit++) {
      const group = groups[unit]!
      const at = period * cube.units + unit
      if (group < 0 || !expected[at]) continue
      const to = placeOf[period]! * borders.count + group
      counts.expected[to]!++
      counts.received[to]! += received[at]!
    }
  }
  return good(counts)
}

/**
 * Other datasets in the language of rules: the cells of finer reports (weeks) rolled up to the larger periods
 * (months) of the same units, laid out as rows `period × units + unit` for a table. A figure is blank unless
 * every finer report that was expected is in it: a month of three weeks out of four would only look like a
 * drop.
 */
export function rowsForRules(
  cube: Cube,
  expected: Uint8Array,
  cycle: Cycle,
): Result<{ periods: Period[]; columns: Map<string, Float64Array> }> {
  const borders = eachUnit(cube.units)
  const rolled = rollUp(cube, borders, cycle)
  if (!rolled.ok) return rolled
  const wanted = countReports(cube, expected, expected, borders, cycle)
  if (!wanted.ok) return wanted
  const columns = new Map<string, Float64Array>()
  for (const [key, { values, counts }] of rolled.value.figures) {
    columns.set(
      key,
      values.map((value, at) => (counts[at]! < wanted.value.expected[at]! ? NaN : value)),
    )
  }
  return good({ periods: rolled.value.periods, columns })
}
