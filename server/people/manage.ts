import { v7 as uuid } from 'uuid'
import type {
  OneTimeCode,
  PeopleList,
  PeopleQuery,
  PersonChange,
  PersonLine,
  PersonNew,
} from '#core/contract/people'
import { searchWords } from '#core/form/code'
import { branchPath, mustHold, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { standIn } from '../database/patterns'
import { conflict, notFound, outsideBranch, Refusal } from '../refusal'
import { hashCode, newCode } from './one-time-code'
import { mustBeSharable } from './sharing'
import { personSearchText } from './search-text'
import { userKey } from './sign-in'

/** How long a one-time code lets somebody in. */
const CODE_DAYS = 7

interface Row {
  id: string
  userName: string
  displayName: string
  role: PersonLine['role']
  branch: string | null
  branchName: string | null
  path: string[] | null
  ownOnly: boolean
  without: PersonLine['without']
  sharing: PersonLine['sharing']
  active: boolean
  lastSeenAt: string | null
  cameIn: boolean
  codeUntil: string | null
}

const SELECT = `SELECT p.id, p.user_name AS "userName", p.display_name AS "displayName", p.role, p.branch, u.name AS "branchName", u.path, p.own_only AS "ownOnly", p.without, p.sharing, p.active,
  p.last_seen_at AS "lastSeenAt", p.password_hash IS NOT NULL AS "cameIn", p.code_until AS "codeUntil" FROM person p LEFT JOIN unit_latest u ON u.code = p.branch`

/** How many a page has. */
const PAGE = 40

/** A page of the people whose branch lies in that of the administrator. */
export async function listPeople(access: Access, { find = '', after }: PeopleQuery): Promise<PeopleList> {
  const sql = await database()
  const own = `p.role <> 'machine' AND ($2::boolean OR u.path @> $1::text[])`
  const branch = [branchPath(access.branch), access.branch === null]
  const { condition, patterns } = standIn(
    `(p.search_text || ' ' || coalesce(u.search_text, ''))`,
    searchWords(find),
    4,
  )
  const order = (row: string) => `NOT ${row}.active, ${row}.display_name, ${row}.id`
  const rows = await sql.query<Row>(
    `${SELECT} WHERE ${own} AND ${condition}
       AND ($3::uuid IS NULL OR (${order('p')}) > (SELECT ${order('a')} FROM person a WHERE a.id = $3))
     ORDER BY ${order('p')} LIMIT ${PAGE + 1}`,
    [...branch, after ?? null, ...patterns],
  )
  const [all] = await sql.query<{ count: number }>(
    `SELECT count(*)::int AS count FROM person p LEFT JOIN unit_latest u ON u.code = p.branch WHERE ${own}`,
    branch,
  )
  return { lines: rows.slice(0, PAGE).map(lineOf), more: rows.length > PAGE, count: all!.count }
}

const lineOf = ({ branch, branchName, codeUntil, path: _path, ...rest }: Row): PersonLine => ({
  ...rest,
  branch: branch === null ? null : { code: branch, name: branchName ?? branch },
  codeUntil: codeUntil && Date.parse(codeUntil) > now() ? codeUntil : null,
})

/**
 * @throws Refusal 403 unless the branch (null: the whole tree) lies in that of the administrator, 422
 *   `no-unit`.
 */
export async function mustHoldBranch(
  sql: Pick<Sql, 'query'>,
  access: Access,
  branch: string | null,
): Promise<void> {
  if (branch === null) {
    if (access.branch !== null) throw outsideBranch()
    return
  }
  const [unit] = await sql.query<{ path: string[] }>('SELECT path FROM unit_latest WHERE code = $1', [branch])
  if (!unit) throw new Refusal(422, 'no-unit', 'There is no such organisation unit.')
  mustHold(access, unit.path)
}

/**
 * A clerk fills the reports of a place: somewhere they must be. Only clerks fill, so only they can see just
 * their own.
 */
function mustFit({ role, branch, ownOnly }: Pick<PersonNew, 'role' | 'branch' | 'ownOnly'>): void {
  if (role === 'clerk' && branch === null)
    throw new Refusal(422, 'clerk-nowhere', 'A clerk needs a facility or a part of the tree.', [
      { code: 'clerk-nowhere', message: '', at: 'body/branch' },
    ])
  if (ownOnly && role !== 'clerk')
    throw new Refusal(422, 'own-only-clerks', 'Only a clerk can be held to what they filled.', [
      { code: 'own-only-clerks', message: '', at: 'body/ownOnly' },
    ])
}

const note = (sql: Sql, person: string, by: Access, act: string, old: object | null, next: object | null) =>
  sql.query('INSERT INTO person_event (person, at, by, act, old, new) VALUES ($1, $2, $3, $4, $5, $6)', [
    person,
    nowText(),
    by.id,
    act,
    old,
    next,
  ])

async function giveCode(sql: Sql, id: string, userName: string): Promise<OneTimeCode> {
  const code = newCode()
  const until = new Date(now() + CODE_DAYS * 86_400_000).toISOString()
  await sql.query('UPDATE person SET code_hash = $2, code_until = $3 WHERE id = $1', [
    id,
    hashCode(code),
    until,
  ])
  return { id, userName, code, until }
}

/**
 * Makes a person, who comes in by the code and chooses the password. @throws Refusal 409 `user-name-taken`,
 * and those of a branch.
 */
export async function makePerson(access: Access, asked: PersonNew): Promise<OneTimeCode> {
  const sql = await database()
  return sql.transaction(async tx => {
    mustFit(asked)
    await mustBeSharable(tx, access, asked)
    await mustHoldBranch(tx, access, asked.branch)
    const id = uuid()
    const made = await tx.query(
      `INSERT INTO person (id, user_name, user_key, display_name, role, branch, own_only, search_text, without, sharing)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::text[], $10) ON CONFLICT (user_key) DO NOTHING RETURNING id`,
      [
        id,
        asked.userName,
        userKey(asked.userName),
        asked.displayName.trim(),
        asked.role,
        asked.branch,
        asked.ownOnly,
        personSearchText(asked),
        asked.without ?? [],
        asked.sharing ?? null,
      ],
    )
    if (!made.length)
      throw conflict('user-name-taken', 'Somebody has this user name already.', [
        { code: 'user-name-taken', message: '', at: 'body/userName' },
      ])
    await note(tx, id, access, 'made', null, asked)
    return giveCode(tx, id, asked.userName)
  })
}

/** The person, locked. @throws Refusal 404, 403 outside the branch. */
async function personFor(sql: Sql, access: Access, id: string): Promise<Row> {
  const [row] = await sql.query<Row>(`${SELECT} WHERE p.id = $1 AND p.role <> 'machine' FOR UPDATE OF p`, [
    id,
  ])
  if (!row) throw notFound('person')
  if (row.path === null ? access.branch !== null : false) throw outsideBranch()
  if (row.path !== null) mustHold(access, row.path)
  return row
}

/** Does a person who changes themselves stay who they are? */
const keepsOwn = (before: Row, asked: PersonChange): boolean =>
  asked.active &&
  asked.role === before.role &&
  asked.branch === before.branch &&
  [...asked.without].sort().join() === [...before.without].sort().join()

/**
 * Changes a person. One who is switched off, or gets less to see, is out at once: the server reads the person
 * at each request.
 * @throws Refusal 409 `not-yourself`: nobody takes their own keys away.
 */
export async function changePerson(access: Access, id: string, asked: PersonChange): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const before = await personFor(tx, access, id)
    mustFit(asked)
    await mustBeSharable(tx, access, asked)
    await mustHoldBranch(tx, access, asked.branch)
    if (id === access.id && !keepsOwn(before, asked))
      throw conflict('not-yourself', 'Your own role, branch and access somebody else changes.')
    await tx.query(
      `UPDATE person SET display_name = $2, role = $3, branch = $4, own_only = $5, active = $6, session_epoch = session_epoch + CASE WHEN active AND NOT $6 THEN 1 ELSE 0 END,
         code_hash = CASE WHEN $6 THEN code_hash END, code_until = CASE WHEN $6 THEN code_until END, search_text = $7,
         without = $8::text[], sharing = $9 WHERE id = $1`,
      [
        id,
        asked.displayName.trim(),
        asked.role,
        asked.branch,
        asked.ownOnly,
        asked.active,
        personSearchText({ displayName: asked.displayName, userName: before.userName }),
        asked.without,
        asked.sharing,
      ],
    )
    const { displayName, role, branch, ownOnly, without, sharing, active } = before
    await note(
      tx,
      id,
      access,
      active === asked.active ? 'changed' : asked.active ? 'on' : 'off',
      { displayName, role, branch, ownOnly, without, sharing, active },
      asked,
    )
  })
}

/**
 * A new code for somebody who lost their password or never came. The password that there is holds until the
 * code is used.
 */
export async function renewCode(access: Access, id: string): Promise<OneTimeCode> {
  const sql = await database()
  return sql.transaction(async tx => {
    const { userName, active } = await personFor(tx, access, id)
    if (!active) throw conflict('person-off', 'This person is switched off.')
    await note(tx, id, access, 'code', null, null)
    return giveCode(tx, id, userName)
  })
}
