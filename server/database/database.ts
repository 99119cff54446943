import { inspectFolder } from './data-folder'
import type { Engine } from './engine'
import { openEngine } from './engine-client'
import { lockFolder } from './folder-lock'
import { migrate, type Migration } from './migrate'

/** What may stand behind a `$1`. Objects become JSON. */
export type Parameter = string | number | boolean | null | object

/** The statements that one piece of work may run. Rows come as objects by column name. */
export interface Sql {
  query<Row extends object>(text: string, params?: readonly Parameter[]): Promise<Row[]>
  /** Several statements without parameters: migrations only. */
  script(text: string): Promise<void>
  /**
   * Runs a part of a transaction that is kept whole or not at all: when it throws, the rest of the
   * transaction stands.
   */
  savepoint<T>(work: () => Promise<T>): Promise<T>
}

export interface Database extends Pick<Sql, 'query'> {
  /**
   * Runs work in one transaction: all of it is kept, or none of it. Returns when what was committed would
   * survive a power cut.
   */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** The number of the last migration. */
  readonly migration: number
  /**
   * Writes all changes from the log into the tables' own files, so that the log does not grow without end.
   */
  checkpoint(): Promise<void>
  /**
   * Copies the database into a folder, while it is used. The copy opens with everything committed before the
   * call.
   */
  copyTo(folder: string): Promise<void>
  close(): Promise<void>
}

/** Lets pieces of work on the one connection follow one another. */
function queue() {
  let last: Promise<unknown> = Promise.resolve()
  return <T>(work: () => Promise<T>): Promise<T> => {
    const own = last.then(work)
    last = own.catch(() => undefined)
    return own
  }
}

let savepoints = 0

/** The statements of one transaction, on a connection that nobody else uses meanwhile. */
function sqlOf(engine: Pick<Engine, 'query' | 'exec'>): Sql {
  return {
    query: <Row extends object>(text: string, params: readonly Parameter[] = []) =>
      engine.query(text, params) as Promise<Row[]>,
    script: text => engine.exec(text),
    async savepoint(work) {
      const name = `part_${++savepoints}`
      await engine.exec(`SAVEPOINT ${name}`)
      try {
        const result = await work()
        await engine.exec(`RELEASE SAVEPOINT ${name}`)
        return result
      } catch (error) {
        await engine.exec(`ROLLBACK TO SAVEPOINT ${name}; RELEASE SAVEPOINT ${name}`)
        throw error
      }
    },
  }
}

/**
 * Opens the database of a folder, or a passing one with `memory:`, and brings its tables up to date.
 *
 * @param onLost called when another process took the folder: this one must end at once
 * @throws FolderInUse, FolderDamaged, NewerDatabase, ChangedMigration
 */
export async function openDatabase(
  data: string,
  migrations: readonly Migration[],
  onLost?: (reason: string) => void,
): Promise<Database> {
  const inMemory = data === 'memory:'
  if (!inMemory) inspectFolder(data)
  const unlock = inMemory ? () => Promise.resolve() : await lockFolder(data, onLost)
  try {
    const engine = await openEngine(data)
    const inTurn = queue()
    const sql = sqlOf(engine)
    // A read waits as well: what it saw may have been committed a moment ago, and not be on the disk yet.
    const query: Sql['query'] = async <Row extends object>(
      text: string,
      params: readonly Parameter[] = [],
    ) => {
      const rows = await inTurn(() => sql.query<Row>(text, params))
      await engine.sync()
      return rows
    }
    const transaction = async <T>(work: (sql: Sql) => Promise<T>): Promise<T> => {
      const result = await inTurn(async () => {
        await engine.exec('BEGIN')
        try {
          const done = await work(sql)
          await engine.exec('COMMIT')
          return done
        } catch (error) {
          await engine.exec('ROLLBACK')
          throw error
        }
      })
      await engine.sync()
      return result
    }
    let copying: Promise<void> = Promise.resolve()
    const checkpoint = async () => {
      // A copy begins at one checkpoint: the next must not give up the log that it still needs.
      await copying
      await inTurn(() => engine.exec('CHECKPOINT'))
    }
    const migration = await migrate(migrations, transaction).catch(async error => {
      await engine.close()
      throw error
    })
    return {
      query,
      transaction,
      migration,
      checkpoint,
      async copyTo(folder) {
        await checkpoint()
        const copy = engine.copyTo(folder)
        copying = copy.catch(() => undefined)
        await copy
      },
      async close() {
        await inTurn(() => engine.close())
        await unlock()
      },
    }
  } catch (error) {
    await unlock()
    throw error
  }
}
