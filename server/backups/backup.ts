import { existsSync, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { v7 as uuid } from 'uuid'
import { nowText } from '../clock'
import { database, embeddedDatabase } from '../database'
import { backupsFolder, backupsOf, BACKUP_MARK } from '../database/data-folder'
import { syncFolder, syncPath } from '../database/durable-files'

/** How many backups stay; the older ones are removed. */
const KEPT = 14

/** `2026-11-09T10:45:00.000Z` as a name of a folder: `2026-11-09T104500Z`. */
const folderName = (at: string): string => `${at.slice(0, 19).replaceAll(':', '')}Z`

export interface Backup {
  id: string
  at: string
  place: string
}

/**
 * Makes a backup while the installation is in use: the database, complete and synced, in a folder of its own.
 * Everything that was received before `at` is in it.
 *
 * A backup carries a mark. A database that opens with the mark in its folder knows that it was put back.
 *
 * @param data the folder of the installation
 */
export async function makeBackup(data: string): Promise<Backup> {
  const sql = await embeddedDatabase()
  if (!sql)
    throw new Error('Only the embedded engine is copied from here: a PostgreSQL server has its own backups.')
  const backup: Backup = {
    id: uuid(),
    at: nowText(),
    place: join(backupsFolder(resolve(data)), folderName(nowText())),
  }
  const unfinished = `${backup.place}.unfinished`
  rmSync(unfinished, { recursive: true, force: true })
  mkdirSync(unfinished, { recursive: true, mode: 0o700 })
  await sql.copyTo(join(unfinished, 'postgres'))
  writeFileSync(join(unfinished, 'postgres', BACKUP_MARK), JSON.stringify({ id: backup.id, at: backup.at }))
  syncFolder(unfinished)
  if (existsSync(backup.place)) rmSync(backup.place, { recursive: true })
  renameSync(unfinished, backup.place)
  syncPath(backupsFolder(resolve(data)))
  // Devices delete what is in a backup, so the backup is announced only after it is on the disk.
  await sql.query('INSERT INTO backup (id, at, place) VALUES ($1, $2, $3)', [
    backup.id,
    backup.at,
    backup.place,
  ])
  for (const old of backupsOf(resolve(data)).slice(KEPT)) rmSync(old, { recursive: true, force: true })
  return backup
}

/** When the newest backup was made, in milliseconds since 1970; 0 when there is none. */
export async function lastBackupAt(): Promise<number> {
  const sql = await database()
  const [row] = await sql.query<{ at: string | null }>('SELECT max(at) AS at FROM backup')
  return row?.at ? Date.parse(row.at) : 0
}
