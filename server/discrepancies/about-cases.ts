import type { CaseDoubt } from '#core/cases/case-doubts'
import type { CaseDoubtFile, CaseDoubtLine, CaseDoubtList, CaseDoubtQuery } from '#core/contract/case-doubts'
import type { DiscrepancyFilter } from '#core/contract/discrepancies'
import type { CaseRegister } from '#core/cases/register'
import { branchPath, enteredBy, mustHold, unitAsked, type Access } from '../access/access'
import { membersOf, rootsOf } from '../cases/fold-known'
import { caseLines } from '../cases/list'
import { newestRegisters } from '../cases/registers'
import { mustSeeCases, sharedCases } from '../cases/shared'
import { Where } from '../cases/where'
import { database, type Sql } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { FILTERS } from './list'
import { threadsOf } from './read'

/** How many a page has. */
const PAGE = 50

/** A discrepancy about a case, as the database keeps it. */
interface Row extends Omit<CaseDoubtLine, 'case' | 'title' | 'entry'> {
  case: string
  register: string
  code: string
  evidence: CaseDoubt
  path: string[]
}

const COLUMNS = `d.id, d.case_id AS "case", c.register, d.code, d.strength, d.state, d.outcome,
  d.holds, d.evidence, d.found_at AS "foundAt", u.path`
const TABLES = 'discrepancy d JOIN case_record c ON c.id = d.case_id JOIN unit_latest u ON u.code = c.unit'

/** What must be fixed first, then what was found last. */
const orderOf = (row: string) => [
  `array_position(ARRAY['note', 'explain', 'mustFix'], ${row}.strength)`,
  `${row}.found_at`,
  `${row}.id`,
]
/** The place of a row in that order. */
const placeOf = (row: string) => orderOf(row).join(', ')

const ruleOf = (
  registers: ReadonlyMap<string, CaseRegister>,
  { register, code }: Pick<Row, 'register' | 'code'>,
) => registers.get(register)?.rules.find(rule => rule.code === code)

/** Rows as lines, in their order. */
async function linesOf(
  sql: Pick<Sql, 'query'>,
  rows: readonly Row[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<CaseDoubtLine[]> {
  const cases = await caseLines(
    sql,
    rows.map(row => row.case),
    registers,
  )
  return rows.map(row => ({
    id: row.id,
    case: cases.get(row.case)!,
    strength: row.strength,
    state: row.state,
    outcome: row.outcome,
    holds: row.holds,
    // A rule that was taken out since has its code left.
    title: ruleOf(registers, row)?.name ?? { en: row.code },
    foundAt: row.foundAt,
    entry: row.evidence.entry,
  }))
}

/**
 * A page of the discrepancies about cases of a branch, what must be fixed first, and how many there are in all.
 * Of one case all are listed, also the settled ones and those of cases that were merged into it.
 * @throws Refusal 403, 404
 */
export async function listCaseDoubts(access: Access, asked: CaseDoubtQuery): Promise<CaseDoubtList> {
  const sql = await database()
  const branch = asked.unit ? (await unitAsked(access, asked.unit)).code : access.branch
  const [root] = asked.case ? await rootsOf(sql, [asked.case]) : []
  const cases = asked.case ? await membersOf(sql, root ?? asked.case) : null
  const where = new Where(5)
  const shared = await sharedCases(sql, access, where)
  const scope = `u.path @> $1::text[] AND ($2::uuid IS NULL OR ${enteredBy('c', '$2')})
    AND ($3::text IS NULL OR c.register = $3) AND ($4::uuid[] IS NULL OR d.case_id = ANY($4)) AND ${shared}`
  const values = [
    ...[branchPath(branch), access.ownOnly ? access.id : null, asked.register ?? null, cases],
    ...where.values,
  ]
  const after = `$${values.length + 1}`
  const filter = asked.filter ? FILTERS[asked.filter] : cases ? 'true' : FILTERS.unsettled
  const [rows, [counts], registers] = await Promise.all([
    sql.query<Row>(
      `SELECT ${COLUMNS} FROM ${TABLES} WHERE ${scope} AND ${filter}
         AND (${after}::uuid IS NULL OR (${placeOf('d')}) < (SELECT ${placeOf('a')} FROM discrepancy a WHERE a.id = ${after}))
       ORDER BY ${orderOf('d')
         .map(part => `${part} DESC`)
         .join(', ')} LIMIT ${PAGE + 1}`,
      [...values, asked.after ?? null],
    ),
    sql.query<Record<DiscrepancyFilter, number>>(
      `SELECT ${Object.entries(FILTERS)
        .map(([name, condition]) => `count(*) FILTER (WHERE ${condition})::int AS "${name}"`)
        .join(', ')} FROM ${TABLES} WHERE ${scope}`,
      values,
    ),
    newestRegisters(sql),
  ])
  return {
    lines: await linesOf(sql, rows.slice(0, PAGE), registers),
    counts: counts!,
    more: rows.length > PAGE,
  }
}

/** Some of them whole, in the order asked for. @throws Refusal 404, 403 when one of them is not theirs */
async function filesOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  ids: readonly string[],
): Promise<CaseDoubtFile[]> {
  const found = await sql.query<Row & { isOwn: boolean }>(
    `SELECT ${COLUMNS}, ($2::uuid IS NULL OR ${enteredBy('c', '$2')}) AS "isOwn" FROM ${TABLES} WHERE d.id = ANY($1::uuid[])`,
    [ids, access.ownOnly ? access.id : null],
  )
  const byId = new Map(found.map(row => [row.id, row]))
  const rows = ids.map(id => {
    const row = byId.get(id)
    if (!row) throw notFound('discrepancy')
    mustHold(access, row.path)
    if (!row.isOwn) throw outsideBranch()
    return row
  })
  await mustSeeCases(
    sql,
    access,
    rows.map(row => row.case),
  )
  const registers = await newestRegisters(sql)
  const [lines, threads] = await Promise.all([linesOf(sql, rows, registers), threadsOf(sql, ids)])
  return rows.map((row, at) => {
    const rule = ruleOf(registers, row)
    return {
      line: lines[at]!,
      doubt: row.evidence,
      sentence: rule?.forOfficer ?? {},
      forClerk: rule?.forClerk ?? {},
      thread: threads.get(row.id) ?? [],
    }
  })
}

/** One of them. @throws Refusal 404, 403 */
export const caseDoubtFile = async (access: Access, id: string): Promise<CaseDoubtFile> =>
  (await filesOf(await database(), access, [id]))[0]!

/** The newest ones about which somebody talked, whole: those that wait for an answer first. */
export async function talkedAboutCases(access: Access, most: number): Promise<CaseDoubtFile[]> {
  const sql = await database()
  const where = new Where(4)
  const shared = await sharedCases(sql, access, where)
  const rows = await sql.query<{ id: string }>(
    `SELECT d.id FROM ${TABLES} WHERE (d.state IN ('asked', 'answered')
         OR d.state = 'settled'
         AND EXISTS (SELECT 1 FROM discrepancy_event e WHERE e.discrepancy = d.id AND e.act = 'asked')) AND u.path @> $1::text[]
       AND ($2::uuid IS NULL OR ${enteredBy('c', '$2')}) AND ${shared}
     ORDER BY array_position(ARRAY['asked', 'answered', 'settled'], d.state), d.found_at DESC, d.id LIMIT $3`,
    [branchPath(access.branch), access.ownOnly ? access.id : null, most, ...where.values],
  )
  return filesOf(
    sql,
    access,
    rows.map(({ id }) => id),
  )
}
