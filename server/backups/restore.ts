import { existsSync, mkdirSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { nowText } from '../clock'
import { openAt } from '../database'
import { syncFolder, syncPath } from '../database/durable-files'
import { lockFolder } from '../database/folder-lock'
import { MIGRATIONS } from '../database/migrations'
import { importFrom } from '../moving/export'
import { CannotRestore, unpackBackup, type BackupManifest } from './pack'

/** @throws CannotRestore for a backup of a newer version: this one could harm what is in it */
function mustBeKnown({ migration }: BackupManifest): void {
  const newest = MIGRATIONS.at(-1)!.number
  if (migration > newest)
    throw new CannotRestore(
      `This backup is of a newer version of Eastward Lantern (migration ${migration}; this version knows up to ${newest}). Restore it with that version. Nothing was changed.`,
    )
}

/** Puts the database that is there aside. @returns where it is kept; null when there was none */
function putAside(data: string): string | null {
  const current = join(data, 'postgres')
  if (!existsSync(current)) return null
  const aside = join(data, `postgres.before-${nowText().slice(0, 19).replaceAll(':', '')}Z`)
  renameSync(current, aside)
  return aside
}

/**
 * Puts a backup in the place of the database of a folder. What was there stays beside it, under another name. The
 * next start begins a new incarnation: devices send again what came after the backup.
 *
 * @returns where the database is kept that was there; null when there was none
 * @throws CannotRestore, FolderInUse; nothing is changed then
 */
export async function restoreFolder(file: string, data: string): Promise<string | null> {
  mkdirSync(data, { recursive: true, mode: 0o700 })
  const unlock = await lockFolder(data)
  const unpacked = join(data, 'postgres.restored')
  let aside: string | null = null
  let manifest: BackupManifest
  try {
    manifest = await unpackBackup(file, unpacked)
    mustBeKnown(manifest)
    if (manifest.content === 'folder') {
      syncFolder(unpacked)
      aside = putAside(data)
      renameSync(join(unpacked, 'postgres'), join(data, 'postgres'))
      syncPath(data)
    }
  } catch (error) {
    rmSync(unpacked, { recursive: true, force: true })
    throw error
  } finally {
    await unlock()
  }
  if (manifest.content === 'tables') aside = await importInto(unpacked, data)
  rmSync(unpacked, { recursive: true, force: true })
  return aside
}

/** Fills a new database in a folder from unpacked tables, beside the one that is there, and puts it in its place. */
async function importInto(unpacked: string, data: string): Promise<string | null> {
  const fresh = join(data, 'restoring')
  rmSync(fresh, { recursive: true, force: true })
  const target = await openAt(fresh)
  try {
    await importFrom(unpacked, target)
    await target.query('ANALYZE')
  } finally {
    await target.close()
  }
  const aside = putAside(data)
  renameSync(join(fresh, 'postgres'), join(data, 'postgres'))
  syncPath(data)
  rmSync(fresh, { recursive: true, force: true })
  return aside
}

/**
 * Fills an empty database on a PostgreSQL server from a backup of one.
 *
 * @param unpacked a folder for the files meanwhile
 * @throws CannotRestore, CannotMove when the database is not empty
 */
export async function restoreServer(file: string, address: string, unpacked: string): Promise<void> {
  try {
    const manifest = await unpackBackup(file, unpacked)
    mustBeKnown(manifest)
    if (manifest.content === 'folder')
      throw new CannotRestore(
        'This backup is of the embedded engine. Restore it into a folder, then bring it to the server with npm run move.',
      )
    const target = await openAt(address)
    try {
      await importFrom(unpacked, target)
      await target.query('ANALYZE')
    } finally {
      await target.close()
    }
  } finally {
    rmSync(unpacked, { recursive: true, force: true })
  }
}
