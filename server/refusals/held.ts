import { groupBy } from '#core/group-by'
import { BLANK, type CellValue } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import type { Doubt } from '#core/rule/find-doubts'
import { refusedDoubt } from '#core/sending/refused-doubt'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { reportKey } from '../reports/place'

interface RefusedValue {
  unit: string
  round: string
  cell: string
  value: CellValue
  recipient: string
  by: string
  at: string
  message: string
}

/** The values of some reports that a recipient refused, and that nothing newer was sent for. */
export async function refusedValues(
  sql: Pick<Sql, 'query'>,
  reports: readonly { round: string; unit: string }[],
): Promise<(report: { round: string; unit: string }) => RefusedValue[]> {
  const rows = await sql.query<RefusedValue>(
    `SELECT DISTINCT ON (s.round, f.unit, s.recipient, f.cell)
       s.round, f.unit, f.cell, f.value, s.recipient, r.name AS by, s.answered_at AS at, f.message
     FROM unnest($1::text[], $2::text[]) AS w (round, unit) JOIN sending s ON s.round = w.round
       JOIN sending_refusal f ON f.sending = s.id AND f.unit = w.unit JOIN recipient r ON r.id = s.recipient
     WHERE f.about = 'value' AND f.ended_at IS NULL AND r.ended_at IS NULL
     ORDER BY s.round, f.unit, s.recipient, f.cell, s.answered_at DESC`,
    [reports.map(({ round }) => round), reports.map(({ unit }) => unit)],
  )
  const byReport = groupBy(rows, reportKey)
  return report => byReport.get(reportKey(report)) ?? []
}

/** The doubts of a report about its refused values that still stand. */
export function refusedDoubts(
  refused: readonly RefusedValue[],
  { cellByKey }: Pick<ReadyEdition, 'cellByKey'>,
  cells: CellMap,
): Doubt[] {
  return refused.flatMap(row => {
    const doubt = cellByKey.has(row.cell) ? refusedDoubt(row, cells[row.cell] ?? BLANK) : null
    return doubt ? [doubt] : []
  })
}
