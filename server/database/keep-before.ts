import { readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { v7 as uuid } from 'uuid'
import { nowText } from '../clock'
import { BACKUP_MARK } from './data-folder'
import { syncFolder, syncPath } from './durable-files'

const NAME = 'postgres.before-migration-'

/**
 * Keeps a copy of the database as it is before an update changes its tables, so that one can go back to the version
 * before: it is put in the place of `postgres` by hand (docs/operating.md), and takes itself for a backup then. Only
 * the newest such copy stays.
 *
 * @param migration the last one that ran in it
 * @param copyTo copies the database into a folder
 */
export async function keepBefore(
  data: string,
  migration: number,
  copyTo: (folder: string) => Promise<void>,
): Promise<void> {
  const kept = join(data, `${NAME}${migration + 1}`)
  const unfinished = `${kept}.unfinished`
  rmSync(unfinished, { recursive: true, force: true })
  await copyTo(unfinished)
  writeFileSync(join(unfinished, BACKUP_MARK), JSON.stringify({ id: uuid(), at: nowText() }))
  syncFolder(unfinished)
  for (const name of readdirSync(data))
    if (name.startsWith(NAME) && !name.endsWith('.unfinished'))
      rmSync(join(data, name), { recursive: true, force: true })
  renameSync(unfinished, kept)
  syncPath(data)
}
