import { printDay } from '#core/calendar/day'
import { readFilters } from '#core/cases/answer-filter'
import { listQuestions } from '#core/cases/list-questions'
import type { CaseRegister } from '#core/cases/register'
import { MOST_COLUMNS, type CaseQuery } from '#core/contract/cases'
import { searchWords } from '#core/form/code'
import { branchPath, enteredBy, unitAsked, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { standIn } from '../database/patterns'
import { Refusal, refusedBy } from '../refusal'
import { settings, today } from '../settings'
import { membersOf } from './fold-known'
import { sharedCases } from './shared'
import { answerCondition, Where } from './where'

/** What is wrong with what is asked for, at its place. */
const refused = (at: string, code: string, message: string) =>
  new Refusal(400, code, message, [{ code, message, at: `query/${at}` }])

export function mustRegister(
  registers: ReadonlyMap<string, CaseRegister>,
  asked: CaseQuery,
): CaseRegister | null {
  if (asked.register === undefined) return null
  const register = registers.get(asked.register)
  if (!register) throw refused('register', 'no-register', 'There is no such register.')
  return register
}

/** The questions whose answers a list shows. @throws Refusal 400 */
export function columnsOf(asked: CaseQuery, register: CaseRegister | null): string[] | null {
  if (!register || asked.columns === undefined) return null
  const columns = asked.columns.split(',').slice(0, MOST_COLUMNS)
  const known = listQuestions(register)
  const strange = columns.find(code => !known.has(code))
  if (strange) throw refused('columns', 'no-question', `No list of ${register.code} shows ${strange}.`)
  return columns
}

/** Conditions on a case `c` of the branch that is asked for, without the filters and the page. @throws Refusal 400, 403, 404 */
export async function conditionsOf(
  access: Access,
  asked: CaseQuery,
  register: CaseRegister | null,
): Promise<Where> {
  const where = new Where()
  const branch = asked.unit ? (await unitAsked(access, asked.unit)).code : access.branch
  where.parts.push('c.merged_into IS NULL')
  if (branch !== null) {
    const path = where.param(branchPath(branch))
    // Its units first: joined to each of 100,000 cases they would take twice as long to count.
    const inside = `(SELECT b.code FROM unit_latest b WHERE b.path @> ${path}::text[])`
    if (asked.state === 'gone')
      where.parts.push(
        `c.shared_with <> '{}' AND c.unit NOT IN ${inside}`,
        `EXISTS (SELECT 1 FROM jsonb_array_elements(c.moves) move WHERE move ->> 'from' IN ${inside})`,
      )
    else where.parts.push(`c.unit IN ${inside}`)
  } else if (asked.state === 'gone') where.parts.push('false')
  if (register) where.parts.push(`c.register = ${where.param(register.code)}`)
  if (access.ownOnly) where.parts.push(enteredBy('c', where.param(access.id)))
  where.parts.push(await sharedCases(await database(), access, where))
  return where
}

/** By what an entry lies between two days. */
interface EntryTime {
  /** The column of an entry, and the one of its case that has the latest of them. */
  own: string
  latest: string
  /** The beginning of a day, as an expression of the type of both. */
  startOf: (day: string, where: Where) => string
}
const HAPPENED: EntryTime = { own: 'e.happened_on', latest: 'c.last_on', startOf: day => `(${day})` }
const receivedIn = (timeZone: string): EntryTime => ({
  own: 'e.received_at',
  latest: 'c.received_at',
  startOf: (day, where) => `((${day})::timestamp AT TIME ZONE ${where.param(timeZone)})`,
})

/**
 * Adds that a case has an entry between two days, both in; either may be left out. Mostly its latest entry says it:
 * 200,000 entries are looked at only for cases that went on after the last day.
 */
function addEntryBetween(where: Where, { own, latest, startOf }: EntryTime, from?: string, to?: string) {
  const start = from && startOf(`${where.param(from)}::date`, where)
  if (start) where.parts.push(`${latest} >= ${start}`)
  if (!to) return
  const end = startOf(`${where.param(to)}::date + 1`, where)
  const within = [...(start ? [`${own} >= ${start}`] : []), `${own} < ${end}`].join(' AND ')
  // The limit has them looked up case by case; without it all entries are read for each part of a long list.
  where.parts.push(
    `(${latest} < ${end} OR (SELECT true FROM case_entry e WHERE e.case_id = c.id AND ${within} LIMIT 1))`,
  )
}

/**
 * Does an index lead to what is looked for, or to the first of it? Without one, all cases of the branch are looked at.
 */
export const isLedByIndex = ({ find, parent, need }: CaseQuery): boolean =>
  find !== undefined || parent !== undefined || need !== undefined

/** Is a list sorted by what no index has in its order? */
export const isSortedAnew = ({ sort = 'lastOn' }: CaseQuery): boolean => sort !== 'lastOn'

/** Adds the filters. @returns whether there are any */
export async function addFilters(
  sql: Pick<Sql, 'query'>,
  where: Where,
  asked: CaseQuery,
  register: CaseRegister | null,
): Promise<boolean> {
  const before = where.parts.length
  const { timeZone } = await settings()
  const parts = searchWords(asked.find ?? '')
  const { condition, patterns } = standIn('c.search_text', parts, where.values.length + 1)
  if (patterns.length) {
    where.values.push(...patterns)
    where.parts.push(condition)
  }
  // Those of a case that was merged into it belong to it, too.
  if (asked.parent)
    where.parts.push(`c.parent = ANY(${where.param(await membersOf(sql, asked.parent))}::uuid[])`)
  addEntryBetween(where, HAPPENED, asked.happenedFrom, asked.happenedTo)
  addEntryBetween(where, receivedIn(timeZone), asked.receivedFrom, asked.receivedTo)
  if (asked.state === 'open' || asked.state === 'closed')
    where.parts.push(`c.closed_on IS ${asked.state === 'closed' ? 'NOT NULL' : 'NULL'}`)
  if (asked.need === 'resultAwaited') where.parts.push('c.result_awaited')
  else if (asked.need === 'hasDoubt')
    where.parts.push(`EXISTS (SELECT 1 FROM discrepancy d WHERE d.case_id = c.id AND d.state <> 'settled')`)
  else if (asked.need)
    where.parts.push(
      `c.next_visit ${asked.need === 'visitMissed' ? '<' : '<='} ${where.param(printDay(await today()))}::date`,
    )
  if (asked.answers) {
    if (!register) throw refused('answers', 'filter-register', 'Answers are asked for in one register.')
    const filters = readFilters(register, asked.answers)
    if (!filters.ok) throw refusedBy(400, filters.problems)
    for (const filter of filters.value) where.parts.push(answerCondition(filter, where))
  }
  return where.parts.length > before
}

/** Columns that may be empty, with their types. */
const COLUMNS: Readonly<Record<string, [column: string, type: string]>> = {
  receivedAt: ['received_at', 'timestamptz'],
  nextVisit: ['next_visit', 'date'],
}

/** What a list is sorted by, as an expression of a row `c`. What is not known comes last. @throws Refusal 400 */
export function sortOf(
  { sort = 'lastOn', order = 'descending' }: CaseQuery,
  register: CaseRegister | null,
  where: Where,
): (row: string) => string {
  const isDown = order === 'descending'
  // Always known, and there is an index in its order.
  if (sort === 'lastOn') return row => `${row}.last_on`
  const own = COLUMNS[sort]
  if (own) {
    const [column, type] = own
    return row => `coalesce(${row}.${column}, '${isDown ? '-' : ''}infinity'::${type})`
  }
  if (!register || !listQuestions(register).has(sort))
    throw refused('sort', 'no-question', `A list cannot be sorted by ${sort}.`)
  // Of values in JSON a null is the lowest and an object the highest.
  const code = where.param(sort)
  return row => `coalesce(${row}.known -> ${code}::text -> 'value', '${isDown ? 'null' : '{}'}'::jsonb)`
}
