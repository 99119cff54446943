import { beginFilling } from '#core/form/fill'
import { contentAt } from '#core/form/filling'
import type { CompiledForm } from '#core/form/compile-form'
import { BLANK, type CellValue } from '#core/report/cell'
import type { CellMap } from '#core/report/table'
import type { Sql } from '../database'
import { today } from '../settings'
import type { ReadyEdition } from '../datasets/editions'
import { cellTable, cellsOfReports, columnsOf, CONTENT_COLUMNS } from './cells'

/** What follows from the answers of a report. */
export interface Following {
  /** The contents of the computed cells. */
  computed: CellMap
  /** How many cells that are asked do not apply. */
  notApplying: number
}

/**
 * What follows from the answers of a report of an edition that has a living form. @param day for `today()`
 */
export function followingFrom(
  { cells, form }: Pick<ReadyEdition, 'cells'> & { form: CompiledForm },
  report: CellMap,
  day: number,
): Following {
  const { filling } = beginFilling(form, report, { today: day })
  const computed = cells.filter(({ item }) => item.kind === 'computed')
  return {
    computed: Object.fromEntries(
      computed.map(({ key }) => {
        const content = contentAt(filling, key)
        return [key, content?.kind === 'value' ? { kind: 'value', value: content.value as CellValue } : BLANK]
      }),
    ),
    notApplying: cells.filter(({ item }) => item.kind !== 'computed' && filling.hidden.has(item.code)).length,
  }
}

/**
 * Computes what follows from the answers of some reports of one edition, and writes it: the only writer of
 * computed cells, and of how many do not apply. An edition with neither has nothing to compute. What is
 * computed with `today()` is of the day on which the report was changed last.
 */
export async function computeCells(sql: Sql, ready: ReadyEdition, reports: readonly number[]): Promise<void> {
  const { form } = ready
  if (!form || !reports.length) return
  const cells = await cellsOfReports(sql, reports)
  const day = await today(sql)
  const following = reports.map(report => ({
    report,
    ...followingFrom({ ...ready, form }, cells.get(report) ?? {}, day),
  }))
  await sql.query(
    `INSERT INTO cell_value (report, cell, version, computed, ${CONTENT_COLUMNS})
     SELECT report, cell, 1, true, ${CONTENT_COLUMNS} FROM ${cellTable('$1')}
     ON CONFLICT (report, cell) DO UPDATE SET version = cell_value.version + 1, kind = EXCLUDED.kind, value = EXCLUDED.value
     WHERE (cell_value.kind, cell_value.value) IS DISTINCT FROM (EXCLUDED.kind, EXCLUDED.value)`,
    [
      JSON.stringify(
        following.flatMap(({ report, computed }) =>
          Object.entries(computed).map(([cell, content]) => ({ report, cell, ...columnsOf(content) })),
        ),
      ),
    ],
  )
  await sql.query(
    `UPDATE report p SET not_applying = f.not_applying FROM unnest($1::bigint[], $2::int[]) AS f (report, not_applying)
     WHERE p.id = f.report AND p.not_applying <> f.not_applying`,
    [following.map(({ report }) => report), following.map(({ notApplying }) => notApplying)],
  )
}
