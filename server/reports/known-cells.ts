import type { CellContent, CellKind, CellValue } from '#core/report/cell'
import type { Field } from '#core/sync/change'
import type { KnownChange } from '#core/sync/decide'
import type { FieldState } from '#core/sync/merge'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { contentOf, otherValue } from './cells'

/** What is known of some changes: those that wrote an event stand for themselves. */
export async function knownChanges(sql: Sql, ids: readonly string[]): Promise<Map<string, KnownChange>> {
  const rows = await sql.query<KnownChange & { id: string }>(
    `SELECT id, id AS "standsFor", false AS "isConflict" FROM cell_event WHERE id = ANY($1::uuid[])
     UNION ALL
     SELECT id, stands_for, outcome = 'conflict' FROM known_change WHERE id = ANY($1::uuid[])`,
    [ids],
  )
  return new Map(rows.map(({ id, ...known }) => [id, known]))
}

async function fieldsOf(
  sql: Sql,
  report: number,
  cells: readonly string[],
): Promise<Map<string, Field<CellContent>>> {
  const rows = await sql.query<{
    cell: string
    kind: CellKind
    value: number | null
    reason: string | null
    other: CellValue | null
    version: number
    last: string
  }>(
    `SELECT v.cell, v.kind, v.value, v.reason, ${otherValue('v')} AS other, v.version,
       (SELECT e.id FROM cell_event e WHERE e.report = v.report AND e.cell = v.cell ORDER BY e.seq DESC LIMIT 1) AS last
     FROM cell_value v WHERE v.report = $1 AND v.cell = ANY($2::text[])`,
    [report, cells],
  )
  return new Map(
    rows.map(({ cell, kind, value, reason, other, version, last }) => [
      cell,
      { content: contentOf(kind, value, reason, other), version, last },
    ]),
  )
}

/** What the database knows of the cells and changes of one batch: the state that `mergeBatch` works with. */
export async function stateOfCells(
  sql: Sql,
  report: number,
  changes: readonly { id: string; cell: string; after?: string }[],
): Promise<FieldState<CellContent>> {
  return {
    fields: await fieldsOf(sql, report, [...new Set(changes.map(({ cell }) => cell))]),
    known: await knownChanges(
      sql,
      changes.flatMap(({ id, after }) => (after ? [id, after] : [id])),
    ),
  }
}

/** How long devices have to bring back what a restore lost: as long as they keep what they sent. */
const DAYS_TO_SEND_AGAIN = 35

/** Was this database put back from a backup not long ago? */
export async function wasRestoredLately(sql: Sql): Promise<boolean> {
  const rows = await sql.query(
    'SELECT 1 FROM incarnation WHERE backup IS NOT NULL AND since > $1::timestamptz - make_interval(days => $2)',
    [nowText(), DAYS_TO_SEND_AGAIN],
  )
  return rows.length > 0
}
