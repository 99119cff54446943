import { v7 as uuid } from 'uuid'
import type { JobKind, JobResult } from '#core/contract/jobs'
import { nowText } from '../clock'
import { database, type Database, type Sql } from '../database'
import { lockJobs } from '../database/locks'

/** How long a process is taken for alive after it last said so. It says so much more often. */
export const LEASE_SECONDS = 30
/** How often a job is begun before it is given up. */
export const MOST_TRIES = 3
/** How long a job waits after its first failure, in seconds; each further one doubles it. */
const FIRST_WAIT_SECONDS = 30

/** A job that this process took. */
export interface TakenJob {
  id: string
  kind: JobKind
}

/** Who asks for a job, and for which time of its schedule. */
interface Asked {
  person?: string
  slot?: Date
}

/**
 * Asks for a job, in the transaction that makes it necessary: when that is taken back, so is the job. One of
 * the kind that already waits is enough, and is answered; it cannot begin before the transaction has ended, so
 * that it sees what the transaction wrote.
 *
 * @returns its identifier
 * @example await askForJob(tx, 'judgeAgain')
 */
export async function askForJob(sql: Sql, kind: JobKind, { person, slot }: Asked = {}): Promise<string> {
  const [waiting] = await sql.query<{ id: string }>(
    `SELECT id FROM job WHERE kind = $1 AND state = 'waiting' ORDER BY not_before, id LIMIT 1 FOR UPDATE`,
    [kind],
  )
  if (waiting) {
    // A person does not wait for the end of the pause after a failure.
    if (person) await sql.query('UPDATE job SET not_before = clock_timestamp() WHERE id = $1', [waiting.id])
    return waiting.id
  }
  const id = uuid()
  await sql.query(
    `INSERT INTO job (id, kind, asked_by, asked_at, slot) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (kind, slot) DO NOTHING`,
    [id, kind, person ?? null, nowText(), slot?.toISOString() ?? null],
  )
  return id
}

/** Ends the turn of processes that are dead: their jobs wait again, or end when that happened too often. */
const GIVE_BACK = `UPDATE job SET runner = NULL,
    state = CASE WHEN stop_asked_at IS NOT NULL THEN 'stopped' WHEN tries >= ${MOST_TRIES} THEN 'failed' ELSE 'waiting' END,
    ended_at = CASE WHEN stop_asked_at IS NOT NULL OR tries >= ${MOST_TRIES} THEN $1::timestamptz END, problem = 'died'
  WHERE state = 'running' AND alive_until < clock_timestamp()`

const TAKE = `UPDATE job SET state = 'running', runner = $1, tries = tries + 1, done = 0, total = NULL, started_at = $2,
    alive_until = clock_timestamp() + make_interval(secs => ${LEASE_SECONDS})
  WHERE id = (
    SELECT next.id FROM unnest($3::text[]) AS known (kind)
      CROSS JOIN LATERAL (SELECT id, not_before FROM job
        WHERE kind = known.kind AND state = 'waiting' AND not_before <= clock_timestamp() ORDER BY not_before, id LIMIT 1 FOR UPDATE SKIP LOCKED) next
    WHERE NOT EXISTS (SELECT 1 FROM job WHERE kind = known.kind AND state = 'running')
    ORDER BY next.not_before, next.id LIMIT 1)
  RETURNING id, kind`

/**
 * Takes the job that waits longest, of those kinds of which none runs. Kinds that this version does not know
 * are left to one that does.
 * @param runner this process
 */
export async function takeJob(
  sql: Database,
  runner: string,
  kinds: readonly JobKind[],
): Promise<TakenJob | undefined> {
  const [due] = await sql.query(
    `SELECT 1 FROM job WHERE state = 'waiting' AND not_before <= clock_timestamp() OR state = 'running' AND alive_until < clock_timestamp() LIMIT 1`,
  )
  if (!due) return undefined
  return sql.transaction(async tx => {
    await lockJobs(tx)
    await tx.query(GIVE_BACK, [nowText()])
    const [job] = await tx.query<TakenJob>(TAKE, [runner, nowText(), kinds])
    return job
  })
}

/** What is true of the row only while this process runs it. */
const OWN = `id = $1 AND runner = $2 AND state = 'running'`

/**
 * Says that this process is alive and how far it is.
 * @returns whether somebody asked the job to stop; null when it is no longer this process's
 */
export async function keepJob(
  id: string,
  runner: string,
  { done, total }: { done: number; total: number | null },
): Promise<{ isStopAsked: boolean } | null> {
  const sql = await database()
  const [row] = await sql.query<{ isStopAsked: boolean }>(
    `UPDATE job SET alive_until = clock_timestamp() + make_interval(secs => ${LEASE_SECONDS}), done = $3, total = $4
     WHERE ${OWN} RETURNING stop_asked_at IS NOT NULL AS "isStopAsked"`,
    [id, runner, done, total],
  )
  return row ?? null
}

/** How a turn of a job ended. `interrupted`: the process stops, and another one goes on. */
export type TurnEnd =
  | { end: 'done'; result: JobResult; done: number; total: number | null }
  | { end: 'stopped' | 'interrupted' }
  | { end: 'failed'; problem: string }

/** Writes how a turn ended. Changes nothing when the job is no longer this process's. */
export async function endTurn(id: string, runner: string, turn: TurnEnd): Promise<void> {
  const sql = await database()
  const at = nowText()
  switch (turn.end) {
    case 'done':
      await sql.query(
        `UPDATE job SET state = 'done', ended_at = $3, result = $4, done = $5, total = $6, problem = NULL WHERE ${OWN}`,
        [id, runner, at, turn.result, turn.done, turn.total],
      )
      return
    case 'stopped':
      await sql.query(`UPDATE job SET state = 'stopped', ended_at = $3 WHERE ${OWN}`, [id, runner, at])
      return
    case 'interrupted':
      await sql.query(`UPDATE job SET state = 'waiting', runner = NULL, tries = tries - 1 WHERE ${OWN}`, [
        id,
        runner,
      ])
      return
    case 'failed':
      await sql.query(
        `UPDATE job SET runner = NULL, problem = $4,
           state = CASE WHEN stop_asked_at IS NOT NULL THEN 'stopped' WHEN tries >= ${MOST_TRIES} THEN 'failed' ELSE 'waiting' END,
           ended_at = CASE WHEN stop_asked_at IS NOT NULL OR tries >= ${MOST_TRIES} THEN $3::timestamptz END,
           not_before = clock_timestamp() + make_interval(secs => ${FIRST_WAIT_SECONDS} * power(2, tries - 1))
         WHERE ${OWN}`,
        [id, runner, at, turn.problem],
      )
  }
}

/**
 * Forgets jobs that ended ninety days ago. What the installation asked for by itself, and went well, tells
 * nothing after two days. @returns how many
 */
export async function forgetOldJobs(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query(
    `DELETE FROM job WHERE ended_at < $1::timestamptz - interval '90 days'
       OR state = 'done' AND asked_by IS NULL AND ended_at < $1::timestamptz - interval '2 days' RETURNING id`,
    [nowText()],
  )
  return gone.length
}
