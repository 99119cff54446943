import { database } from '../database'
import { nowText } from '../clock'
import { logFailure } from '../outside'
import type { JobTurn } from '../queue/turn'
import { deliverAll, deliveryProblem, firstPause, nextTry } from '../repository/delivering'
import { repositoryAt, type FileAnswer } from '../repository/repository'
import { partsOf } from './parts'

interface DueFile {
  id: string
  name: string
  mediaType: string
  isWhole: boolean
  address: string
  key: string | null
  /** Was it on its way before this turn? Then the recipient may have it. */
  isUnsure: boolean
  tries: number
  bytes: number
}

/** Is there a file to send to a recipient? */
export async function areFilesDue(): Promise<boolean> {
  const sql = await database()
  return (await sql.query('SELECT 1 FROM extract_file WHERE next_at <= $1 LIMIT 1', [nowText()])).length > 0
}

async function takeDue(): Promise<DueFile | undefined> {
  const sql = await database()
  const [due] = await sql.query<DueFile>(
    `WITH due AS (SELECT id, tries FROM extract_file WHERE next_at <= $1 ORDER BY next_at, id LIMIT 1 FOR UPDATE SKIP LOCKED)
     UPDATE extract_file f SET tries = f.tries + 1, next_at = $2 FROM due, recipient r WHERE f.id = due.id AND r.id = f.recipient
     RETURNING f.id, f.name, f.media_type AS "mediaType", f.is_whole AS "isWhole", r.address, r.key, due.tries > 0 AS "isUnsure", f.tries, f.bytes`,
    [nowText(), firstPause()],
  )
  return due
}

async function deliver({ id, ...due }: DueFile, signal: AbortSignal): Promise<void> {
  const repository = repositoryAt(due.address, due.key)
  const known = due.isUnsure ? await repository.lookUpFile(id, signal) : null
  const sql = await database()
  const answer =
    known ?? (await repository.deliverFile({ reference: id, ...due, parts: () => partsOf(sql, id) }, signal))
  await takeAnswer(id, answer)
}

/** Keeps what the recipient said; its bytes are not needed any more. The same answer twice is one. */
async function takeAnswer(id: string, { receipt, refused, problem }: FileAnswer): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const ended = await tx.query(
      `UPDATE extract_file SET state = $2, receipt = $3, problem = $4, refused = $5::jsonb -> 'rows', next_at = NULL
       WHERE id = $1 AND state = 'sending' RETURNING id`,
      [id, receipt === null ? 'refused' : 'sent', receipt, problem, { rows: refused }],
    )
    if (ended.length) await tx.query('DELETE FROM extract_part WHERE file = $1', [id])
  })
}

/** It may have arrived: the next try asks first. One that is given up is made anew when its time comes again. */
async function noteFailure({ id, tries }: DueFile, error: unknown): Promise<void> {
  logFailure(`File ${id} could not be delivered`, error)
  const sql = await database()
  await sql.transaction(async tx => {
    const [file] = await tx.query<{ isOver: boolean }>(
      `UPDATE extract_file SET problem = $2, next_at = $3::timestamptz, state = CASE WHEN $3::timestamptz IS NULL THEN 'failed' ELSE 'sending' END
       WHERE id = $1 AND state = 'sending' RETURNING next_at IS NULL AS "isOver"`,
      [id, deliveryProblem(error), nextTry(tries)],
    )
    if (file?.isOver) await tx.query('DELETE FROM extract_part WHERE file = $1', [id])
  })
}

/** Delivers the files that are due to their recipients, each once. @returns how many were answered, and were not */
export function sendFiles({ signal, progress }: JobTurn): Promise<{ delivered: number; unanswered: number }> {
  let done = 0
  return deliverAll(signal, {
    ...{ takeDue, deliver, noteFailure },
    bytes: ({ bytes }) => bytes,
    note: () => progress(++done),
  })
}
