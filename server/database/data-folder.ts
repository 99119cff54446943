import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { syncFolder, syncPath } from './durable-files'
import { engineProblem } from './engine-files'

/** The folder holds neither a sound database nor nothing. Nothing was written into it. */
export class FolderDamaged extends Error {}

/** What may stand in the folder of an installation before its database does. */
const BEFORE_DATABASE = new Set([
  'session-key',
  'session-key.new',
  'in-use.lock',
  'in-use.json',
  'postgres.new',
  'postgres.restored',
  'lost+found',
])

/** The file that tells a database that it was put back from a backup, in the engine's folder. */
export const BACKUP_MARK = 'lantern-backup.json'

/**
 * Backups are files named after the instant at which they were made, so that the last by name is the newest.
 */
export const backupsFolder = (data: string): string => process.env.LANTERN_BACKUPS || join(data, 'backups')

/** The backups of an installation that are complete, newest first. */
export function backupsOf(data: string): string[] {
  const folder = backupsFolder(data)
  if (!existsSync(folder)) return []
  return readdirSync(folder)
    .filter(name => /^\d{4}-\d\d-\d\dT\d{6}Z\.zip$/.test(name))
    .sort()
    .reverse()
    .map(name => join(folder, name))
}

function adviceFor(data: string): string {
  const [newest] = backupsOf(data)
  return newest
    ? `The newest backup is ${newest}. Put it back with: npm run restore -- "${newest}"`
    : 'There is no backup beside it. Put back a copy of the whole folder, or ask for help before anything is written into it.'
}

/**
 * Says whether a folder holds a sound database, or is ready for a new one.
 *
 * @param data the folder of the installation, which `LANTERN_DATA` names
 * @throws FolderDamaged for anything else, with what is wrong and what to do
 */
export function inspectFolder(data: string): 'sound' | 'empty' {
  if (!existsSync(data)) return 'empty'
  const engine = join(data, 'postgres')
  if (existsSync(engine)) {
    const problem = engineProblem(engine)
    if (!problem) return 'sound'
    throw new FolderDamaged(
      `The database in ${data} is damaged: ${problem}. Nothing was changed. ${adviceFor(data)}`,
    )
  }
  const strange = readdirSync(data).filter(name => !BEFORE_DATABASE.has(name))
  if (!strange.length) return 'empty'
  throw new FolderDamaged(
    `The folder ${data} has no database in it, but is not empty either (${strange.slice(0, 3).join(', ')}). ` +
      `Nothing was changed. ${backupsOf(data).length ? adviceFor(data) : 'Name an empty folder with LANTERN_DATA.'}`,
  )
}

/**
 * Makes the engine's folder complete or not at all: under another name first, synced, then renamed.
 *
 * @param make fills the folder whose path it gets
 */
export async function createEngineFolder(
  data: string,
  make: (folder: string) => Promise<void>,
): Promise<void> {
  const unfinished = join(data, 'postgres.new')
  rmSync(unfinished, { recursive: true, force: true })
  mkdirSync(unfinished, { recursive: true, mode: 0o700 })
  await make(unfinished)
  syncFolder(unfinished)
  renameSync(unfinished, join(data, 'postgres'))
  syncPath(data)
}
