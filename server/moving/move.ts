import type { Database, Sql } from '../database'

/** The two databases cannot be moved into one another. The message says what to do. */
export class CannotMove extends Error {}

/** How many rows are copied at once. */
const AT_ONCE = 2000

/** A table of the installation, with its columns in their order. */
interface Table {
  name: string
  columns: string[]
}

/** Made by the migrations themselves, in the target too. */
const MADE_BY_MIGRATIONS = new Set(['migration', 'incarnation'])

const quoted = (name: string) => `"${name}"`

/** All tables, each after those that it refers to. */
async function tablesOf(sql: Pick<Sql, 'query'>): Promise<Table[]> {
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

/** Copies the rows of one table: as JSON, which both engines read and write without loss. */
async function copyTable(source: Sql, target: Sql, { name, columns }: Table): Promise<number> {
  const list = columns.map(quoted).join(', ')
  await source.script(`DECLARE copied NO SCROLL CURSOR FOR SELECT to_jsonb(t) AS row FROM ${quoted(name)} t`)
  let count = 0
  for (;;) {
    const rows = await source.query<{ row: object }>(`FETCH ${AT_ONCE} FROM copied`)
    if (!rows.length) break
    await target.query(
      `INSERT INTO ${quoted(name)} (${list}) OVERRIDING SYSTEM VALUE
       SELECT ${list} FROM jsonb_populate_recordset(NULL::${quoted(name)}, $1::jsonb)`,
      [JSON.stringify(rows.map(({ row }) => row))],
    )
    count += rows.length
  }
  await source.script('CLOSE copied')
  return count
}

/** Numbers that are given from now on follow those that were given before. */
async function continueNumbers(source: Sql, target: Sql): Promise<void> {
  const sequences = await source.query<{ name: string }>(
    'SELECT sequencename AS name FROM pg_sequences WHERE schemaname = current_schema() ORDER BY 1',
  )
  for (const { name } of sequences) {
    const [at] = await source.query<{ last: number; isCalled: boolean }>(
      `SELECT last_value AS last, is_called AS "isCalled" FROM ${quoted(name)}`,
    )
    await target.query('SELECT setval($1::regclass, $2, $3)', [quoted(name), at!.last, at!.isCalled])
  }
}

/** Rows of a table, and a number that changes with any of them, whatever their order. */
async function fingerprint(sql: Pick<Sql, 'query'>, { name, columns }: Table): Promise<string> {
  const list = columns.map(column => `t.${quoted(column)}`).join(', ')
  const [row] = await sql.query<{ count: number; sum: string }>(
    `SELECT count(*) AS count, coalesce(bit_xor(hashtextextended(ROW(${list})::text, 0)), 0)::text AS sum FROM ${quoted(name)} t`,
  )
  return `${row!.count} rows, ${row!.sum}`
}

/** @throws CannotMove unless the target holds nothing but its tables, of the same migration. */
async function mustFit(source: Database, target: Database, tables: readonly Table[]): Promise<void> {
  if (source.migration !== target.migration)
    throw new CannotMove('The two databases are of different versions of Eastward Lantern.')
  for (const { name } of tables) {
    if (MADE_BY_MIGRATIONS.has(name)) continue
    const [row] = await target.query(`SELECT 1 FROM ${quoted(name)} LIMIT 1`)
    if (row) throw new CannotMove(`The target is not empty: its table ${name} has rows. Nothing was moved.`)
  }
}

/**
 * Copies everything from one database into an empty one, and checks table by table that it is the same. The
 * source is not changed. All in one transaction at the target: it has everything, or nothing.
 *
 * Numbers of events stay as they are, so devices go on as if nothing had happened.
 *
 * @param onProgress is told the name of a table and how many rows it has
 * @throws CannotMove, and when a table is not the same afterwards
 */
export async function move(
  source: Database,
  target: Database,
  onProgress: (table: string, rows: number) => void = () => undefined,
): Promise<void> {
  const tables = await tablesOf(source)
  await mustFit(source, target, tables)
  await source.transaction(from =>
    target.transaction(async to => {
      await to.query('DELETE FROM incarnation')
      await withoutOwnReferences(to, async () => {
        for (const table of tables.filter(({ name }) => name !== 'migration'))
          onProgress(table.name, await copyTable(from, to, table))
      })
      await continueNumbers(from, to)
      for (const table of tables.filter(({ name }) => name !== 'migration')) {
        const [before, after] = [await fingerprint(from, table), await fingerprint(to, table)]
        if (before !== after)
          throw new Error(
            `${table.name} is not the same: ${before} before, ${after} after. Nothing was kept.`,
          )
      }
    }),
  )
}
