import { getRequestHeader, type H3Event } from 'h3'
import { TOKEN_PREFIX, TOKEN_REQUESTS } from '#core/contract/tokens'
import { now, nowText } from '../clock'
import type { Sql } from '../database'
import { Refusal } from '../refusal'
import { accessColumns, hashToken, type Access } from './access-row'
import { limitOf, tooOften, waitOf } from './tries'

/** All processes count together. */
const requests = limitOf('token', TOKEN_REQUESTS, 60)

/** How exactly the last use is kept. */
const USED_EVERY = 60_000

async function mustNotBeTooMany(person: string): Promise<void> {
  const wait = await waitOf(requests, person)
  if (wait !== null)
    throw tooOften('too-many-requests', `A token may ask ${TOKEN_REQUESTS} times a minute.`, wait)
}

/** The secret that a device or a program shows. */
export function bearerOf(event: H3Event): string | null {
  const [, secret] = /^Bearer (.*)$/.exec(getRequestHeader(event, 'authorization') ?? '') ?? []
  return secret ?? null
}

/** Is this what a program shows, and not a person at a device? */
export const isToken = (shown: string): boolean => shown.startsWith(TOKEN_PREFIX)

/**
 * The program that a token stands for.
 * @throws Refusal 401 `token-unknown`, `token-over` after its last day, `token-ended` when somebody ended it; 429
 *   `too-many-requests`
 */
export async function accessOfToken(sql: Pick<Sql, 'query'>, shown: string): Promise<Access> {
  const [row] = await sql.query<
    Access & { endsAt: string; endedAt: string | null; active: boolean; used: string | null }
  >(
    `SELECT ${accessColumns('p')}, p.active, t.ends_at AS "endsAt", t.ended_at AS "endedAt", t.last_used_at AS used
     FROM api_token t JOIN person p ON p.id = t.person WHERE t.token_hash = $1`,
    [hashToken(shown)],
  )
  if (!row) throw new Refusal(401, 'token-unknown', 'There is no such token.')
  const { endsAt, endedAt, active, used, ...access } = row
  if (endedAt !== null || !active)
    throw new Refusal(401, 'token-ended', 'This token was ended. Ask the district office for another one.')
  if (Date.parse(endsAt) <= now())
    throw new Refusal(
      401,
      'token-over',
      `This token was good until ${endsAt}. Ask the district office for another one.`,
    )
  await mustNotBeTooMany(access.id)
  if (!used || now() - Date.parse(used) > USED_EVERY)
    await sql.query('UPDATE api_token SET last_used_at = $2 WHERE person = $1', [access.id, nowText()])
  return access
}
