/** What may stand behind a `$1`. Objects become JSON, lists become arrays of the database. */
export type Parameter = string | number | boolean | null | object

/**
 * Refuses a list of objects: the embedded engine would write it as JSON, and a server as an array of texts,
 * which fails there only. Stand it in an object, or make each of its objects a text.
 */
export function mustBePortable(params: readonly Parameter[]): void {
  const at = params.findIndex(
    param => Array.isArray(param) && param.some(one => typeof one === 'object' && one !== null),
  )
  if (at >= 0) throw new Error(`The parameter $${at + 1} is a list of objects, which a server cannot store.`)
}

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
   * survive a power cut. A PostgreSQL server may ask for the work to be done again (deadlock, serialisation
   * failure): it must not change anything outside the transaction.
   */
  transaction<T>(work: (sql: Sql) => Promise<T>): Promise<T>
  /** What holds the data: the engine inside this process, or a PostgreSQL server that others use as well. */
  readonly engine: 'embedded' | 'server'
  /** The number of the last migration. */
  readonly migration: number
  close(): Promise<void>
}

/** The embedded engine, whose files are ours to look after. */
export interface EmbeddedDatabase extends Database {
  readonly engine: 'embedded'
  /**
   * Writes all changes from the log into the tables' own files, so that the log does not grow without end.
   */
  checkpoint(): Promise<void>
  /**
   * Copies the database into a folder, while it is used. The copy opens with everything committed before the
   * call.
   */
  copyTo(folder: string): Promise<void>
}

/** Lets pieces of work on one connection follow one another. */
export function inTurns() {
  let last: Promise<unknown> = Promise.resolve()
  return <T>(work: () => Promise<T>): Promise<T> => {
    const own = last.then(work)
    last = own.catch(() => undefined)
    return own
  }
}

let savepoints = 0

/** How a transaction goes. */
interface Course {
  isOver: boolean
  /** The error of a statement that the engine refused: until a savepoint is gone back to, nothing will be kept. */
  failure: unknown
}

/** After an error the engine refuses all other statements of the transaction, and says no more than that. */
const FAILED_BEFORE = '25P02'

/**
 * The statements of one transaction, on a connection that nobody else uses meanwhile. Work that asks for several
 * things at once may go on with one of them after another one failed: those behind it are given its error, so that the
 * reason is known whichever is heard first. Once the transaction is over, what is still asked for is refused, since
 * it would be done outside of it.
 */
function sqlOf(connection: Pick<Sql, 'query' | 'script'>, course: Course): Sql {
  const ask = async <T>(statement: () => Promise<T>): Promise<T> => {
    if (course.isOver) throw new Error('A statement came after the end of its transaction.')
    try {
      return await statement()
    } catch (error) {
      course.failure ??= error
      throw (error as { code?: unknown }).code === FAILED_BEFORE ? course.failure : error
    }
  }
  const script: Sql['script'] = text => ask(() => connection.script(text))
  return {
    query: (text, params) => ask(() => connection.query(text, params)),
    script,
    async savepoint(work) {
      const name = `part_${++savepoints}`
      await script(`SAVEPOINT ${name}`)
      try {
        const result = await work()
        await script(`RELEASE SAVEPOINT ${name}`)
        return result
      } catch (error) {
        await script(`ROLLBACK TO SAVEPOINT ${name}; RELEASE SAVEPOINT ${name}`)
        course.failure = undefined
        throw error
      }
    },
  }
}

/**
 * Does the work of one transaction, which the caller has begun, up to where it can be committed.
 * @throws what the work throws, and the error of a statement that it took no notice of: after one, the engine answers
 *   COMMIT as if all were stored, and keeps nothing
 */
export async function doInTransaction<T>(
  connection: Pick<Sql, 'query' | 'script'>,
  work: (sql: Sql) => Promise<T>,
): Promise<T> {
  const course: Course = { isOver: false, failure: undefined }
  try {
    const done = await work(sqlOf(connection, course))
    if (course.failure !== undefined) throw course.failure
    return done
  } finally {
    course.isOver = true
  }
}
