import { recountDoubt, type RecountedCell } from '#core/reconcile/recount-doubt'
import { groupBy } from '#core/group-by'
import { recountFactor } from '#core/quality/recount-factor'
import { BLANK } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import type { Doubt } from '#core/rule/find-doubts'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'

/**
 * For queries: of recounts `r` that meet a condition, what holds of each cell: the newest that was not
 * withdrawn.
 */
export const heldRecounts = (tables: string, condition: string): string =>
  `SELECT DISTINCT ON (r.report, c.cell) r.report, c.cell, c.value, r.counted_on, r.counted_by
   FROM recount r JOIN recount_cell c ON c.recount = r.id ${tables}
   WHERE r.withdrawn_at IS NULL AND ${condition} ORDER BY r.report, c.cell, r.at DESC, r.id DESC`

/** What holds of the recounts of some reports, in the order of the cells' keys. */
export async function recountedCells(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
): Promise<(report: number) => RecountedCell[]> {
  const rows = await sql.query<RecountedCell & { report: number }>(
    `SELECT h.report, h.cell, h.value, h.counted_on AS "on", h.counted_by AS "by"
     FROM (${heldRecounts('', 'r.report = ANY($1::bigint[])')}) h`,
    [reports],
  )
  const byReport = groupBy(rows, row => row.report)
  return report => (byReport.get(report) ?? []).map(({ report: _, ...cell }) => cell)
}

/** A recounted number over a reported one, as it travels: JSON has no infinity, the factor is null then. */
export function comparedNumbers(recounted: number, reported: number) {
  const { factor, verdict } = recountFactor(recounted, reported)
  return { factor: Number.isFinite(factor) ? factor : null, verdict }
}

/** Where a supervisor counted another number than a report says, item by item. */
export function recountDoubts(
  recounted: readonly RecountedCell[],
  { cellByKey }: Pick<ReadyEdition, 'cellByKey'>,
  cells: CellMap,
): Doubt[] {
  // A report may have moved to an edition that has no such cell.
  const counted = recounted.filter(({ cell }) => cellByKey.has(cell))
  return [...groupBy(counted, ({ cell }) => cellByKey.get(cell)!.item.code)].flatMap(([item, own]) => {
    const doubt = recountDoubt(
      item,
      own,
      cell => cells[cell] ?? BLANK,
      cell => cellByKey.get(cell),
    )
    return doubt ? [doubt] : []
  })
}
