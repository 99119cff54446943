import { getRequestHeader, type H3Event } from 'h3'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { Refusal, outsideBranch } from '../refusal'
import { accessColumns, hashToken, type Access } from './access-row'
import { holds } from './branch'
import { accessOfToken, bearerOf, isToken } from './token'

declare module '#auth-utils' {
  interface SecureSessionData {
    person: string
    epoch: number
    /** Which session: it ends when the person signs out. */
    session: string
  }
}

export { hashToken, type Access }

export const deviceBlocked = () =>
  new Refusal(403, 'device-blocked', 'This device was blocked by the district office.')

/** For how long a blocked device brings what waited on it, from its first request on. */
const LET_IN_MS = 60 * 60_000

/** May a blocked device bring what waited on it? Only if the officer said so, and only once. */
export const isLetIn = ({ letsIn, letInAt }: { letsIn: boolean; letInAt: string | null }): boolean =>
  letsIn && (letInAt === null || now() - Date.parse(letInAt) < LET_IN_MS)

/** How exactly *last seen* is kept. */
const SEEN_EVERY = 5 * 60_000
async function noteSeen(sql: Pick<Sql, 'query'>, person: string, seen: string | null): Promise<void> {
  if (!seen || now() - Date.parse(seen) > SEEN_EVERY)
    await sql.query('UPDATE person SET last_seen_at = $2 WHERE id = $1', [person, nowText()])
}

/** The requests by which a blocked device may bring what waited on it, once. */
const isSending = (path: string): boolean => path === '/api/desk/send' || path.startsWith('/api/desk/files/')

/**
 * The person at a device. @throws Refusal 403 `device-blocked`, unless the device may still send what is
 * pending.
 */
async function accessAtDevice(event: H3Event, session: string): Promise<Access | null> {
  const sql = await database()
  const [row] = await sql.query<
    Access & {
      device: string
      blocked: boolean
      letsIn: boolean
      letInAt: string | null
      seen: string | null
    }
  >(
    // The session of a person at a device is worth nothing without the token of that device.
    `SELECT ${accessColumns('p')}, d.id AS device, d.blocked_at IS NOT NULL AS blocked, d.lets_in AS "letsIn", d.let_in_at AS "letInAt", p.last_seen_at AS seen
     FROM desk_session s JOIN person p ON p.id = s.person AND p.session_epoch = s.epoch AND p.active JOIN device d ON d.id = s.device AND d.token_hash = $2 WHERE s.token_hash = $1`,
    [hashToken(session), hashToken(getRequestHeader(event, 'x-lantern-device') ?? '')],
  )
  if (!row) return null
  const { blocked, letsIn, letInAt, seen, ...access } = row
  if (blocked && !(isSending(event.path) && isLetIn({ letsIn, letInAt }))) throw deviceBlocked()
  await noteSeen(sql, access.id, seen)
  return access
}

/**
 * The person behind a request, or null when nobody is signed in, the session ended, or the person was
 * switched off. Pages send a cookie, devices and programs a bearer token.
 */
export async function accessOf(event: H3Event): Promise<Access | null> {
  const secret = bearerOf(event)
  if (secret !== null)
    return isToken(secret) ? accessOfToken(await database(), secret) : accessAtDevice(event, secret)
  const { secure } = await getUserSession(event)
  if (!secure?.session) return null
  const sql = await database()
  const [person] = await sql.query<Access & { seen: string | null }>(
    `SELECT ${accessColumns('p')}, p.last_seen_at AS seen FROM person p
     WHERE p.id = $1 AND p.session_epoch = $2 AND p.active
       AND EXISTS (SELECT 1 FROM web_session s WHERE s.id = $3 AND s.person = $1)`,
    [secure.person, secure.epoch, secure.session],
  )
  if (!person) return null
  const { seen, ...access } = person
  await noteSeen(sql, access.id, seen)
  return access
}

/** The access of a person, for what is done in their name. @param tx inside a transaction. */
export async function accessById(id: string, tx?: Pick<Sql, 'query'>): Promise<Access> {
  const sql = tx ?? (await database())
  const [person] = await sql.query<Access>(`SELECT ${accessColumns('p')} FROM person p WHERE p.id = $1`, [id])
  return person!
}

/** @throws Refusal 403 when the unit of the path is outside the person's branch. */
export function mustHold(access: Access, path: readonly string[]): void {
  if (!holds(access.branch, path)) throw outsideBranch()
}

/** For what is the whole installation's. @throws Refusal 403 for who sees a part of the tree only */
export function mustHoldAll(access: Access): void {
  if (access.branch !== null) throw outsideBranch()
}

export const notShared = () => new Refusal(403, 'not-shared', 'This is not shared with you.')

/** Does a person see reports of a dataset? */
export const seesDataset = ({ sharing }: Pick<Access, 'sharing'>, dataset: string): boolean =>
  !sharing?.datasets || sharing.datasets.includes(dataset)

/** Does a person see the reports of a round, named as `monthly_summary~2026-10`? */
export const seesRound = (access: Pick<Access, 'sharing'>, round: string): boolean =>
  seesDataset(access, round.split('~')[0]!)

/**
 * For queries: the condition that a round, named as `monthly_summary~2026-10`, is of one of some datasets.
 * @param datasets the parameter with those of {@link datasetsSeen}
 */
export const ofDatasets = (round: string, datasets: string): string =>
  `(${datasets}::text[] IS NULL OR split_part(${round}, '~', 1) = ANY(${datasets}))`

/** For queries: the datasets that a person sees; null for all of them. */
export const datasetsSeen = ({ sharing }: Pick<Access, 'sharing'>): string[] | null =>
  sharing?.datasets ?? null

/**
 * For queries: the condition that a report `alias` is one that a person who sees only their own may see: they
 * answered in it.
 */
export const filledBy = (report: string, person: string): string =>
  `EXISTS (SELECT 1 FROM report_event own WHERE own.report = ${report}.id AND own.person = ${person})`

/** For queries: a person has filled an entry of a case `c`. */
export const enteredBy = (caseRow: string, person: string): string =>
  `EXISTS (SELECT 1 FROM case_entry own WHERE own.case_id = ${caseRow}.id AND own.person = ${person})`

/**
 * For queries: the codes that a path inside a branch holds, to bound every list on the server (`path @>
 * $n::text[]`).
 */
export const branchPath = (branch: string | null): string[] => (branch === null ? [] : [branch])

/**
 * The unit that a list is for: the one asked for, which must lie inside the person's branch, else the branch
 * itself.
 */
export async function unitAsked(
  access: Access,
  asked: string | undefined,
): Promise<{ code: string; name: string; level: number; path: string[] }> {
  const code = asked ?? access.branch
  const sql = await database()
  const [unit] = await sql.query<{ code: string; name: string; level: number; path: string[] }>(
    `SELECT code, name, level, path FROM unit_latest
     WHERE ($1::text IS NULL AND parent IS NULL) OR code = $1 ORDER BY code LIMIT 1`,
    [code],
  )
  if (!unit) throw new Refusal(404, 'no-unit', 'There is no such organisation unit.')
  mustHold(access, unit.path)
  return unit
}
