import type { CellContent } from '#core/report/cell'
import { noteReports } from '../changes/note'
import type { Parameter, Sql } from '../database'
import { cellTable, columnsOf, CONTENT_COLUMNS } from './cells'

/** One change of a cell, checked and merged. */
export interface CellWrite {
  /** Identifier of the change, and of its event. */
  id: string
  cell: string
  old: CellContent
  content: CellContent
  /** Version of the cell after the change. */
  version: number
  why?: string | null
}

/**
 * Writes changes of one report's cells: each event with who, when, where from, old, new and why; and the last
 * content of each cell. The only code that writes cells: for devices, the office, corrections and what is not
 * offered.
 *
 * @param writes in the order in which they were made; several of one cell are allowed.
 */
export async function writeCells(
  sql: Sql,
  report: number,
  writes: readonly CellWrite[],
  { at, person, origin }: { at: string; person: string; origin: string },
): Promise<void> {
  if (!writes.length) return
  await sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new, why)
     SELECT id, $1, cell, $2, $3, $4, old::jsonb, new::jsonb, why
     FROM unnest($5::uuid[], $6::text[], $7::text[], $8::text[], $9::text[]) AS given (id, cell, old, new, why)`,
    [
      report,
      at,
      person,
      origin,
      writes.map(({ id }) => id),
      writes.map(({ cell }) => cell),
      writes.map(({ old }) => JSON.stringify(old)),
      writes.map(({ content }) => JSON.stringify(content)),
      writes.map(({ why }) => why ?? null),
    ],
  )
  const last = [...new Map(writes.map(write => [write.cell, write])).values()]
  await sql.query(
    `INSERT INTO cell_value (report, cell, version, ${CONTENT_COLUMNS})
     SELECT $1, cell, version, ${CONTENT_COLUMNS} FROM ${cellTable('$2')}
     ON CONFLICT (report, cell) DO UPDATE SET version = EXCLUDED.version, kind = EXCLUDED.kind, value = EXCLUDED.value,
       truth = EXCLUDED.truth, text = EXCLUDED.text, codes = EXCLUDED.codes, reason = EXCLUDED.reason`,
    [
      report,
      JSON.stringify(last.map(({ cell, version, content }) => ({ cell, version, ...columnsOf(content) }))),
    ],
  )
  await countAnswers(sql, 'p.id = $1', [report])
  await reportChanged(sql, report)
}

/**
 * Counts the answers of some reports anew. The only writer of these counts.
 * @param which for queries: the condition on the report `p`
 */
export const countAnswers = (sql: Sql, which: string, values: readonly Parameter[]): Promise<object[]> =>
  sql.query(
    `UPDATE report p SET answered = v.answered, not_offered = v.not_offered FROM (
       SELECT p.id, count(*) FILTER (WHERE c.kind IN ('value', 'notKnown') AND NOT c.computed) AS answered, count(*) FILTER (WHERE c.kind = 'notOffered') AS not_offered
       FROM report p JOIN cell_value c ON c.report = p.id WHERE ${which} GROUP BY p.id) v WHERE v.id = p.id`,
    values,
  )

/**
 * Notes that the figures of a report's district are to be computed anew (see checks/effects.ts): a row is
 * added, so that nobody waits for another facility of the district.
 */
export const figuresChanged = (sql: Sql, report: number): Promise<object[]> =>
  sql.query(
    `INSERT INTO figures_to_refresh (round, path) SELECT round, path FROM report WHERE id = $1 AND state <> 'draft' AND path IS NOT NULL`,
    [report],
  )

/** Notes that a report says something else than before: figures change with it, and programs hear of it. */
export async function reportChanged(sql: Sql, report: number): Promise<void> {
  await figuresChanged(sql, report)
  await noteReports(sql, [report])
}
