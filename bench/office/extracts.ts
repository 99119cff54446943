import type { ExtractDefinition, ExtractFormat } from '#core/contract/extracts'
import type { Access } from '../../server/access/access'
import { database } from '../../server/database'
import { askForFile, extractFile } from '../../server/extracts/files'
import { makeExtracts } from '../../server/extracts/make-files'
import { UNWATCHED } from '../../server/queue/turn'
import { memoryOf } from '../process-memory'

/** The cells of reports as rows, as most people take them out. */
export const cellsAs = (format: ExtractFormat, from: string): ExtractDefinition => ({
  ...{ of: 'monthly_summary', rows: 'cell', heads: 'short', choices: 'code', several: 'columns' },
  ...{ reasons: false, format, language: 'en', filters: { from } },
  columns: ['@unit', '@unit_name', '@period', '@cell', '@kind', '@value'].map(key => ({ key })),
})

/**
 * Takes cells out into a file, and removes it. Says how many rows a second, and how much memory it took.
 * @returns how many rows
 */
export async function takeOut(access: Access, format: ExtractFormat, from: string): Promise<number> {
  const sql = await database()
  const { id } = await askForFile(access, {
    extracts: [{ name: 'bench', definition: cellsAs(format, from) }],
  })
  const memory = memoryOf(process.pid)
  const before = performance.now()
  await makeExtracts(UNWATCHED)
  const seconds = (performance.now() - before) / 1000
  const { state, rows, bytes, problem } = await extractFile(access, id)
  if (state !== 'ready') throw new Error(`The extract is ${state}: ${problem}`)
  process.stdout.write(
    `  ${format}: ${rows} rows, ${Math.round(bytes / 1e6)} MB, ${Math.round(rows / seconds)} rows a second, ${Math.round(memoryOf(process.pid) - memory)} MB more memory\n`,
  )
  await sql.query('DELETE FROM extract_file WHERE id = $1', [id])
  return rows
}

/** What the engine itself takes to write the same rows as CSV. */
export async function copyPlainly(from: string): Promise<void> {
  const sql = await database()
  await sql.query(
    `COPY (SELECT p.unit, p.unit_name, r.period, v.cell, v.kind, v.value FROM report p JOIN round r ON r.id = p.round
       JOIN cell_value v ON v.report = p.id WHERE r.dataset = 'monthly_summary' AND r.last_day >= '${from}'
         AND p.state IN ('sent', 'accepted') AND v.kind <> 'blank' ORDER BY r.last_day, p.id) TO '/dev/null' WITH (FORMAT csv)`,
  )
}
