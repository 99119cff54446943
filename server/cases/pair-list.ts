import type { CaseRegister } from '#core/cases/register'
import type { PairFile, PairLine, PairList, PairQuery, PairSide } from '#core/contract/case-pairs'
import { branchPath, type Access } from '../access/access'
import { holds } from '../access/branch'
import { database, type Sql } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { caseView } from './file'
import { caseLines } from './list'
import { noteOpening } from './note-opening'
import { newestRegisters } from './registers'
import { mustSeeCases, sharedCases } from './shared'
import { Where } from './where'

/** How many a page has. */
const PAGE = 30

interface Row extends Omit<PairLine, 'one' | 'other'> {
  one: string
  other: string
  oneUnit: PairSide['unit']
  otherUnit: PairSide['unit']
  onePath: string[]
  otherPath: string[]
}

const COLUMNS = `p.id, p.register, p.state, p.score, p.parts, p.found_at AS "foundAt", p.one, p.other,
  jsonb_build_object('code', u.code, 'name', u.name) AS "oneUnit", jsonb_build_object('code', v.code, 'name', v.name) AS "otherUnit",
  u.path AS "onePath", v.path AS "otherPath"`
const JOINED = `case_pair p JOIN case_record c ON c.id = p.one JOIN unit_latest u ON u.code = c.unit
  JOIN case_record d ON d.id = p.other JOIN unit_latest v ON v.code = d.unit`
/** For queries: the condition that both cases of a pair `p` are shared with a person. @param where gets its parameters */
async function bothSeen(sql: Pick<Sql, 'query'>, access: Access, where: Where): Promise<string> {
  const condition = await sharedCases(sql, access, where)
  if (condition === 'true') return condition
  const seen = (side: string) => `EXISTS (SELECT 1 FROM case_record c WHERE c.id = ${side} AND ${condition})`
  return `${seen('p.one')} AND ${seen('p.other')}`
}

/** The facilities of a person's branch; null where that is the whole tree. */
async function unitsSeen(sql: Pick<Sql, 'query'>, { branch }: Access): Promise<string[] | null> {
  if (branch === null) return null
  const rows = await sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE path @> $1::text[]', [
    branchPath(branch),
  ])
  return rows.map(({ code }) => code)
}

async function linesOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  rows: readonly Row[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<PairLine[]> {
  const seen = rows.flatMap(({ one, onePath, other, otherPath }) => [
    ...(holds(access.branch, onePath) ? [one] : []),
    ...(holds(access.branch, otherPath) ? [other] : []),
  ])
  const lines = await caseLines(sql, seen, registers)
  return rows.map(({ one, oneUnit, onePath: _one, other, otherUnit, otherPath: _other, ...row }) => ({
    ...row,
    one: { id: one, unit: oneUnit, line: lines.get(one) ?? null },
    other: { id: other, unit: otherUnit, line: lines.get(other) ?? null },
  }))
}

/**
 * Pairs of cases that may be one subject (or those of one case, open and decided), of which one at least is of the branch: those
 * that the person can decide first, the likeliest of them first, a page at a time.
 */
export async function listPairs(access: Access, asked: PairQuery): Promise<PairList> {
  const sql = await database()
  const seen = new Where()
  const units = await unitsSeen(sql, access)
  // Every unit is of the branch where that is the whole tree.
  const own = units && `ANY(${seen.param(units)}::text[])`
  const decides = own ? `(p.one_unit = ${own} AND p.other_unit = ${own})` : 'true'
  if (own) seen.parts.push(`(p.one_unit = ${own} OR p.other_unit = ${own})`)
  seen.parts.push(await bothSeen(sql, access, seen))
  if (asked.register) seen.parts.push(`p.register = ${seen.param(asked.register)}`)
  const where = seen.copy()
  if (asked.case)
    where.parts.push(`p.state <> 'unlike' AND ${where.param(asked.case)}::uuid IN (p.one, p.other)`)
  else where.parts.push(`p.state = ${where.param(asked.state ?? 'open')}`)
  if (asked.after)
    where.parts.push(
      `(${decides}, p.score, p.id) < (SELECT ${decides}, p.score, p.id FROM case_pair p WHERE p.id = ${where.param(asked.after)}::uuid)`,
    )
  const rows = await sql.query<Row>(
    `WITH page AS (
       SELECT p.id, ${decides} AS decides, p.score FROM case_pair p WHERE ${where.text}
       ORDER BY decides DESC, p.score DESC, p.id DESC LIMIT ${PAGE + 1})
     SELECT ${COLUMNS} FROM page JOIN (${JOINED}) ON p.id = page.id
     ORDER BY page.decides DESC, page.score DESC, page.id DESC`,
    where.values,
  )
  const counted = await sql.query<{ state: PairLine['state']; count: number }>(
    `SELECT p.state, count(*)::int AS count FROM case_pair p WHERE ${seen.text} GROUP BY p.state`,
    seen.values,
  )
  return {
    lines: await linesOf(sql, access, rows.slice(0, PAGE), await newestRegisters(sql)),
    more: rows.length > PAGE,
    counts: {
      ...{ open: 0, merged: 0, apart: 0, unlike: 0 },
      ...Object.fromEntries(counted.map(({ state, count }) => [state, count])),
    },
  }
}

/** One pair with both files beside each other. @throws Refusal 404, 403 where neither is of the branch */
export async function pairFile(access: Access, id: string): Promise<PairFile> {
  const sql = await database()
  const [row] = await sql.query<Row>(`SELECT ${COLUMNS} FROM ${JOINED} WHERE p.id = $1`, [id])
  if (!row) throw notFound('pair')
  const [sees, seesOther] = [holds(access.branch, row.onePath), holds(access.branch, row.otherPath)]
  if (!sees && !seesOther) throw outsideBranch()
  await mustSeeCases(sql, access, [row.one, row.other])
  const events = await sql.query<PairFile['events'][number]>(
    `SELECT e.at, p.display_name AS by, e.act, e.kept, e.text FROM case_pair_event e JOIN person p ON p.id = e.person WHERE e.pair = $1 ORDER BY e.seq`,
    [id],
  )
  const [line] = await linesOf(sql, access, [row], await newestRegisters(sql))
  const opened = async (of: string) => {
    const view = await caseView(sql, access, of, [of])
    await noteOpening(sql, access, of)
    return view
  }
  return {
    line: line!,
    one: sees ? await opened(row.one) : null,
    other: seesOther ? await opened(row.other) : null,
    mine: sees && seesOther,
    events,
  }
}
