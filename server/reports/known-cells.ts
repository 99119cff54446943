import { groupBy } from '#core/group-by'
import type { CellContent } from '#core/report/cell'
import type { Field } from '#core/sync/change'
import type { KnownChange } from '#core/sync/decide'
import type { FieldState } from '#core/sync/merge'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { storedCells, versionedTexts, type VersionedTexts } from './cells'

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

/** A change of a cell, as far as its state is looked up by it. */
interface ChangeOfCell {
  id: string
  cell: string
  base: number
  after?: string
}

/** A cell, and the version that its one change was made on; null where its last event must be known in any case. */
interface CellAsked {
  report: number
  cell: string
  madeOn: number | null
}

const cellsAsked = (report: number, changes: readonly ChangeOfCell[]): CellAsked[] =>
  [...groupBy(changes, ({ cell }) => cell)].map(([cell, own]) => ({
    ...{ report, cell },
    madeOn: own.length === 1 && own[0]!.after === undefined ? own[0]!.base : null,
  }))

/**
 * What stands in some cells, by report. The last event of a cell is looked up only where it decides: a change that
 * was made on the version that stands there is applied without it.
 */
async function fieldsOf(
  sql: Sql,
  cells: readonly CellAsked[],
): Promise<Map<number, Map<string, Field<CellContent>>>> {
  const rows = await sql.query<VersionedTexts & { last: Record<string, string> | null }>(
    `SELECT ${versionedTexts('v')},
       json_object_agg(v.cell, (SELECT e.id FROM cell_event e WHERE e.report = v.report AND e.cell = v.cell ORDER BY e.seq DESC LIMIT 1))
         FILTER (WHERE v.version IS DISTINCT FROM w.made_on) AS last
     FROM unnest($1::bigint[], $2::text[], $3::int[]) AS w (report, cell, made_on) JOIN cell_value v ON v.report = w.report AND v.cell = w.cell
     GROUP BY v.report`,
    [cells.map(({ report }) => report), cells.map(({ cell }) => cell), cells.map(({ madeOn }) => madeOn)],
  )
  return new Map(
    rows.map(row => [
      row.report,
      new Map(
        storedCells(row).map(({ cell, content, version }) => [
          cell,
          { content, version, last: row.last?.[cell] ?? '' },
        ]),
      ),
    ]),
  )
}

/**
 * What the database knows of the cells and changes of some reports: for each, in their order, the state that
 * `mergeBatch` works with.
 */
export async function statesOfCells(
  sql: Sql,
  batches: readonly { report: number; changes: readonly ChangeOfCell[] }[],
): Promise<FieldState<CellContent>[]> {
  const [fields, known] = await Promise.all([
    fieldsOf(
      sql,
      batches.flatMap(({ report, changes }) => cellsAsked(report, changes)),
    ),
    knownChanges(
      sql,
      batches.flatMap(({ changes }) => changes.flatMap(({ id, after }) => (after ? [id, after] : [id]))),
    ),
  ])
  return batches.map(({ report }) => ({ fields: fields.get(report) ?? new Map(), known }))
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
