import { now } from '../clock'
import { dataFolder, embeddedDatabase, type EmbeddedDatabase } from '../database'
import { logError, log } from '../log'
import { schedule } from '../schedule'
import { lastBackupAt, makeBackup } from './backup'

const HOUR_MS = 3_600_000

/** Hours between two backups; 0 makes none. */
function backupHours(): number {
  const set = Number(process.env.LANTERN_BACKUP_HOURS ?? 24)
  return Number.isFinite(set) && set >= 0 ? set : 24
}

async function backupWhenDue(): Promise<void> {
  if (now() - (await lastBackupAt()) < backupHours() * HOUR_MS) return
  const { place } = await makeBackup(dataFolder())
  log(`A backup was made: ${place}`)
}

/**
 * Gives the planner what it must know of the tables, where it knows nothing yet: without statistics a list of
 * a province takes a hundred times as long. A PostgreSQL server does this by itself.
 */
async function analyzeIfNever(sql: EmbeddedDatabase): Promise<void> {
  const [never] = await sql.query(
    `SELECT 1 FROM pg_class WHERE relkind = 'r' AND relnamespace = current_schema()::regnamespace AND reltuples < 0 AND pg_relation_size(oid) > 0 LIMIT 1`,
  )
  if (never) await sql.query('ANALYZE')
}

/**
 * From now on writes the log into the tables every five minutes, tidies them at night, and makes a backup when
 * the last is a day old (`LANTERN_BACKUP_HOURS`). A database in memory has none of it; one on a PostgreSQL
 * server is kept safe there.
 */
export async function keepSafe(): Promise<void> {
  const sql = await embeddedDatabase()
  if (!sql || dataFolder() === 'memory:') return
  await analyzeIfNever(sql)
  // At night: the one connection is busy for some seconds.
  schedule('Tables could not be tidied', '15 3 * * *', async () => void (await sql.query('VACUUM (ANALYZE)')))
  schedule('The checkpoint failed', '*/5 * * * *', () => sql.checkpoint())
  if (!backupHours()) return
  schedule('The backup failed', '*/15 * * * *', backupWhenDue)
  backupWhenDue().catch((error: unknown) => logError('The backup failed', error))
}
