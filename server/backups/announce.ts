import { v7 as uuid } from 'uuid'
import { isInstant } from '#core/contract/wire'
import { now } from '../clock'
import type { Database } from '../database'
import { noteBackup } from './backup'

/** Why a backup cannot be announced. Its message is for the person at the console. */
export class CannotAnnounce extends Error {}

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
  if (!isInstant(began))
    throw new CannotAnnounce('Say when the backup began, with its time zone, as 2026-11-09T22:00:00Z.')
  const at = Date.parse(began)
  if (at > now()) throw new CannotAnnounce(`${began} has not come yet.`)
  const noted = new Date(at).toISOString()
  await noteBackup(sql, { id: uuid(), at: noted, place: 'announced' })
  return noted
}
