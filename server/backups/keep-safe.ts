import { now } from '../clock'
import { dataFolder, embeddedDatabase } from '../database'
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
 * From now on writes the log into the tables every five minutes, and makes a backup when the last is a day
 * old (`LANTERN_BACKUP_HOURS`). A database in memory has neither; one on a PostgreSQL server is kept safe
 * there.
 */
export async function keepSafe(): Promise<void> {
  const sql = await embeddedDatabase()
  if (!sql || dataFolder() === 'memory:') return
  schedule('The checkpoint failed', '*/5 * * * *', () => sql.checkpoint())
  if (!backupHours()) return
  schedule('The backup failed', '*/15 * * * *', backupWhenDue)
  backupWhenDue().catch((error: unknown) => logError('The backup failed', error))
}
