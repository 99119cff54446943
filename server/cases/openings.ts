import type { CaseOpening, CaseReaders, OpeningsQuery } from '#core/contract/cases'
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
): Promise<{ openings: CaseOpening[]; more: boolean; maySee: CaseReaders[] | null }> {
  const sql = await database()
  const [root] = await rootsOf(sql, [id])
  if (root === undefined) throw notFound('case')
  const members = await membersOf(sql, root)
  const paths = await pathsOf(sql, members)
  if (!paths.some(path => holds(access.branch, path))) throw outsideBranch()
  const rows = await sql.query<CaseOpening>(
    `${MEMBERS} SELECT p.display_name AS by, p.role, o.day, o.first_at AS "firstAt", o.last_at AS "lastAt", o.times
     FROM member m JOIN case_opening o ON o.case_id = m.id JOIN person p ON p.id = o.person
     WHERE ($2::timestamptz IS NULL OR o.last_at < $2) ORDER BY o.last_at DESC LIMIT ${PAGE + 1}`,
    [[root], before ?? null],
  )
  return {
    openings: rows.slice(0, PAGE),
    more: rows.length > PAGE,
    maySee: before ? null : await readersOf(sql, members),
  }
}

/**
 * The people, and the programs, that may open some cases: those whose branch holds a facility that sees one of them. Who sees only
 * what they filled themselves is counted where they filled something.
 */
async function readersOf(sql: Pick<Sql, 'query'>, cases: readonly string[]): Promise<CaseReaders[]> {
  const rows = await sql.query<Omit<CaseReaders, 'branch'> & { code: string | null; name: string | null }>(
    `WITH seen AS (
       SELECT DISTINCT unnest(u.path) AS unit FROM case_record c JOIN unit_latest u ON u.code = ANY(c.unit || c.shared_with)
       WHERE c.id = ANY($1::uuid[]))
     SELECT p.role, b.code, b.name, count(*)::int AS people
     FROM person p LEFT JOIN unit_latest b ON b.code = p.branch
     WHERE p.active AND (p.branch IS NULL OR p.branch IN (SELECT unit FROM seen))
       AND (p.role <> 'machine' OR 'extract' <> ALL(p.without) AND EXISTS (
         SELECT 1 FROM api_token t WHERE t.person = p.id AND t.ended_at IS NULL AND t.ends_at > $2::timestamptz))
       AND (NOT p.own_only OR EXISTS (SELECT 1 FROM case_entry e WHERE e.case_id = ANY($1::uuid[]) AND e.person = p.id))
     GROUP BY p.role, b.code, b.name, b.level ORDER BY b.level DESC NULLS LAST, b.name, p.role LIMIT ${PAGE}`,
    [cases, nowText()],
  )
  return rows.map(({ code, name, ...row }) => ({
    ...row,
    branch: code === null ? null : { code, name: name! },
  }))
}

/** Openings are kept for two years: long enough for a complaint, and not for ever. */
export async function forgetOldOpenings(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query(
    `DELETE FROM case_opening WHERE last_at < $1::timestamptz - interval '2 years' RETURNING case_id`,
    [nowText()],
  )
  return gone.length
}
