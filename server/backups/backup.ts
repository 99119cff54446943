import { existsSync, mkdirSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { v7 as uuid } from 'uuid'
import { nowText } from '../clock'
import { database, embeddedDatabase, type Database } from '../database'
import { backupsFolder, backupsOf, BACKUP_MARK } from '../database/data-folder'
import { exportTo } from '../moving/export'
import { packFolder, type BackupManifest } from './pack'

/** How many backups stay if nobody says; the older ones are removed. */
const USUALLY_KEPT = 14

/** How many backups stay: `LANTERN_BACKUPS_KEPT`. */
export function backupsKept(): number {
  const set = Number(process.env.LANTERN_BACKUPS_KEPT || USUALLY_KEPT)
  return Number.isInteger(set) && set > 0 ? set : USUALLY_KEPT
}

/** `2026-11-09T10:45:00.000Z` as a name of a file: `2026-11-09T104500Z.zip`. */
const fileName = (at: string): string => `${at.slice(0, 19).replaceAll(':', '')}Z.zip`

export interface Backup {
  id: string
  at: string
  /** The file. */
  place: string
  bytes: number
}

/** Puts a copy of the database into a folder, while the installation is in use. */
async function copyInto(
  folder: string,
  { id, at }: Pick<Backup, 'id' | 'at'>,
): Promise<BackupManifest['content']> {
  const embedded = await embeddedDatabase()
  if (!embedded) {
    await exportTo(await database(), folder)
    return 'tables'
  }
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  await embedded.copyTo(join(folder, 'postgres'))
  // A database that opens with the mark in its folder knows that it was put back.
  writeFileSync(join(folder, 'postgres', BACKUP_MARK), JSON.stringify({ id, at }))
  return 'folder'
}

/** Tells devices of a backup: they give up what was confirmed to them before it began. */
export const noteBackup = async (sql: Database, { id, at, place }: Omit<Backup, 'bytes'>): Promise<void> =>
  void (await sql.query('INSERT INTO backup (id, at, place) VALUES ($1, $2, $3)', [id, at, place]))

/**
 * Makes a backup while the installation is in use: one file, complete and on the disk, with everything that was
 * received before `at`, pictures too. The embedded engine is copied as it lies; of a PostgreSQL server all tables
 * are written out as of one moment.
 *
 * @param data the folder of the installation; backups lie in it, or where `LANTERN_BACKUPS` says
 */
export async function makeBackup(data: string): Promise<Backup> {
  const sql = await database()
  const folder = backupsFolder(resolve(data))
  const at = nowText()
  const id = uuid()
  const place = join(folder, fileName(at))
  const unfinished = `${place}.folder`
  mkdirSync(folder, { recursive: true, mode: 0o700 })
  rmSync(unfinished, { recursive: true, force: true })
  try {
    const content = await copyInto(unfinished, { id, at })
    await packFolder(unfinished, place, { id, at, content, migration: sql.migration })
  } finally {
    rmSync(unfinished, { recursive: true, force: true })
  }
  // Devices delete what is in a backup, so the backup is announced only after it is on the disk.
  await noteBackup(sql, { id, at, place })
  for (const old of backupsOf(resolve(data)).slice(backupsKept())) if (existsSync(old)) rmSync(old)
  return { id, at, place, bytes: statSync(place).size }
}

/** When the newest backup was made, in milliseconds since 1970; 0 when there is none. */
export async function lastBackupAt(): Promise<number> {
  const sql = await database()
  const [row] = await sql.query<{ at: string | null }>('SELECT max(at) AS at FROM backup')
  return row?.at ? Date.parse(row.at) : 0
}
