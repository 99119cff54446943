import type { CellContent } from '#core/report/cell'
import { noteReports } from '../changes/note'
import type { Parameter, Sql } from '../database'
import { cellTable, columnsOf, CONTENT_COLUMNS } from './cells'

/** One change of a cell, checked and merged. */
export interface CellWrite {
  report: number
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
 * Writes changes of the cells of reports: each event with who, when, where from, old, new and why; and the last
 * content of each cell. The only code that writes cells: for devices, the office, corrections and what is not
 * offered.
 *
 * @param writes in the order in which they were made; several of one cell are allowed.
 */
export async function writeCells(
  sql: Sql,
  writes: readonly CellWrite[],
  { at, person, origin }: { at: string; person: string; origin: string },
): Promise<void> {
  if (!writes.length) return
  const last = [...new Map(writes.map(write => [`${write.report} ${write.cell}`, write])).values()]
  const reports = [...new Set(writes.map(({ report }) => report))]
  const events = sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new, why)
     SELECT id, report, cell, $1, $2, $3, old::jsonb, new::jsonb, why
     FROM unnest($4::uuid[], $5::bigint[], $6::text[], $7::text[], $8::text[], $9::text[]) AS given (id, report, cell, old, new, why)`,
    [
      at,
      person,
      origin,
      writes.map(({ id }) => id),
      writes.map(({ report }) => report),
      writes.map(({ cell }) => cell),
      writes.map(({ old }) => JSON.stringify(old)),
      writes.map(({ content }) => JSON.stringify(content)),
      writes.map(({ why }) => why ?? null),
    ],
  )
  const [added, changed] = [
    last.filter(({ version }) => version === 1),
    last.filter(({ version }) => version > 1),
  ]
  // They are done in this order, and none waits for the answer to the one before.
  await Promise.all([
    events,
    // No row is there of a first version: not to look for one saves a quarter of the time.
    saveContents(sql, added, ''),
    saveContents(sql, changed, IN_PLACE),
    countAnswers(sql, 'p.id = ANY($1::bigint[])', [reports]),
    reportsChanged(sql, reports),
  ])
}

/** For queries: a content takes the place of the one that is there. */
const IN_PLACE = `ON CONFLICT (report, cell) DO UPDATE SET version = EXCLUDED.version, kind = EXCLUDED.kind, value = EXCLUDED.value,
  truth = EXCLUDED.truth, text = EXCLUDED.text, codes = EXCLUDED.codes, reason = EXCLUDED.reason`

/** Writes the last contents of cells. @param whereThere {@link IN_PLACE}, or nothing where none has a content yet */
async function saveContents(
  sql: Sql,
  cells: readonly CellWrite[],
  whereThere: typeof IN_PLACE | '',
): Promise<void> {
  if (!cells.length) return
  await sql.query(
    `INSERT INTO cell_value (report, cell, version, ${CONTENT_COLUMNS})
     SELECT report, cell, version, ${CONTENT_COLUMNS} FROM ${cellTable('$1')} ${whereThere}`,
    [
      JSON.stringify(
        cells.map(({ report, cell, version, content }) => ({ report, cell, version, ...columnsOf(content) })),
      ),
    ],
  )
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
 * Notes that the figures of some reports' districts are to be computed anew (see checks/effects.ts): rows are
 * added, so that nobody waits for another facility of the district.
 */
export const figuresChanged = (sql: Sql, reports: readonly number[]): Promise<object[]> =>
  sql.query(
    `INSERT INTO figures_to_refresh (round, path) SELECT DISTINCT round, path FROM report
     WHERE id = ANY($1::bigint[]) AND state <> 'draft' AND path IS NOT NULL`,
    [reports],
  )

/** Notes that reports say something else than before: figures change with them, and programs hear of it. */
export async function reportsChanged(sql: Sql, reports: readonly number[]): Promise<void> {
  await Promise.all([figuresChanged(sql, reports), noteReports(sql, reports)])
}
