import type { H3Event } from 'h3'
import { now, nowText } from '../clock'
import { database } from '../database'
import { Refusal } from '../http/refusal'
import { sameCode } from './one-time-code'
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

/** Somebody who may come in, and the epoch of sessions that begin now. */
export interface LetIn { id: string; epoch: number }

/**
 * Compares a password. Wrong ones count by user name, also for names that do not exist, and each costs a longer wait
 * than the one before.
 * @throws Refusal 401 `wrong-password`, 429 `too-many-tries` with `retry-after`.
 */
export async function letInByPassword(credentials: { userName: string; password: string }): Promise<LetIn> {
  const sql = await database()
  const key = userKey(credentials.userName)
  const tries = await countTry(key)
  const [person] = await sql.query<{ id: string; password_hash: string | null; session_epoch: number }>(
    'SELECT id, password_hash, session_epoch FROM person WHERE user_key = $1 AND active', [key])
  nobody ??= hashPassword(crypto.randomUUID())
  const right = await verifyPassword(person?.password_hash ?? await nobody, credentials.password) && person?.password_hash !== null
  if (!person || !right) {
    const wait = waitAfter(tries)
    throw new Refusal(401, 'wrong-password', 'The user name and the password do not go together.', [],
      wait ? { 'retry-after': String(Math.ceil(wait / 1000)) } : {})
  }
  await sql.query('DELETE FROM sign_in_failure WHERE user_key = $1', [key])
  await sql.query('UPDATE person SET last_seen_at = $2 WHERE id = $1', [person.id, nowText()])
  return { id: person.id, epoch: person.session_epoch }
}

async function sealSession(event: H3Event, { id, epoch }: LetIn): Promise<string> {
  await replaceUserSession(event, { secure: { person: id, epoch } })
  return id
}

/** Signs a person in: seals a session cookie. @throws as {@link letInByPassword}. */
export const signIn = async (event: H3Event, credentials: { userName: string; password: string }): Promise<string> => sealSession(event, await letInByPassword(credentials))

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

/**
 * Comes in by a one-time code and chooses a password. The code is gone with it; other sessions end.
 * @throws Refusal 401 `wrong-one-time-code` (also when it is too old), 429 `too-many-tries`.
 */
export async function letInByCode({ userName, code, password }: { userName: string; code: string; password: string }): Promise<LetIn> {
  const sql = await database()
  const key = userKey(userName)
  const tries = await countTry(key)
  const [person] = await sql.query<{ id: string; code_hash: string | null; code_until: string | null }>('SELECT id, code_hash, code_until FROM person WHERE user_key = $1 AND active', [key])
  if (!person?.code_hash || !sameCode(code, person.code_hash) || Date.parse(person.code_until!) <= now()) {
    const wait = waitAfter(tries)
    throw new Refusal(401, 'wrong-one-time-code', 'This code does not let this person in, or no longer.', [{ code: 'wrong-one-time-code', message: '', at: 'body/code' }],
      wait ? { 'retry-after': String(Math.ceil(wait / 1000)) } : {})
  }
  const hash = await hashPassword(password)
  // The hash stands in the condition: of two who use the code at once, one comes in.
  const [changed] = await sql.query<{ epoch: number }>(
    `UPDATE person SET password_hash = $3, code_hash = NULL, code_until = NULL, session_epoch = session_epoch + 1, last_seen_at = $4 WHERE id = $1 AND code_hash = $2 RETURNING session_epoch AS epoch`,
    [person.id, person.code_hash, hash, nowText()])
  if (!changed) throw new Refusal(401, 'wrong-one-time-code', 'This code was just used.')
  await sql.query('DELETE FROM sign_in_failure WHERE user_key = $1', [key])
  return { id: person.id, epoch: changed.epoch }
}

/** The same with a session cookie. */
export const signInByCode = async (event: H3Event, given: { userName: string; code: string; password: string }): Promise<string> => sealSession(event, await letInByCode(given))
