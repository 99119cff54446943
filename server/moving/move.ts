import type { Database } from '../database'
import {
  CannotMove,
  continueNumbers,
  fillTables,
  fingerprint,
  movedTables,
  mustBeEmpty,
  numbersOf,
  rowsOf,
  tablesOf,
} from './tables'

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
  if (source.migration !== target.migration)
    throw new CannotMove('The two databases are of different versions of Eastward Lantern.')
  const tables = movedTables(await tablesOf(source))
  await mustBeEmpty(target, tables)
  await source.transaction(from =>
    target.transaction(async to => {
      await fillTables(
        to,
        tables,
        table => rowsOf(from, table),
        table => fingerprint(from, table),
        onProgress,
      )
      await continueNumbers(to, await numbersOf(from))
    }),
  )
}
