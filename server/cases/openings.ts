import type { CaseOpening, OpeningsQuery } from '#core/contract/cases'
import { holds } from '../access/branch'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { MEMBERS, membersOf, rootsOf } from './fold-known'
import { pathsOf } from './file'

/** So many openings are on one page. */
const PAGE = 50

/**
 * Who opened a case, or one of those that are part of it, the last first.
 * @throws Refusal 404, 403
 */
export async function caseOpenings(
  access: Access,
  id: string,
  { before }: OpeningsQuery,
): Promise<{ openings: CaseOpening[]; more: boolean }> {
  const sql = await database()
  const [root] = await rootsOf(sql, [id])
  if (root === undefined) throw notFound('case')
  const paths = await pathsOf(sql, await membersOf(sql, root))
  if (!paths.some(path => holds(access.branch, path))) throw outsideBranch()
  const rows = await sql.query<CaseOpening>(
    `${MEMBERS} SELECT p.display_name AS by, p.role, o.day, o.first_at AS "firstAt", o.last_at AS "lastAt", o.times
     FROM member m JOIN case_opening o ON o.case_id = m.id JOIN person p ON p.id = o.person
     WHERE ($2::timestamptz IS NULL OR o.last_at < $2) ORDER BY o.last_at DESC LIMIT ${PAGE + 1}`,
    [[root], before ?? null],
  )
  return { openings: rows.slice(0, PAGE), more: rows.length > PAGE }
}

/** Openings are kept for two years: long enough for a complaint, and not for ever. */
export async function forgetOldOpenings(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query(
    `DELETE FROM case_opening WHERE last_at < $1::timestamptz - interval '2 years' RETURNING case_id`,
    [nowText()],
  )
  return gone.length
}
