import type { CaseOutcome } from '#core/cases/life'
import type { CaseRegister } from '#core/cases/register'
import type { CaseLine, CaseList, CaseQuery } from '#core/contract/cases'
import type { Answers } from '#core/form/answer'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { firstCases, lookThrough, lookThroughParts } from './first-cases'
import { KNOWN } from './fold-known'
import {
  addFilters,
  columnsOf,
  conditionsOf,
  isLedByIndex,
  isSortedAnew,
  mustRegister,
  sortOf,
} from './list-query'
import { CASES, Where } from './where'
import { newestRegisters } from './registers'

/** How many a page has. */
const PAGE = 50
/** More cases than these are not looked through in one statement where everybody waits for its end. */
const MOST_AT_ONCE = 15_000

interface Row extends Omit<CaseLine, 'unit' | 'answers' | 'closed'> {
  code: string
  name: string
  known: Answers
  searchText: string
  closedOn: string | null
  outcome: CaseOutcome | null
}

const LINE = `${KNOWN}, c.register, c.parent, c.closed_on AS "closedOn", c.outcome, u.code, u.name`

/** That a case is closed, as its row says. */
export const closedOf = ({ closedOn, outcome }: Pick<Row, 'closedOn' | 'outcome'>): CaseLine['closed'] =>
  closedOn !== null && outcome !== null ? { on: closedOn, outcome } : null

function lineOf(row: Row, columns: readonly string[]): CaseLine {
  const { code, name, known, searchText: _, closedOn, outcome, ...rest } = row
  const answers = columns.flatMap(question => (known[question] ? [[question, known[question]] as const] : []))
  return { ...rest, unit: { code, name }, answers: Object.fromEntries(answers), closed: closedOf(row) }
}

/**
 * Cases of the branch that everything asked for holds of, each with what is known of the asked columns (or the
 * line of its register), a page at a time.
 *
 * @param most how many a page has
 * @param isCounted without it nobody is told how many there are: counting takes longer than finding the first ones
 * @throws Refusal 400 with the place in the query, 403, 404
 */
export async function listCases(
  access: Access,
  asked: CaseQuery,
  { most = PAGE, isCounted = true } = {},
): Promise<CaseList> {
  const sql = await database()
  const registers = await newestRegisters(sql)
  const register = mustRegister(registers, asked)
  const columns = columnsOf(asked, register)
  const where = await conditionsOf(access, asked, register)
  const everyCase = where.copy()
  const isFiltered = await addFilters(sql, where, asked, register)
  const place = sortOf(asked, register, where)
  const direction = asked.order === 'ascending' ? 'ASC' : 'DESC'
  if (asked.after)
    where.parts.push(
      `(${place('c')}, c.id) ${direction === 'DESC' ? '<' : '>'} (SELECT ${place('a')}, a.id FROM case_record a WHERE a.id = ${where.param(asked.after)})`,
    )
  const sought = { where, place, direction, most: most + 1 } as const
  const isFirstPage = isCounted && !asked.after
  const isCountedAnew = isFiltered && isFirstPage
  const mayHoldUp =
    sql.engine === 'embedded' && (isSortedAnew(asked) || isCountedAnew) && !isLedByIndex(asked)
  const all = isFirstPage || mayHoldUp ? await countOf(sql, everyCase) : 0
  const isInParts = mayHoldUp && all > MOST_AT_ONCE
  const { ids, found } =
    isInParts || isCountedAnew
      ? await (isInParts ? lookThroughParts : lookThrough)(sql, sought)
      : { ids: await firstCases(sql, sought), found: all }
  const byPlace = new Where()
  const order = `${sortOf(asked, register, byPlace)('c')} ${direction}, c.id ${direction}`
  const rows = await sql.query<Row>(
    `SELECT ${LINE} FROM ${CASES} WHERE c.id = ANY(${byPlace.param(ids)}::uuid[]) ORDER BY ${order} LIMIT ${byPlace.param(most + 1)}`,
    byPlace.values,
  )
  return {
    lines: rows.slice(0, most).map(row => lineOf(row, columns ?? registers.get(row.register)!.line)),
    more: rows.length > most,
    counts: isFirstPage ? { found, all } : null,
  }
}

async function countOf(sql: Pick<Sql, 'query'>, { text, values }: Where): Promise<number> {
  const [row] = await sql.query<{ count: number }>(
    `SELECT count(*)::int AS count FROM case_record c WHERE ${text}`,
    values,
  )
  return row!.count
}

/** The lines of some cases, by their identifiers. */
export async function caseLines(
  sql: Pick<Sql, 'query'>,
  ids: readonly string[],
  registers: ReadonlyMap<string, CaseRegister>,
): Promise<Map<string, CaseLine>> {
  const rows = await sql.query<Row>(`SELECT ${LINE} FROM ${CASES} WHERE c.id = ANY($1::uuid[])`, [ids])
  return new Map(rows.map(row => [row.id, lineOf(row, registers.get(row.register)!.line)]))
}
