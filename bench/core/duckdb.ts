import { DuckDBInstance, type DuckDBConnection } from '@duckdb/node-api'

/**
 * DuckDB in memory on one thread, with a table of columns of numbers: the database that is made for what our
 * columns do.
 * @param columns NaN is stored as NULL.
 */
export async function duckWith(
  table: string,
  columns: ReadonlyMap<string, ArrayLike<number>>,
  rows: number,
): Promise<{ connection: DuckDBConnection; close: () => void }> {
  const instance = await DuckDBInstance.create(':memory:', { threads: '1' })
  const connection = await instance.connect()
  await connection.run(
    `CREATE TABLE ${table} (${[...columns.keys()].map(column => `${column} DOUBLE`).join(', ')})`,
  )
  const appender = await connection.createAppender(table)
  for (let row = 0; row < rows; row++) {
    for (const column of columns.values()) {
      const value = column[row]!
      if (Number.isNaN(value)) appender.appendNull()
      else appender.appendDouble(value)
    }
    appender.endRow()
  }
  appender.closeSync()
  return {
    connection,
    close() {
      connection.closeSync()
      instance.closeSync()
    },
  }
}
