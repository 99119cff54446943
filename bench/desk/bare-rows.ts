import { openEmbedded } from '../../server/database/embedded'
import type { Database, Parameter } from '../../server/database'
import { MIGRATIONS } from '../../server/database/migrations'

const UNIT_OF_CASE = '(SELECT c.unit FROM case_record c WHERE c.id = t.case_id)'
const UNIT_OF_REPORT = '(SELECT p.unit FROM report p WHERE p.id = t.report)'
/** The tables that sending writes, each before those that refer to it; and the unit of a row, for queries. */
const TABLES = {
  report: 't.unit',
  report_event: UNIT_OF_REPORT,
  cell_value: UNIT_OF_REPORT,
  cell_event: UNIT_OF_REPORT,
  case_record: 't.unit',
  case_entry: UNIT_OF_CASE,
  case_block: UNIT_OF_CASE,
  received_change: '(SELECT d.unit FROM device d WHERE d.id = t.device)',
  changed_thing: 't.unit',
}
const OF_CASES = `t.case_id IN (SELECT id FROM case_record WHERE register = 'measles_contacts')`
const OF_REPORTS = `t.report IN (SELECT id FROM report WHERE round LIKE 'bench~%')`
/**
 * Rows that the devices wrote: those of their cases, and of the reports of the form that is measured, with the
 * receipt of each change, the keys by which cases are compared, and the note for other systems. What was found
 * in them (pairs, doubts) is not among them.
 */
const WRITTEN: Record<keyof typeof TABLES, string> = {
  report: `t.round LIKE 'bench~%'`,
  report_event: OF_REPORTS,
  cell_value: OF_REPORTS,
  cell_event: OF_REPORTS,
  case_record: `t.register = 'measles_contacts'`,
  case_entry: OF_CASES,
  case_block: OF_CASES,
  received_change: `t.device IN (SELECT id FROM device WHERE name LIKE 'Bench %')`,
  changed_thing: `(t.kind = 'case' AND t.of = 'measles_contacts') OR (t.kind = 'report' AND t.of = 'bench')`,
}

interface Bare {
  table: keyof typeof TABLES
  text: string
  /** The values of the columns, by unit. */
  byUnit: Map<string, Parameter[]>
}

/** Documents and lists go as their texts: an array of them would be none of the database. */
const isText = (type: string) => type === 'jsonb' || type.endsWith('[]')
function givenAs(type: string, value: Parameter): Parameter {
  if (type === 'jsonb' && value !== null) return JSON.stringify(value)
  return Array.isArray(value) ? `{${value.map(one => JSON.stringify(one)).join()}}` : value
}

async function bareOf(sql: Database, table: keyof typeof TABLES): Promise<Bare> {
  const columns = await sql.query<{ name: string; type: string }>(
    `SELECT attname AS name, format_type(atttypid, NULL) AS type FROM pg_attribute WHERE attrelid = $1::regclass AND attnum > 0 AND NOT attisdropped ORDER BY attnum`,
    [table],
  )
  const rows = await sql.query<{ unit: string; row: Record<string, Parameter> }>(
    `SELECT ${TABLES[table]} AS unit, to_jsonb(t) AS row FROM ${table} t WHERE ${WRITTEN[table]}`,
  )
  const names = columns.map(({ name }) => name)
  const byUnit = new Map<string, Parameter[]>()
  for (const unit of new Set(rows.map(row => row.unit))) {
    const own = rows.filter(row => row.unit === unit).map(({ row }) => row)
    byUnit.set(
      unit,
      columns.map(({ name, type }) => own.map(row => givenAs(type, row[name] ?? null))),
    )
  }
  const given = columns.map(({ type }, at) => `$${at + 1}::${isText(type) ? 'text' : type}[]`)
  const taken = columns.map(({ name, type }) => `g.${name}${isText(type) ? `::${type}` : ''}`)
  return {
    table,
    text: `INSERT INTO ${table} (${names.join(', ')}) OVERRIDING SYSTEM VALUE SELECT ${taken.join(', ')} FROM unnest(${given.join(', ')}) AS g (${names.join(', ')})`,
    byUnit,
  }
}

/**
 * What devices sent to a folder, taken out of it and written into it again by bare SQL: a statement for each
 * table and unit, a transaction for each unit.
 * @returns milliseconds, also those of each table, and how many rows
 */
export async function bareRows(
  folder: string,
): Promise<{ took: number; rows: number; byTable: Map<string, number> }> {
  const sql = await openEmbedded(folder, MIGRATIONS)
  try {
    const tables = Object.keys(TABLES) as (keyof typeof TABLES)[]
    const bare: Bare[] = []
    for (const table of tables) bare.push(await bareOf(sql, table))
    // What was made of these rows (pairs, doubts, receipts) stays, and refers to them again afterwards.
    await sql.query('SET session_replication_role = replica')
    for (const table of tables.toReversed()) await sql.query(`DELETE FROM ${table} t WHERE ${WRITTEN[table]}`)
    await sql.query('SET session_replication_role = origin')
    const units = new Set(bare.flatMap(({ byUnit }) => [...byUnit.keys()]))
    let rows = 0
    const byTable = new Map<string, number>()
    const begun = performance.now()
    for (const unit of units)
      await sql.transaction(async tx => {
        for (const { table, text, byUnit } of bare) {
          const values = byUnit.get(unit)
          if (!values) continue
          const before = performance.now()
          await tx.query(text, values)
          byTable.set(table, (byTable.get(table) ?? 0) + performance.now() - before)
          rows += (values[0] as unknown[]).length
        }
      })
    return { took: performance.now() - begun, rows, byTable }
  } finally {
    await sql.close()
  }
}
