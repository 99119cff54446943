import { randomBytes } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import { parseDay } from '#core/calendar/day'
import { startOfDay } from '#core/calendar/deadline'
import { grantsOf, TOKEN_GIVES, type TokenGives } from '#core/contract/permission'
import {
  TOKEN_PREFIX,
  type TokenLine,
  type TokenList,
  type TokenMade,
  type TokenNew,
} from '#core/contract/tokens'
import { must } from '#core/result'
import { branchPath, hashToken, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound, Refusal } from '../refusal'
import { settings } from '../settings'
import { mustHoldBranch } from './manage'
import { personSearchText } from './search-text'

const AT_ONCE = 50
/** 256 bits: nobody guesses it. */
const BYTES = 32
/** A token that is good for longer is forgotten before it ends. */
const MOST_DAYS = 2 * 366
const A_DAY = 86_400_000

interface Row extends Omit<TokenLine, 'branch' | 'gives' | 'state'> {
  branch: string | null
  branchName: string | null
  without: readonly string[]
  endedAt: string | null
}

const stateOf = ({ endsAt, endedAt }: Pick<Row, 'endsAt' | 'endedAt'>): TokenLine['state'] =>
  endedAt !== null ? 'ended' : Date.parse(endsAt) <= now() ? 'over' : 'good'

/** The tokens of programs whose branch lies in that of the administrator, the newest first. */
export async function listTokens(access: Access, after?: string): Promise<TokenList> {
  const sql = await database()
  const rows = await sql.query<Row>(
    `SELECT p.id, p.display_name AS name, p.branch, u.name AS "branchName", p.without, t.last_four AS "lastFour", m.display_name AS "madeBy",
       t.made_at AS "madeAt", t.ends_at AS "endsAt", t.ended_at AS "endedAt", t.last_used_at AS "lastUsedAt"
     FROM api_token t JOIN person p ON p.id = t.person JOIN person m ON m.id = t.made_by LEFT JOIN unit_latest u ON u.code = p.branch
     WHERE ($1::boolean OR u.path @> $2::text[]) AND ($3::uuid IS NULL OR p.id < $3) ORDER BY p.id DESC LIMIT ${AT_ONCE + 1}`,
    [access.branch === null, branchPath(access.branch), after ?? null],
  )
  return {
    lines: rows.slice(0, AT_ONCE).map(({ branch, branchName, without, endedAt, ...rest }) => ({
      ...rest,
      branch: branch === null ? null : { code: branch, name: branchName ?? branch },
      gives: TOKEN_GIVES.filter(one => !without.includes(one)),
      state: stateOf({ ...rest, endedAt }),
    })),
    more: rows.length > AT_ONCE,
  }
}

/** The end of the last day, by the clock of the installation. @throws Refusal 422 `token-days` */
async function endOf(sql: Pick<Sql, 'query'>, lastDay: string): Promise<string> {
  const { timeZone } = await settings(sql)
  const ends = startOfDay(must(parseDay(lastDay)) + 1, timeZone)
  if (ends <= now() || ends > now() + MOST_DAYS * A_DAY)
    throw new Refusal(422, 'token-days', 'A token ends in the future, in two years at the latest.', [
      { code: 'token-days', message: '', at: 'body/lastDay' },
    ])
  return new Date(ends).toISOString()
}

/** Personal answers come with cases only. @throws Refusal 422 `token-personal` */
function mustFit(gives: readonly TokenGives[]): void {
  if (gives.includes('extractPersonal') && !gives.includes('extract'))
    throw new Refusal(422, 'token-personal', 'Personal answers are given with reports and cases only.', [
      { code: 'token-personal', message: '', at: 'body/gives' },
    ])
}

/**
 * Makes a token for a program, which reads a branch until a day. Only its hash is kept: this is the one time
 * that it is shown.
 * @throws Refusal 403 for a branch outside the administrator's; 422 `token-days`, `token-personal`, `no-unit`
 */
export async function makeToken(access: Access, asked: TokenNew): Promise<TokenMade> {
  mustFit(asked.gives)
  const sql = await database()
  return sql.transaction(async tx => {
    await mustHoldBranch(tx, access, asked.branch)
    const endsAt = await endOf(tx, asked.lastDay)
    const id = uuid()
    const token = TOKEN_PREFIX + randomBytes(BYTES).toString('base64url')
    const displayName = asked.name.trim()
    const without = grantsOf('machine').filter(
      one => TOKEN_GIVES.some(gives => gives === one) && !asked.gives.some(gives => gives === one),
    )
    // Nobody signs in with it: a name with a space is none that a person can have.
    const userName = `program ${id}`
    await tx.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, search_text, without)
       VALUES ($1, $2, $2, $3, 'machine', $4, $5, $6::text[])`,
      [id, userName, displayName, asked.branch, personSearchText({ displayName, userName }), without],
    )
    await tx.query(
      `INSERT INTO api_token (person, token_hash, last_four, made_by, made_at, ends_at) VALUES ($1, $2, $3, $4, $5, $6)`,
      [id, hashToken(token), token.slice(-4), access.id, nowText(), endsAt],
    )
    return { id, token }
  })
}

/** Ends a token at once; twice changes nothing. @throws Refusal 404, 403 outside the branch */
export async function endToken(access: Access, id: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [row] = await tx.query<{ branch: string | null }>(
      'SELECT p.branch FROM api_token t JOIN person p ON p.id = t.person WHERE t.person = $1 FOR UPDATE OF t',
      [id],
    )
    if (!row) throw notFound('token')
    await mustHoldBranch(tx, access, row.branch)
    await tx.query(
      'UPDATE api_token SET ended_at = $2, ended_by = $3 WHERE person = $1 AND ended_at IS NULL',
      [id, nowText(), access.id],
    )
  })
}
