import { forgetOldTries } from '../access/tries'
import { vacuum } from '../backups/keep-safe'
import { forgetPersonal } from '../cases/forget-personal'
import { forgetOldOpenings } from '../cases/openings'
import { database, type Database } from '../database'
import { forgetOldExtracts } from '../extracts/files'
import { forgetOldFiles } from '../files/ask'
import { forgetOldContacts } from '../desk/contacts'
import { placeChanges } from '../machines/feed'
import { forgetOldJobs } from '../queue/job-table'
import { UNWATCHED, type JobTurn } from '../queue/turn'

/**
 * Each forgets what is past its keeping time. Sessions and what was shown for signing go when a new one
 * comes.
 */
const PARTS: ((sql: Database, signal: AbortSignal) => Promise<number>)[] = [
  forgetOldJobs,
  forgetOldTries,
  forgetOldOpenings,
  forgetOldContacts,
  forgetPersonal,
  forgetOldFiles,
  forgetOldExtracts,
]

/** Removes what is past its keeping time, and gives the room back. */
export async function tidy({ signal, progress }: JobTurn = UNWATCHED) {
  const sql = await database()
  let removed = 0
  for (const [at, forget] of PARTS.entries()) {
    signal.throwIfAborted()
    progress(at, PARTS.length + 1)
    removed += await forget(sql, signal)
  }
  await placeChanges(sql, signal)
  await vacuum()
  progress(PARTS.length + 1)
  return { numbers: { removed }, details: [] }
}
