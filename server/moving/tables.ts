import type { Sql } from '../database'

/** The two databases cannot be moved into one another. The message says what to do. */
export class CannotMove extends Error {}

/** How many rows are copied at once. */
const AT_ONCE = 2000

/** A table of the installation, with its columns in their order. */
export interface Table {
  name: string
  columns: string[]
}

/** Made by the migrations themselves, in the target too. */
const MADE_BY_MIGRATIONS = new Set(['migration', 'incarnation'])

const quoted = (name: string) => `"${name}"`

/** All tables, each after those that it refers to. */
export async function tablesOf(sql: Pick<Sql, 'query'>): Promise<Table[]> {
  const tables = await sql.query<Table>(
    `SELECT c.relname AS name, array_agg(a.attname::text ORDER BY a.attnum) AS columns
     FROM pg_class c JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped
     WHERE c.relkind = 'r' AND c.relnamespace = current_schema()::regnamespace GROUP BY c.relname ORDER BY c.relname`,
  )
  const references = await sql.query<{ from: string; to: string }>(
    `SELECT conrelid::regclass::text AS "from", confrelid::regclass::text AS "to" FROM pg_constraint
     WHERE contype = 'f' AND conrelid <> confrelid AND connamespace = current_schema()::regnamespace`,
  )
  const ordered: Table[] = []
  const left = new Map(tables.map(table => [table.name, table]))
  while (left.size) {
    const free = [...left.values()].filter(
      ({ name }) => !references.some(({ from, to }) => from === name && left.has(to)),
    )
    if (!free.length)
      throw new Error(`Tables refer to each other in a circle: ${[...left.keys()].join(', ')}`)
    for (const table of free) {
      ordered.push(table)
      left.delete(table.name)
    }
  }
  return ordered
}

/**
 * Rows that refer to rows of their own table come in any order: these constraints are taken away while rows
 * are copied, and checked as a whole when they are put back.
 */
async function withoutOwnReferences(sql: Sql, work: () => Promise<void>): Promise<void> {
  const own = await sql.query<{ table: string; name: string; definition: string }>(
    `SELECT conrelid::regclass::text AS table, conname AS name, pg_get_constraintdef(oid) AS definition FROM pg_constraint
     WHERE contype = 'f' AND conrelid = confrelid AND connamespace = current_schema()::regnamespace`,
  )
  for (const { table, name } of own)
    await sql.script(`ALTER TABLE ${quoted(table)} DROP CONSTRAINT ${quoted(name)}`)
  await work()
  for (const { table, name, definition } of own)
    await sql.script(`ALTER TABLE ${quoted(table)} ADD CONSTRAINT ${quoted(name)} ${definition}`)
}

/**
 * The rows of a table, some at a time, each as the text of a JSON object: which both engines read and write
 * without loss.
 */
export async function* rowsOf(sql: Sql, { name }: Table): AsyncGenerator<string[]> {
  await sql.script(
    `DECLARE copied NO SCROLL CURSOR FOR SELECT to_jsonb(t)::text AS row FROM ${quoted(name)} t`,
  )
  for (;;) {
    const rows = await sql.query<{ row: string }>(`FETCH ${AT_ONCE} FROM copied`)
    if (!rows.length) break
    yield rows.map(({ row }) => row)
  }
  await sql.script('CLOSE copied')
}

/** Adds rows as {@link rowsOf} gives them. */
async function addRows(sql: Sql, { name, columns }: Table, rows: readonly string[]): Promise<void> {
  const list = columns.map(quoted).join(', ')
  await sql.query(
    `INSERT INTO ${quoted(name)} (${list}) OVERRIDING SYSTEM VALUE
     SELECT ${list} FROM jsonb_populate_recordset(NULL::${quoted(name)}, $1::jsonb)`,
    [`[${rows.join(',')}]`],
  )
}

/** Where the numbers of a database stand that are given one after the other. */
export interface Numbers {
  name: string
  last: number
  isCalled: boolean
}

export async function numbersOf(sql: Pick<Sql, 'query'>): Promise<Numbers[]> {
  const sequences = await sql.query<{ name: string }>(
    'SELECT sequencename AS name FROM pg_sequences WHERE schemaname = current_schema() ORDER BY 1',
  )
  const numbers: Numbers[] = []
  for (const { name } of sequences) {
    const [at] = await sql.query<Omit<Numbers, 'name'>>(
      `SELECT last_value AS last, is_called AS "isCalled" FROM ${quoted(name)}`,
    )
    numbers.push({ name, ...at! })
  }
  return numbers
}

/** Numbers that are given from now on follow those that were given before. */
export async function continueNumbers(sql: Pick<Sql, 'query'>, numbers: readonly Numbers[]): Promise<void> {
  for (const { name, last, isCalled } of numbers)
    await sql.query('SELECT setval($1::regclass, $2, $3)', [quoted(name), last, isCalled])
}

/** Rows of a table, and a number that changes with any of them, whatever their order. */
export async function fingerprint(sql: Pick<Sql, 'query'>, { name, columns }: Table): Promise<string> {
  const list = columns.map(column => `t.${quoted(column)}`).join(', ')
  const [row] = await sql.query<{ count: number; sum: string }>(
    `SELECT count(*) AS count, coalesce(bit_xor(hashtextextended(ROW(${list})::text, 0)), 0)::text AS sum FROM ${quoted(name)} t`,
  )
  return `${row!.count} rows, ${row!.sum}`
}

/** @throws CannotMove unless the target holds nothing but its tables. */
export async function mustBeEmpty(target: Pick<Sql, 'query'>, tables: readonly Table[]): Promise<void> {
  for (const { name } of tables) {
    if (MADE_BY_MIGRATIONS.has(name)) continue
    const [row] = await target.query(`SELECT 1 FROM ${quoted(name)} LIMIT 1`)
    if (row) throw new CannotMove(`The target is not empty: its table ${name} has rows. Nothing was moved.`)
  }
}

/** The tables whose rows go along: how the tables were made stands in each database itself. */
export const movedTables = (tables: readonly Table[]): Table[] =>
  tables.filter(({ name }) => name !== 'migration')

/**
 * Fills an empty database, all in the present transaction, and checks table by table that it is the same.
 *
 * @param rows of a table, some at a time
 * @param expected the {@link fingerprint} that a table must have
 * @param onProgress is told the name of a table and how many rows it has
 * @throws Error when a table is not the same afterwards
 */
export async function fillTables(
  to: Sql,
  tables: readonly Table[],
  rows: (table: Table) => AsyncIterable<string[]>,
  expected: (table: Table) => Promise<string>,
  onProgress: (table: string, rows: number) => void,
): Promise<void> {
  await to.query('DELETE FROM incarnation')
  await withoutOwnReferences(to, async () => {
    for (const table of tables) {
      let count = 0
      for await (const some of rows(table)) {
        await addRows(to, table, some)
        count += some.length
      }
      onProgress(table.name, count)
    }
  })
  for (const table of tables) {
    const [before, after] = [await expected(table), await fingerprint(to, table)]
    if (before !== after)
      throw new Error(`${table.name} is not the same: ${before} before, ${after} after. Nothing was kept.`)
  }
}
