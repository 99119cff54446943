import { evaluateAll } from '../expression/prepare'
import { isComparison } from '../expression/syntax'
import { mean } from '../quality/mean'
import { RANGE_PERIODS } from '../quality/expected-range'
import type { CompiledRule } from '../rule/compile-rules'
import type { Doubt } from '../rule/find-doubts'
import { tableOf, type CellMap } from '../report/table'
import type { Cell } from '../report/edition'
import type { Figure } from './roll-up'

/** A change of one cell that would remove a doubt. */
export interface Cure {
  cell: string
  from: number | null
  to: number
}

/** A district figure that exists. */
export type KnownFigure = Figure & { value: number }

/** What one cure would do to a district figure. */
export interface Shift extends Cure {
  item: string
  /** The item's district figure as it stands, and after the cure. */
  figure: number
  cured: number
  /** |cured − figure| / figure; 1 when the figure is zero and would not stay so. */
  share: number
}

/**
 * For each doubted cell alone, the nearest value that removes the doubt. A range has its nearer end; a comparison is
 * solved for the cell (rules are linear in each cell, or else the candidate fails its check and is left out); a
 * blank is cured by the unit's own mean.
 */
export function cures(doubt: Doubt, rule: CompiledRule | undefined, report: CellMap, earlier: readonly CellMap[]): Cure[] {
  if (doubt.range) {
    const { value, low, high } = doubt.range
    return [{ cell: doubt.code, from: value, to: value < low ? low : high }]
  }
  if (!rule) return []
  const found: Cure[] = []
  for (const cell of rule.compiled.cells) {
    const content = report[cell]
    const to = content?.kind === 'value'
      ? solve(rule, report, earlier, cell, content.value)
      : content === undefined || content.kind === 'blank' ? usualValue(cell, earlier) : null
    if (to !== null) found.push({ cell, from: content?.kind === 'value' ? content.value : null, to })
  }
  return found
}

function usualValue(cell: string, earlier: readonly CellMap[]): number | null {
  const known = earlier.slice(0, RANGE_PERIODS).flatMap((cells) => {
    const content = cells[cell]
    return content?.kind === 'value' ? [content.value] : []
  })
  return known.length ? Math.round(mean(known)) : null
}

/** The whole number nearest to `now` at which the rule holds: where the two sides meet, or a step beside. */
function solve(rule: CompiledRule, report: CellMap, earlier: readonly CellMap[], cell: string, now: number): number | null {
  const { tree, bindings, types, run } = rule.compiled
  if (tree.type !== 'binary' || !isComparison(tree.operator)) return null
  const options = { blanksAsZero: rule.rule.blanks === 'zero' }
  const rows = (values: number[]) => tableOf(
    values.map(value => ({ ...report, [cell]: { kind: 'value' as const, value } })),
    earlier.map(cells => values.map(() => cells)),
  )
  const step = rows([now, now + 1])
  const left = evaluateAll({ tree: tree.left, bindings, types }, step, options)
  const right = evaluateAll({ tree: tree.right, bindings, types }, step, options)
  const apart = left[0]! - right[0]!
  const slope = left[1]! - right[1]! - apart
  if (!slope || Number.isNaN(slope)) return null
  const meeting = now - apart / slope
  const candidates = [Math.floor(meeting), Math.ceil(meeting), Math.floor(meeting) - 1, Math.ceil(meeting) + 1]
    .filter(value => value >= 0)
    .sort((one, other) => Math.abs(one - now) - Math.abs(other - now))
  const truths = run(rows(candidates), options)
  return candidates.find((_, row) => truths[row] === 1) ?? null
}

/** A mean over reports after one of them changed, or after a report that had no number got one. */
const movedMean = ({ value, reportsIn }: KnownFigure, { from, to }: Cure): number =>
  (value * reportsIn + to - (from ?? 0)) / (from === null ? reportsIn + 1 : reportsIn)

/** |cured − figure| / |figure|; 1 when the figure is zero and would not stay so. */
export const relativeChange = (figure: number, cured: number): number =>
  (figure === 0 ? +(cured !== 0) : Math.abs(cured - figure) / Math.abs(figure))

/**
 * The shifts that a doubt's cures would make in the district's item figures, largest first. The effect of the
 * doubt is the first one's share: by it the work list is ordered.
 * @param figures district figure of each item, by its code, with how many reports are in it; items that are not rolled
 *   up are missing.
 */
export function shifts(curesOfDoubt: readonly Cure[], cells: ReadonlyMap<string, Cell>, figures: ReadonlyMap<string, KnownFigure>): Shift[] {
  return curesOfDoubt
    .flatMap((cure) => {
      const item = cells.get(cure.cell)?.item
      const known = item && figures.get(item.code)
      if (!item || !known) return []
      const figure = known.value
      const cured = item.rollUp === 'mean' ? movedMean(known, cure) : figure + cure.to - (cure.from ?? 0)
      return [{ ...cure, item: item.code, figure, cured, share: relativeChange(figure, cured) }]
    })
    .sort((one, other) => other.share - one.share)
}
