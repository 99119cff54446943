import { now } from '../clock'
import { database, dataFolder } from '../database'
import { logError, log } from '../log'
import { lastBackupAt, makeBackup } from './backup'

const CHECKPOINT_MS = 5 * 60_000
const LOOK_MS = 15 * 60_000
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
 * old
 * (`LANTERN_BACKUP_HOURS`). A database in memory has neither.
 */
export function keepSafe(): void {
  if (dataFolder() === 'memory:') return
  setInterval(() => {
    database()
      .then(sql => sql.checkpoint())
      .catch((error: unknown) => logError('The checkpoint failed', error))
  }, CHECKPOINT_MS).unref()
  if (!backupHours()) return
  const look = () => {
    backupWhenDue().catch((error: unknown) => logError('The backup failed', error))
  }
  setInterval(look, LOOK_MS).unref()
  look()
}
