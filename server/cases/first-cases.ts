import type { Sql } from '../database'
import type { Where } from './where'

/** Which cases are looked for, and in which order. */
export interface Sought {
  /** Conditions on a case `c`. */
  where: Where
  /** What they are ordered by, as an expression of a row; their identifiers decide where it is the same. */
  place: (row: string) => string
  direction: 'ASC' | 'DESC'
  /** How many of them are asked for. */
  most: number
}

const hits = (where: Where, { place }: Sought) =>
  `SELECT c.id, ${place('c')} AS place FROM case_record c WHERE ${where.text}`
const inOrder = (where: Where, { direction, most }: Sought) =>
  `ORDER BY place ${direction}, id ${direction} LIMIT ${where.param(most)}`

/** The first ones, where an index has them in their order or few are found. */
export async function firstCases(sql: Pick<Sql, 'query'>, sought: Sought): Promise<string[]> {
  const where = sought.where.copy()
  const text = `${hits(where, sought)} ${inOrder(where, sought)}`
  return (await sql.query<{ id: string }>(text, where.values)).map(({ id }) => id)
}

/** How many are found, and which may be the first ones: in no order, and some that come later among them. */
export interface Found {
  found: number
  ids: string[]
}

/** Finds and counts them where all have to be looked at: in one go, for that is what takes long. */
export async function lookThrough(
  sql: Pick<Sql, 'query'>,
  sought: Sought,
  pages?: PageRange,
): Promise<Found> {
  const where = sought.where.copy()
  if (pages) {
    const startOf = (page: number) => `${where.param(`(${page},0)`)}::tid`
    where.parts.push(`c.ctid >= ${startOf(pages.from)}`, `c.ctid < ${startOf(pages.end)}`)
  }
  const [found] = await sql.query<Found>(
    `WITH hit AS MATERIALIZED (${hits(where, sought)})
     SELECT (SELECT count(*) FROM hit)::int AS found, ARRAY(SELECT id::text FROM hit ${inOrder(where, sought)}) AS ids`,
    where.values,
  )
  return found!
}

/** Pages of the table of cases: from the first of them, and the one after the last. */
interface PageRange {
  from: number
  end: number
}

/** So many pages of the table are looked through in one statement: 7,500 cases of half a kilobyte. */
const PAGES_AT_ONCE = 500
/** No table has a page of this number (PostgreSQL's manual, limits: 4,294,967,295 pages). */
const BEHIND_ALL = 4_294_967_294

/**
 * As {@link lookThrough}, but part by part, for the embedded engine, where everybody waits for the end of a
 * statement (docs/decisions/0071). A case that is written meanwhile may stand in another part then, and be counted
 * twice or not at all: who asks again sees it.
 */
export async function lookThroughParts(
  sql: Pick<Sql, 'query'>,
  sought: Sought,
  pagesAtOnce = PAGES_AT_ONCE,
): Promise<Found> {
  const [table] = await sql.query<{ pages: number }>(
    `SELECT (pg_relation_size('case_record') / current_setting('block_size')::int)::int AS pages`,
  )
  const all: Found = { found: 0, ids: [] }
  for (let from = 0; from === 0 || from < table!.pages; from += pagesAtOnce) {
    const isLast = from + pagesAtOnce >= table!.pages
    const part = await lookThrough(sql, sought, { from, end: isLast ? BEHIND_ALL : from + pagesAtOnce })
    all.found += part.found
    all.ids.push(...part.ids)
  }
  return all
}
