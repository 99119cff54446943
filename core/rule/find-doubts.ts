import type { Explanation } from '../expression/explain'
import { expectedRangeBefore, raisesDoubt, type ExpectedRange } from '../quality/expected-range'
import type { CellValue } from '../report/cell'
import type { Cell } from '../report/edition'
import type { ColumnTable } from '../report/table'
import type { CompiledRule } from './compile-rules'
import type { Strength } from './definition'
import { detail, FAILED, judge } from './judge'

/**
 * What found a doubt: a rule, a usual range, the register against a report, a supervisor's recount, or a system that
 * refused the value.
 */
export const DOUBT_SOURCES = ['rule', 'range', 'cases', 'recount', 'refused'] as const
export type DoubtSource = (typeof DOUBT_SOURCES)[number]

/** One doubt about one report, before anybody has worked on it. */
export interface Doubt {
  /**
   * The same doubt about the same report has the same key each time that it is found: `rule:code:band`,
   * `range:cell`, `cases:code` of a count of cases (reconcile/count-doubt), `recount:item`
   * (reconcile/recount-doubt), or `refused:recipient:cell` (sending/refused-doubt).
   */
  key: string
  source: DoubtSource
  /** The rule's code, the cell's key, or the code of the count or the item. */
  code: string
  band: string | null
  strength: Strength
  /** The doubted cells of this report. */
  cells: string[]
  explanation?: Explanation
  range?: ExpectedRange & { value: number }
  /** When it was counted again and by whom, and how many in each cell. */
  recount?: { on: string; by: string; cells: Record<string, number> }
  /** Which system refused the value, when (an instant), and what it said. */
  refused?: { by: string; at: string; message: string; value: CellValue }
}

export const ruleKey = ({ rule, band }: CompiledRule): string => `rule:${rule.code}${band ? `:${band}` : ''}`
export const rangeKey = (cell: string): string => `range:${cell}`

/**
 * Every doubt about every report of a table: failed rules first, then values outside their expected range.
 * @param today the day number that `today()` gives.
 */
export function findDoubts(
  rules: readonly CompiledRule[],
  cells: readonly Cell[],
  table: ColumnTable,
  today?: number,
): Doubt[][] {
  const found: Doubt[][] = Array.from({ length: table.size }, () => [])
  for (const judgement of judge(rules, table, today)) {
    const { rule, verdicts } = judgement
    const { code, strength } = rule.rule
    verdicts.forEach((verdict, row) => {
      if (verdict !== FAILED) return
      found[row]!.push({
        key: ruleKey(rule),
        source: 'rule',
        code,
        band: rule.band,
        strength,
        cells: rule.compiled.cells,
        explanation: detail(judgement, table, row, today).explanation,
      })
    })
  }
  for (const cell of cells) {
    const strength = cell.item.range?.raises
    if (!strength) continue
    const numbers = table.numbers(cell.key)
    for (let row = 0; row < table.size; row++) {
      const value = numbers[row]!
      // A blank is in no range: most of a report that was just opened.
      if (Number.isNaN(value)) continue
      const range = expectedRangeBefore(cell, table, row)
      if (range && raisesDoubt(range, value)) {
        found[row]!.push({
          key: rangeKey(cell.key),
          source: 'range',
          code: cell.key,
          band: null,
          strength,
          cells: [cell.key],
          range: { ...range, value },
        })
      }
    }
  }
  return found
}
