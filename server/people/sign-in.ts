import type { H3Event } from 'h3'
import { now, nowText } from '../clock'
import { database } from '../database'
import { Refusal } from '../http/refusal'
import { waitAfter } from './password-wait'

/** User names ignore case and the spaces that a phone's keyboard adds. */
export const userKey = (userName: string): string => userName.trim().toLocaleLowerCase('und').normalize('NFKC')

/** Compared against when there is no such person, so that the answer takes as long. Made once, of nobody's password. */
let nobody: Promise<string> | undefined

/**
 * Counts a try before it is looked at, and only forgets it when it was right: so that many tries at once do not all
 * slip through while the first is still being compared.
 * @returns how many tries in a row there have been.
 * @throws Refusal 429 `too-many-tries` with `retry-after`, while the wait after the last one is not over.
 */
async function countTry(key: string): Promise<number> {
  const sql = await database()
  return sql.transaction(async (tx) => {
    await tx.query('DELETE FROM sign_in_failure WHERE last_at < $1::timestamptz - interval \'1 day\'', [nowText()])
    const [before] = await tx.query<{ failures: number; last_at: string }>('SELECT failures, last_at FROM sign_in_failure WHERE user_key = $1 FOR UPDATE', [key])
    const left = before ? Date.parse(before.last_at) + waitAfter(before.failures) - now() : 0
    if (left > 0) throw tooMany(left)
    const [counted] = await tx.query<{ failures: number }>(
      `INSERT INTO sign_in_failure (user_key, failures, last_at) VALUES ($1, 1, $2)
       ON CONFLICT (user_key) DO UPDATE SET failures = sign_in_failure.failures + 1, last_at = EXCLUDED.last_at
       RETURNING failures`, [key, nowText()])
    return counted!.failures
  })
}

/**
 * Signs a person in: seals a session cookie. Wrong passwords count by user name, also for names that do not exist,
 * and each costs a longer wait than the one before.
 * @throws Refusal 401 `wrong-password`, 429 `too-many-tries` with `retry-after`.
 */
export async function signIn(event: H3Event, credentials: { userName: string; password: string }): Promise<string> {
  const sql = await database()
  const key = userKey(credentials.userName)
  const tries = await countTry(key)
  const [person] = await sql.query<{ id: string; password_hash: string; session_epoch: number }>(
    'SELECT id, password_hash, session_epoch FROM person WHERE user_key = $1 AND active', [key])
  nobody ??= hashPassword(crypto.randomUUID())
  const right = await verifyPassword(person?.password_hash ?? await nobody, credentials.password)
  if (!person || !right) {
    const wait = waitAfter(tries)
    throw new Refusal(401, 'wrong-password', 'The user name and the password do not go together.', [],
      wait ? { 'retry-after': String(Math.ceil(wait / 1000)) } : {})
  }
  await sql.query('DELETE FROM sign_in_failure WHERE user_key = $1', [key])
  await sql.query('UPDATE person SET last_seen_at = $2 WHERE id = $1', [person.id, nowText()])
  await replaceUserSession(event, { secure: { person: person.id, epoch: person.session_epoch } })
  return person.id
}

function tooMany(left: number): Refusal {
  const seconds = Math.ceil(left / 1000)
  return new Refusal(429, 'too-many-tries', `Too many wrong passwords. Try again in ${seconds} seconds.`,
    [{ code: 'too-many-tries', message: '', values: { seconds } }], { 'retry-after': String(seconds) })
}

/** Ends every session of a person, on every device. */
export async function signOutEverywhere(person: string): Promise<void> {
  const sql = await database()
  await sql.query('UPDATE person SET session_epoch = session_epoch + 1 WHERE id = $1', [person])
}
