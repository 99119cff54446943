import { database } from '../database'
import { version } from '../../package.json'

/** What the server is and that it answers: asks the database, so that a broken one is not called ready. */
export async function health() {
  const sql = await database()
  const [row] = await sql.query<{ server_version: string }>('SHOW server_version')
  return {
    state: 'ready' as const,
    version,
    engine: sql.engine === 'embedded' ? 'PostgreSQL (PGlite)' : 'PostgreSQL',
    engineVersion: row!.server_version,
    migration: sql.migration,
  }
}
