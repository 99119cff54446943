import type { CellContent } from '#core/report/cell'
import type { Sql } from '../database'
import { columnsOf } from './cells'

/** One change of a cell, checked, ready to be kept. */
export interface CellWrite {
  id: string
  report: number
  cell: string
  old: CellContent
  content: CellContent
  /** Version after the change. */
  version: number
  at: string
  person: string
  origin: string
  why: string | null
}

/** Keeps a change: the new content beside its event with who, when, where from, old, new and why. */
export async function writeCell(sql: Sql, write: CellWrite): Promise<void> {
  const [kind, value, reason] = columnsOf(write.content)
  await sql.query(
    `INSERT INTO cell_value (report, cell, kind, value, reason, version) VALUES ($1, $2, $3, $4, $5, $6)
     ON CONFLICT (report, cell) DO UPDATE SET kind = EXCLUDED.kind, value = EXCLUDED.value, reason = EXCLUDED.reason, version = EXCLUDED.version`,
    [write.report, write.cell, kind, value, reason, write.version],
  )
  await sql.query(
    'INSERT INTO cell_event (id, report, cell, at, person, origin, old, new, why) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
    [
      write.id,
      write.report,
      write.cell,
      write.at,
      write.person,
      write.origin,
      write.old,
      write.content,
      write.why,
    ],
  )
}
