import { v7 as uuid } from 'uuid'
import { now } from '../clock'
import type { Database } from '../database'

/** Why a backup cannot be announced. Its message is for the person at the console. */
export class CannotAnnounce extends Error {}

/** An instant with its time zone: without one it would be another moment on another machine. */
const INSTANT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:\d{2})$/

/**
 * Notes a backup of a PostgreSQL server that its own tools have made. Devices give up what was confirmed to them
 * before it began, as they do after a backup that the installation makes.
 *
 * @param began when the backup began, as `2026-11-09T22:00:00Z`: what was committed later may not be in it
 * @returns the instant that is noted
 * @throws CannotAnnounce
 * @example await announceBackup(await database(), '2026-11-09T22:00:00Z')
 */
export async function announceBackup(sql: Database, began: string): Promise<string> {
  if (sql.engine !== 'server')
    throw new CannotAnnounce(
      'Only the backups of a PostgreSQL server are announced. Of a data folder npm run backup makes them.',
    )
  const at = INSTANT.test(began) ? Date.parse(began) : NaN
  if (Number.isNaN(at))
    throw new CannotAnnounce('Say when the backup began, with its time zone, as 2026-11-09T22:00:00Z.')
  if (at > now()) throw new CannotAnnounce(`${began} has not come yet.`)
  const noted = new Date(at).toISOString()
  await sql.query('INSERT INTO backup (id, at, place) VALUES ($1, $2, $3)', [uuid(), noted, 'announced'])
  return noted
}
