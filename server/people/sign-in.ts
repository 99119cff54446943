import { randomUUID } from 'node:crypto'
import type { H3Event } from 'h3'
import { hashToken } from '../access/access'
import { addressOf, inTurn, limitTries, type Try } from '../access/tries'
import { now, nowText } from '../clock'
import { database } from '../database'
import { Refusal } from '../refusal'
import { sameCode } from './one-time-code'

/** User names ignore case and the spaces that a phone's keyboard adds. */
export const userKey = (userName: string): string =>
  userName.trim().toLocaleLowerCase('und').normalize('NFKC')

/**
 * The hash to compare with when there is no such person, so that the answer takes equally long. Made once
 * from a random password.
 */
let nobody: Promise<string> | undefined

/** Somebody who may come in, and the epoch of sessions that begin now. */
export interface LetIn {
  id: string
  epoch: number
}

/** From where somebody signs in: an address, and the device where it is one. */
export type Source = Pick<Try, 'address' | 'device'>
export const sourceOf = (event: H3Event): Source => ({ address: addressOf(event) })

/** Of an address or device only the hash is stored: enough to know it again. */
const sourceKey = ({ address, device }: Source): string =>
  hashToken(device ? `device ${device}` : `address ${address}`)

/** Has somebody with this name come in from here before? */
async function isKnownSource(key: string, source: Source): Promise<boolean> {
  const sql = await database()
  return (
    (
      await sql.query(
        'SELECT 1 FROM known_source k JOIN person p ON p.id = k.person WHERE p.user_key = $1 AND k.source = $2',
        [key, sourceKey(source)],
      )
    ).length > 0
  )
}

async function rememberSource(person: string, source: Source): Promise<void> {
  const sql = await database()
  await sql.query(
    'INSERT INTO known_source (person, source, last_at) VALUES ($1, $2, $3) ON CONFLICT (person, source) DO UPDATE SET last_at = EXCLUDED.last_at',
    [person, sourceKey(source), nowText()],
  )
}

/** Limits the tries at a name, and remembers from where the right one came. */
async function letIn(
  userName: string,
  source: Source,
  work: (key: string) => Promise<LetIn>,
): Promise<LetIn> {
  const key = userKey(userName)
  const person = await limitTries(
    { what: `name ${key}`, ...source, known: await isKnownSource(key, source) },
    () => work(key),
  )
  await rememberSource(person.id, source)
  return person
}

/**
 * Compares a password. Wrong ones count by user name and source, also for names that do not exist, and each
 * costs a longer wait than the one before.
 * @throws Refusal 401 `wrong-password`, 429 `too-many-tries` with `retry-after`.
 */
export const letInByPassword = (
  { userName, password }: { userName: string; password: string },
  source: Source,
): Promise<LetIn> =>
  letIn(userName, source, async key => {
    const sql = await database()
    const [person] = await sql.query<{ id: string; password_hash: string | null; session_epoch: number }>(
      'SELECT id, password_hash, session_epoch FROM person WHERE user_key = $1 AND active',
      [key],
    )
    nobody ??= hashPassword(crypto.randomUUID())
    const hash = person?.password_hash ?? (await nobody)
    const right = (await inTurn(() => verifyPassword(hash, password))) && person?.password_hash !== null
    if (!person || !right)
      throw new Refusal(401, 'wrong-password', 'The user name and the password do not go together.')
    await sql.query('UPDATE person SET last_seen_at = $2 WHERE id = $1', [person.id, nowText()])
    return { id: person.id, epoch: person.session_epoch }
  })

/** How long a session of a browser lasts without signing in again, in hours: the cookie's own time. */
const SESSION_HOURS = 12

/** Begins a session: a row that ends when the person signs out, and a sealed cookie that names it. */
async function sealSession(event: H3Event, { id, epoch }: LetIn): Promise<string> {
  const session = randomUUID()
  const sql = await database()
  await sql.query('DELETE FROM web_session WHERE made_at < $1::timestamptz - make_interval(hours => $2)', [
    nowText(),
    SESSION_HOURS * 2,
  ])
  await sql.query('INSERT INTO web_session (id, person, epoch, made_at) VALUES ($1, $2, $3, $4)', [
    session,
    id,
    epoch,
    nowText(),
  ])
  await replaceUserSession(event, { secure: { person: id, epoch, session } })
  return id
}

/** Signs a person in: seals a session cookie. @throws as {@link letInByPassword}. */
export const signIn = async (
  event: H3Event,
  credentials: { userName: string; password: string },
): Promise<string> => sealSession(event, await letInByPassword(credentials, sourceOf(event)))

/** Ends the session of a browser; copies of its cookie stop working too. */
export async function signOut(event: H3Event): Promise<void> {
  const { secure } = await getUserSession(event)
  const sql = await database()
  if (secure) await sql.query('DELETE FROM web_session WHERE id = $1', [secure.session])
  await clearUserSession(event)
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
export const letInByCode = (
  { userName, code, password }: { userName: string; code: string; password: string },
  source: Source,
): Promise<LetIn> =>
  letIn(userName, source, async key => {
    const sql = await database()
    const [person] = await sql.query<{ id: string; code_hash: string | null; code_until: string | null }>(
      'SELECT id, code_hash, code_until FROM person WHERE user_key = $1 AND active',
      [key],
    )
    if (!person?.code_hash || !sameCode(code, person.code_hash) || Date.parse(person.code_until!) <= now()) {
      throw new Refusal(401, 'wrong-one-time-code', 'This code does not let this person in, or no longer.', [
        { code: 'wrong-one-time-code', message: '', at: 'body/code' },
      ])
    }
    const hash = await inTurn(() => hashPassword(password))
    // The hash stands in the condition: of two who use the code at once, one comes in.
    const [changed] = await sql.query<{ epoch: number }>(
      `UPDATE person SET password_hash = $3, code_hash = NULL, code_until = NULL, session_epoch = session_epoch + 1, last_seen_at = $4 WHERE id = $1 AND code_hash = $2 RETURNING session_epoch AS epoch`,
      [person.id, person.code_hash, hash, nowText()],
    )
    if (!changed) throw new Refusal(401, 'wrong-one-time-code', 'This code was just used.')
    return { id: person.id, epoch: changed.epoch }
  })

/** The same with a session cookie. */
export const signInByCode = async (
  event: H3Event,
  given: { userName: string; code: string; password: string },
): Promise<string> => sealSession(event, await letInByCode(given, sourceOf(event)))
