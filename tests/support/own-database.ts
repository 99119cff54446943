import { startCluster } from '../../scripts/postgres.mjs'
import type { Database } from '../../server/database'
import type { Migration } from '../../server/database/migrate'
import { openPostgres } from '../../server/database/postgres'

/** An open database on a PostgreSQL server of its own, with the tables of some migrations. */
export interface OwnDatabase {
  database: Database
  /** Its address. */
  url: string
  stop: () => Promise<void>
}

export async function openOwnDatabase(migrations: readonly Migration[]): Promise<OwnDatabase> {
  const cluster = await startCluster()
  await cluster.make('lantern')
  const url = cluster.url('lantern')
  const database = await openPostgres(url, migrations)
  return {
    database,
    url,
    async stop() {
      await database.close()
      await cluster.stop()
    },
  }
}
