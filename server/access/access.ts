import type { H3Event } from 'h3'
import type { Role } from '#core/contract/permission'
import { database } from '../database'
import { Refusal, outsideBranch } from '../http/refusal'

declare module '#auth-utils' {
  interface SecureSessionData {
    person: string
    epoch: number
  }
}

/** The person behind a request, read from the database each time: what an administrator takes away is gone at once. */
export interface Access {
  id: string
  userName: string
  displayName: string
  role: Role
  /** Code of the unit at the top of the person's branch; null is the whole tree. */
  branch: string | null
}

/** Who asks, or null when nobody is signed in, the session was ended, or the person was switched off. */
export async function accessOf(event: H3Event): Promise<Access | null> {
  const { secure } = await getUserSession(event)
  if (!secure) return null
  const sql = await database()
  const [person] = await sql.query<Access>(
    `SELECT id, user_name AS "userName", display_name AS "displayName", role, branch
     FROM person WHERE id = $1 AND session_epoch = $2 AND active`, [secure.person, secure.epoch])
  return person ?? null
}

/** Does a branch hold the unit of this path? The path is dated: give the one of the days that matter. */
export const holds = (branch: string | null, path: string): boolean => branch === null || path.split('.').includes(branch)

/** @throws Refusal 403 when the unit of the path is outside the person's branch. */
export function mustHold(access: Access, path: string): void {
  if (!holds(access.branch, path)) throw outsideBranch()
}

/**
 * For queries: the pattern that paths inside a branch match, to bound every list on the server
 * (`path ~ $n::lquery`).
 */
export const branchPattern = (branch: string | null): string => (branch === null ? '*' : `*.${branch}.*`)

/** The unit that a list is for: the one asked for, which must lie inside the person's branch, else the branch itself. */
export async function unitAsked(access: Access, asked: string | undefined): Promise<{ code: string; name: string; level: number; path: string }> {
  const code = asked ?? access.branch
  const sql = await database()
  const [unit] = await sql.query<{ code: string; name: string; level: number; path: string }>(
    `SELECT code, name, level, path::text FROM unit_latest
     WHERE ($1::text IS NULL AND parent IS NULL) OR code = $1 ORDER BY code LIMIT 1`, [code])
  if (!unit) throw new Refusal(404, 'no-unit', 'There is no such organisation unit.')
  mustHold(access, unit.path)
  return unit
}
