import { embeddedDatabase, dataFolder, type EmbeddedDatabase } from '../database'
import { now } from '../clock'
import { schedule } from '../schedule'
import { lastBackupAt, makeBackup } from './backup'

const HOUR_MS = 3_600_000

/** Hours between two backups; 0 makes none. */
function backupHours(): number {
  const set = Number(process.env.LANTERN_BACKUP_HOURS ?? 24)
  return Number.isFinite(set) && set >= 0 ? set : 24
}

/**
 * Does this process look after the files of the database? One in memory has none; those of a PostgreSQL server
 * are looked after there.
 */
const hasFiles = async (): Promise<boolean> =>
  dataFolder() !== 'memory:' && (await embeddedDatabase()) !== null

/**
 * Are backups made here? Of the embedded engine always; of a PostgreSQL server where `LANTERN_BACKUPS` says into which
 * folder: all processes must see the same one.
 */
export const makesBackups = async (): Promise<boolean> =>
  (await hasFiles()) || Boolean(process.env.LANTERN_BACKUPS && process.env.DATABASE_URL)

/** Is the last backup older than it may be (`LANTERN_BACKUP_HOURS`)? */
export const isBackupDue = async (): Promise<boolean> =>
  backupHours() > 0 && (await makesBackups()) && now() - (await lastBackupAt()) >= backupHours() * HOUR_MS

/** Makes a backup of this installation's folder. @returns where it is */
export const backUp = async (): Promise<string> => (await makeBackup(dataFolder())).place

/**
 * Gives the planner what it must know of the tables, where it knows nothing yet: without statistics a list of
 * a province takes a hundred times as long. A PostgreSQL server does this by itself.
 */
async function analyzeIfNever(sql: EmbeddedDatabase): Promise<void> {
  const [never] = await sql.query(
    `SELECT 1 FROM pg_class WHERE relkind = 'r' AND relnamespace = current_schema()::regnamespace AND reltuples < 0 AND pg_relation_size(oid) > 0 LIMIT 1`,
  )
  if (never) await eachTable(sql, 'ANALYZE')
}

/** Does something with each table, one after the other: requests wait for one of them, and not for all. */
async function eachTable(sql: EmbeddedDatabase, command: 'ANALYZE' | 'VACUUM (ANALYZE)'): Promise<void> {
  const tables = await sql.query<{ name: string }>(
    `SELECT quote_ident(relname) AS name FROM pg_class
     WHERE relkind = 'r' AND relnamespace = current_schema()::regnamespace ORDER BY relname`,
  )
  for (const { name } of tables) await sql.query(`${command} ${name}`)
}

/** Gives the tables their statistics, and from now on writes the log into them every five minutes. */
export async function keepSafe(): Promise<void> {
  const sql = await embeddedDatabase()
  if (!sql || !(await hasFiles())) return
  await analyzeIfNever(sql)
  schedule('The checkpoint failed', '*/5 * * * *', () => sql.checkpoint())
}

/** Gives back the room of rows that are gone, and renews the statistics. A PostgreSQL server does this by itself. */
export async function vacuum(): Promise<void> {
  const sql = await embeddedDatabase()
  if (sql) await eachTable(sql, 'VACUUM (ANALYZE)')
}
