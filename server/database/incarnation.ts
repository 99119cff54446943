import { existsSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { nowText } from '../clock'
import { BACKUP_MARK } from './data-folder'
import type { Database } from './database'

/**
 * Begins a new incarnation when this database was put back from a backup: its folder then holds the backup's
 * mark. Devices notice the new number and send again what came after the backup.
 *
 * @returns the backup's instant, or null when nothing was put back
 */
export async function noticeRestore(
  data: string,
  sql: Pick<Database, 'transaction'>,
): Promise<string | null> {
  const mark = join(data, 'postgres', BACKUP_MARK)
  if (!existsSync(mark)) return null
  const { id, at } = JSON.parse(readFileSync(mark, 'utf8')) as { id: string; at: string }
  await sql.transaction(tx =>
    tx.query(
      `INSERT INTO incarnation (number, since, backup, backup_at) SELECT max(number) + 1, $1, $2, $3 FROM incarnation
     ON CONFLICT (backup) DO NOTHING`,
      [nowText(), id, at],
    ),
  )
  // Last: a start that is cut off before this finds the mark again, and the same number.
  rmSync(mark)
  return at
}
