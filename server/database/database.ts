import { PGlite, type Transaction } from '@electric-sql/pglite'
import { ltree } from '@electric-sql/pglite/contrib/ltree'
import { pg_trgm } from '@electric-sql/pglite/contrib/pg_trgm'
import { lockFolder } from './folder-lock'
import { migrate, type Migration } from './migrate'

/** What may stand behind a `$1`. Objects become JSON. */
export type Parameter = string | number | boolean | null | object

/** The statements that one piece of work may run. Rows come as objects by column name. */
export interface Sql {
  query<Row extends object>(text: string, params?: readonly Parameter[]): Promise<Row[]>
  /** Several statements without parameters: migrations only. */
  script(text: string): Promise<void>
}

export interface Database extends Pick<Sql, 'query'> {
  /** Runs work in one transaction: all of it is kept, or none of it. */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** The number of the last migration. */
  readonly migration: number
  close(): Promise<void>
}

const sqlOf = (runner: Pick<Transaction, 'query' | 'exec'>): Sql => ({
  async query<Row extends object>(text: string, params: readonly Parameter[] = []) {
    return (await runner.query<Row>(text, params as unknown[])).rows
  },
  async script(text) {
    await runner.exec(text)
  },
})

/** Keep timestamps as ISO text and days as plain days: `Date` objects would bring a clock's time zone into them. */
const PARSERS = {
  1082: (text: string) => text, // date
  1114: (text: string) => text, // timestamp
  1184: (text: string) => new Date(text).toISOString(), // timestamptz
  20: (text: string) => Number(text), // bigint: our counters stay far below 2^53
}

/**
 * Opens the database of a folder, or a passing one with `memory:`, and brings its tables up to date.
 * @throws FolderInUse, NewerDatabase, ChangedMigration
 */
export async function openDatabase(folder: string, migrations: readonly Migration[]): Promise<Database> {
  const inMemory = folder === 'memory:'
  const unlock = inMemory ? () => {} : lockFolder(folder)
  try {
    const engine = await PGlite.create(inMemory ? 'memory://' : `file://${folder}/postgres`, {
      extensions: { ltree, pg_trgm }, parsers: PARSERS,
    })
    await engine.exec('SET TIME ZONE \'UTC\'')
    const transaction = <T>(work: (sql: Sql) => Promise<T>) =>
      engine.transaction(tx => work(sqlOf(tx))) as Promise<T>
    const migration = await migrate(migrations, transaction).catch(async (error) => {
      await engine.close()
      throw error
    })
    return {
      query: sqlOf(engine).query,
      transaction,
      migration,
      async close() {
        await engine.close()
        unlock()
      },
    }
  }
  catch (error) {
    unlock()
    throw error
  }
}
