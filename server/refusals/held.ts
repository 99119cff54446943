import { BLANK, type CellValue } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import type { Doubt } from '#core/rule/find-doubts'
import { refusedDoubt } from '#core/sending/refused-doubt'
import type { ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'

interface Row {
  cell: string
  value: CellValue
  recipient: string
  by: string
  at: string
  message: string
}

/** The values of a report that a recipient refused, and that nothing newer was sent for. */
export async function refusedDoubts(
  sql: Pick<Sql, 'query'>,
  { round, unit }: { round: string; unit: string },
  { cellByKey }: Pick<ReadyEdition, 'cellByKey'>,
  cells: CellMap,
): Promise<Doubt[]> {
  const rows = await sql.query<Row>(
    `SELECT DISTINCT ON (s.recipient, f.cell) f.cell, f.value, s.recipient, r.name AS by, s.answered_at AS at, f.message
     FROM sending_refusal f JOIN sending s ON s.id = f.sending JOIN recipient r ON r.id = s.recipient
     WHERE s.round = $1 AND f.unit = $2 AND f.about = 'value' AND f.ended_at IS NULL AND r.ended_at IS NULL
     ORDER BY s.recipient, f.cell, s.answered_at DESC`,
    [round, unit],
  )
  return rows.flatMap(row => {
    const doubt = cellByKey.has(row.cell) ? refusedDoubt(row, cells[row.cell] ?? BLANK) : null
    return doubt ? [doubt] : []
  })
}
