import type { NudgeState } from '#core/contract/nudges'
import type { JobResult } from '#core/contract/jobs'
import { afterQuiet } from '#core/nudge/quiet-hours'
import { now, nowText } from '../clock'
import { database } from '../database'
import { messageGateway, type MessageGateway, type TextMessage } from '../messages/gateway'
import { logFailure } from '../outside'
import type { JobTurn } from '../queue/turn'
import { receivedOf } from '../reports/place'
import { settings } from '../settings'
import { nudgeTimes, quietHoursOf } from './rules'

const MINUTE = 60_000
/** How long a gateway may take for one answer. */
const ANSWER_MS = 10_000
/** How many are sent at the same time. */
const AT_ONCE = 5
/** How often one is tried, and how long the first pause is; each further one is twice as long. */
const MOST_TRIES = 6
const FIRST_PAUSE_MS = 5 * MINUTE
/** How soon a delivery is asked for, and after how long it is no longer expected. */
const FIRST_LOOK_MS = MINUTE
const LONGEST_DELIVERY_MS = 3 * 24 * 60 * MINUTE

interface Due extends TextMessage {
  state: 'waiting' | 'sending' | 'taken'
  tries: number
  takenAt: string | null
  /** The report came in meanwhile, or the number is no longer that facility's. */
  isNeedless: boolean
}

/** What becomes of a reminder. */
interface Outcome {
  state: NudgeState
  /** Milliseconds from now until it is looked at again; null when it has ended. */
  again: number | null
  problem?: string | null
}

const pause = (tries: number): number => FIRST_PAUSE_MS * 2 ** (tries - 1)

/** Is there a reminder to send, or a delivery to ask for? */
export async function areNudgesDue(): Promise<boolean> {
  if (!messageGateway()) return false
  const sql = await database()
  return (await sql.query('SELECT 1 FROM nudge WHERE next_at <= $1 LIMIT 1', [nowText()])).length > 0
}

/**
 * Takes some that are due. Those that wait become *sending* before the gateway hears of them: should this process
 * die in between, the next one asks the gateway first.
 */
async function takeDue(): Promise<Due[]> {
  const sql = await database()
  return sql.query<Due>(
    `WITH due AS (SELECT id, state FROM nudge WHERE next_at <= $1 ORDER BY next_at, id LIMIT ${AT_ONCE} FOR UPDATE SKIP LOCKED)
     UPDATE nudge n SET state = CASE WHEN n.state = 'waiting' THEN 'sending' ELSE n.state END,
       tries = n.tries + CASE WHEN n.state = 'taken' THEN 0 ELSE 1 END,
       -- Another look at it, should nobody say what became of this one.
       next_at = $2
     FROM due WHERE n.id = due.id
     RETURNING n.id AS reference, n.phone, n.text, due.state, n.tries, n.taken_at AS "takenAt",
       EXISTS (SELECT 1 FROM report p WHERE p.round = n.round AND p.unit = n.unit AND ${receivedOf('p')})
         OR EXISTS (SELECT 1 FROM facility_contact c WHERE c.id = n.contact AND c.removed_at IS NOT NULL) AS "isNeedless"`,
    [nowText(), new Date(now() + FIRST_PAUSE_MS).toISOString()],
  )
}

async function note(reference: string, { state, again, problem = null }: Outcome): Promise<void> {
  const sql = await database()
  await sql.query(
    `UPDATE nudge SET state = $2, problem = $4, next_at = $3::timestamptz,
       taken_at = CASE WHEN $2 = 'taken' THEN coalesce(taken_at, $5) ELSE taken_at END,
       ended_at = CASE WHEN $3::timestamptz IS NULL THEN $5::timestamptz END
     WHERE id = $1 AND next_at IS NOT NULL`,
    [reference, state, again === null ? null : new Date(now() + again).toISOString(), problem, nowText()],
  )
}

/** What became of a message that the gateway has. */
async function deliveryOf(gateway: MessageGateway, due: Due, signal: AbortSignal): Promise<Outcome | null> {
  const status = await gateway.lookUp(due.reference, signal)
  const since = now() - Date.parse(due.takenAt ?? nowText())
  switch (status) {
    case 'delivered':
      return { state: 'delivered', again: null }
    case 'notDelivered':
      return { state: 'notDelivered', again: null }
    case 'taken':
      return since > LONGEST_DELIVERY_MS
        ? { state: 'notDelivered', again: null, problem: 'no-word' }
        : { state: 'taken', again: Math.max(FIRST_LOOK_MS, since) }
    case 'unknown':
      return null
  }
}

async function outcomeOf(gateway: MessageGateway, due: Due, signal: AbortSignal): Promise<Outcome> {
  if (due.state !== 'waiting') {
    const known = await deliveryOf(gateway, due, signal)
    if (known) return known
    // A gateway that forgot what it took: it is not sent again, somebody may have read it.
    if (due.state === 'taken') return { state: 'notDelivered', again: null, problem: 'forgotten' }
  }
  if (due.isNeedless) return { state: 'needless', again: null }
  const refused = await gateway.send(due, signal)
  return refused === null
    ? { state: 'taken', again: FIRST_LOOK_MS }
    : { state: 'refused', again: null, problem: refused }
}

/** Sends one, or asks what became of it. @returns whether the gateway answered */
async function handle(gateway: MessageGateway, due: Due): Promise<boolean> {
  try {
    await note(due.reference, await outcomeOf(gateway, due, AbortSignal.timeout(ANSWER_MS)))
    return true
  } catch (error) {
    // The number stays out of the log.
    logFailure(`Reminder ${due.reference} could not be handled`, error)
    const problem = error instanceof Error && error.name === 'TimeoutError' ? 'no-answer' : 'gateway'
    const isGivenUp = due.state !== 'taken' && due.tries >= MOST_TRIES
    await note(
      due.reference,
      isGivenUp
        ? { state: 'failed', again: null, problem }
        : // It may have been taken: the next try asks first.
          {
            state: due.state === 'taken' ? 'taken' : 'sending',
            again: pause(Math.max(1, due.tries)),
            problem,
          },
    )
    return false
  }
}

/** In the quiet hours what waits is moved to their end. */
async function postponeInQuietHours(): Promise<void> {
  const sql = await database()
  const { timeZone } = await settings(sql)
  const ends = afterQuiet(now(), quietHoursOf(await nudgeTimes(sql)), timeZone)
  if (ends <= now()) return
  await sql.query(`UPDATE nudge SET next_at = $2 WHERE state IN ('waiting', 'sending') AND next_at <= $1`, [
    nowText(),
    new Date(ends).toISOString(),
  ])
}

/**
 * Sends the reminders that are due, each once, and asks what became of those that were sent. A gateway that does
 * not answer a whole handful is left alone until the next time.
 */
export async function sendDueNudges({ signal, progress }: JobTurn): Promise<JobResult> {
  const gateway = messageGateway()
  let handled = 0
  let unanswered = 0
  await postponeInQuietHours()
  while (gateway) {
    signal.throwIfAborted()
    const due = await takeDue()
    if (!due.length) break
    const answered = await Promise.all(due.map(one => handle(gateway, one)))
    handled += due.length
    unanswered += answered.filter(is => !is).length
    progress(handled)
    if (!answered.some(Boolean)) break
  }
  return { numbers: { handled, unanswered }, details: [] }
}
