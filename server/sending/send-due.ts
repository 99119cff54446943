import { MEDIA_TYPES } from '#core/exchange/document-files'
import type { DocumentFormat } from '#core/exchange/value-document'
import { nowText } from '../clock'
import { database } from '../database'
import { logFailure } from '../outside'
import type { JobTurn } from '../queue/turn'
import { deliverAll, deliveryProblem, firstPause, nextTry } from '../repository/delivering'
import { repositoryAt, type Answer } from '../repository/repository'
import { takeAnswer } from './take-answer'
import { documentBytes } from './write-document'

export interface DueSending {
  id: string
  recipient: string
  address: string
  key: string | null
  format: DocumentFormat
  document: string
  /** Was it on its way before this turn? Then the recipient may have it. */
  isUnsure: boolean
  isWhole: boolean
  tries: number
}

/** Is there something to send on? */
export async function areSendingsDue(): Promise<boolean> {
  const sql = await database()
  return (await sql.query('SELECT 1 FROM sending WHERE next_at <= $1 LIMIT 1', [nowText()])).length > 0
}

/**
 * Takes one that is due. It becomes *sending* before the recipient hears of it: should this process die in between,
 * the next one asks the recipient first.
 */
async function takeDue(): Promise<DueSending | undefined> {
  const sql = await database()
  const [due] = await sql.query<DueSending>(
    `WITH due AS (SELECT id, state FROM sending WHERE next_at <= $1 ORDER BY next_at, id LIMIT 1 FOR UPDATE SKIP LOCKED)
     UPDATE sending s SET state = 'sending', tries = s.tries + 1, next_at = $2
     FROM due, recipient r WHERE s.id = due.id AND r.id = s.recipient
     RETURNING s.id, s.recipient, r.address, r.key, s.format, s.document, due.state = 'sending' AS "isUnsure",
       s.is_whole AS "isWhole", s.tries`,
    [nowText(), firstPause()],
  )
  return due
}

async function answerOf(due: DueSending, signal: AbortSignal): Promise<Answer> {
  const repository = repositoryAt(due.address, due.key)
  const known = due.isUnsure ? await repository.lookUp(due.id, signal) : null
  return (
    known ??
    repository.deliver(
      {
        reference: due.id,
        mediaType: MEDIA_TYPES[due.format],
        body: documentBytes(due.format, due.document),
        isWhole: due.isWhole,
      },
      signal,
    )
  )
}

/** It may have been taken: the next try asks first. */
async function noteFailure({ id, tries }: DueSending, error: unknown): Promise<void> {
  logFailure(`Sending ${id} could not be delivered`, error)
  const sql = await database()
  await sql.query(
    `UPDATE sending SET problem = $2, next_at = $3::timestamptz, state = CASE WHEN $3::timestamptz IS NULL THEN 'failed' ELSE 'sending' END
     WHERE id = $1 AND next_at IS NOT NULL`,
    [id, deliveryProblem(error), nextTry(tries)],
  )
}

/**
 * Delivers the reports that are due, one after the other, each once. What is not answered comes again later: 2, 4, 8, …
 * minutes.
 */
export function sendDue({ signal, progress }: JobTurn): Promise<{ delivered: number; unanswered: number }> {
  let done = 0
  return deliverAll(signal, {
    takeDue,
    deliver: async (due, until) => takeAnswer(due, await answerOf(due, until)),
    noteFailure,
    note: () => progress(++done),
  })
}
