import { namePeriod, parsePeriod } from '#core/calendar/period-text'
import { roundToOpen } from '#core/calendar/round-to-open'
import { may } from '#core/contract/permission'
import type { SearchHit } from '#core/contract/people'
import { fold } from '#core/form/code'
import type { Words } from '#core/report/edition'
import { seesDataset, branchPath, type Access } from '../access/access'
import { listCases } from '../cases/list'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { anywhere, standIn } from '../database/patterns'
import { openedRounds, type Round } from '../rounds/round'
import { settings, today } from '../settings'
import { unitNames } from '../units/latest'

/** So many hits of each kind: who needs more types more. */
const MOST_EACH = 6

/**
 * How well some texts fit what was typed: 0 not at all, 1 its parts stand anywhere, 2 they begin words, 3
 * they stand as typed.
 */
type Rank = (...texts: string[]) => number

function rankOf(typed: string): Rank {
  const whole = fold(typed.trim())
  const parts = whole.split(/\s+/).filter(Boolean)
  return (...texts) => {
    const text = ` ${fold(texts.join(' '))}`
    if (!parts.every(part => text.includes(part))) return 0
    return text.includes(` ${whole}`) ? 3 : parts.every(part => text.includes(` ${part}`)) ? 2 : 1
  }
}

/** Those that fit, the best first; of equals the order stays. */
const best = <T>(all: readonly T[], rank: (one: T) => number): T[] =>
  all
    .map(one => ({ one, rank: rank(one) }))
    .filter(({ rank }) => rank > 0)
    .sort((one, other) => other.rank - one.rank)
    .slice(0, MOST_EACH)
    .map(({ one }) => one)

/** A period as people say it: “September 2026”, “Week 46, 2026”. */
function periodName(text: string, language: string): string {
  const period = parsePeriod(text)
  return period.ok ? namePeriod(period.value, language) : ''
}

/**
 * For queries: a search in a column of folded texts, the best first by the ranks of {@link rankOf}.
 * @param first the number of the first parameter
 */
function sought(column: string, typed: string, first: number) {
  const whole = fold(typed.trim())
  const parts = whole.split(/\s+/).filter(Boolean)
  const { condition, patterns } = standIn(column, parts, first)
  const next = first + patterns.length
  return {
    condition,
    order: `' ' || ${column} LIKE $${next} DESC, ' ' || ${column} LIKE ALL ($${next + 1}::text[]) DESC`,
    values: [...patterns, anywhere(` ${whole}`), parts.map(part => anywhere(` ${part}`))],
  }
}

/** Units of the branch, found by the database: there may be 20,000. */
async function findUnits(
  sql: Pick<Sql, 'query'>,
  access: Access,
  typed: string,
  newest: string | null,
): Promise<SearchHit[]> {
  const { facilityLevel, districtLevel } = await settings(sql)
  const { condition, order, values } = sought('search_text', typed, 2)
  const hits = await sql.query<{ code: string; name: string; level: number; path: string[] }>(
    `SELECT code, name, level, path FROM unit_latest WHERE ${condition} AND path @> $1::text[] ORDER BY ${order}, level, name LIMIT ${MOST_EACH}`,
    [branchPath(access.branch), ...values],
  )
  const nameOf = await unitNames(
    sql,
    hits.flatMap(({ path }) => path.slice(0, -1)),
  )
  return hits.map(({ code, name, level, path }) => ({
    kind: level === facilityLevel ? 'facility' : level === districtLevel ? 'district' : 'unit',
    code,
    name: { en: name },
    path: path.slice(0, -1).map(nameOf).join(' › '),
    of: newest,
  }))
}

const findRounds = (rounds: readonly Round[], rank: Rank): SearchHit[] =>
  best(rounds, ({ name, period }) =>
    Math.max(
      ...Object.entries(name).map(([language, word]) => rank(word, period, periodName(period, language))),
    ),
  ).map(round => ({ kind: 'round', code: round.id, name: round.name, path: round.period, of: round.id }))

/** Items of the newest editions, for those who define datasets. */
async function findItems(sql: Pick<Sql, 'query'>, rank: Rank): Promise<SearchHit[]> {
  const newest = await sql.query<{ dataset: string; number: number; name: Words }>(
    `SELECT DISTINCT ON (e.dataset) e.dataset, e.number, d.name FROM edition e JOIN dataset d ON d.code = e.dataset ORDER BY e.dataset, e.number DESC`,
  )
  const items = (
    await Promise.all(
      newest.map(async ({ dataset, number, name }) => {
        const { edition } = await editionOf(sql, dataset, number)
        return edition.sections.flatMap(section => section.items.map(item => ({ dataset, name, item })))
      }),
    )
  ).flat()
  return best(items, ({ item }) => rank(...Object.values(item.name), item.code)).map(
    ({ dataset, name, item }) => ({
      kind: 'item',
      code: item.code,
      name: item.name,
      path: Object.values(name)[0] ?? '',
      of: dataset,
    }),
  )
}

/** Cases by any of their answers that are searched for, with the answers by which a page names them. */
async function findCases(access: Access, typed: string): Promise<SearchHit[]> {
  const { lines } = await listCases(access, { find: typed }, { most: MOST_EACH, isCounted: false })
  return lines.map(({ id, register, unit, answers }) => ({
    kind: 'case',
    code: id,
    name: { en: id.slice(-6) },
    path: unit.name,
    of: register,
    answers,
  }))
}

/** People whose area lies in that of the administrator, found by the database. */
async function findPeople(sql: Pick<Sql, 'query'>, access: Access, typed: string): Promise<SearchHit[]> {
  const { condition, order, values } = sought('p.search_text', typed, 3)
  const people = await sql.query<{ userName: string; displayName: string; branch: string | null }>(
    `SELECT p.user_name AS "userName", p.display_name AS "displayName", u.name AS branch
     FROM person p LEFT JOIN unit_latest u ON u.code = p.branch WHERE ${condition} AND ($2::boolean OR u.path @> $1::text[])
     ORDER BY ${order}, p.active DESC, p.display_name LIMIT ${MOST_EACH}`,
    [branchPath(access.branch), access.branch === null, ...values],
  )
  return people.map(({ userName, displayName, branch }) => ({
    kind: 'person',
    code: userName,
    name: { en: displayName },
    path: branch ?? '',
    of: null,
  }))
}

/**
 * What can be jumped to: units of the person's branch, opened rounds, cases, and for those who manage them
 * items and people.
 */
export async function search(access: Access, typed: string): Promise<SearchHit[]> {
  if (!typed.trim()) return []
  const rank = rankOf(typed)
  const sql = await database()
  const rounds = (await openedRounds(sql)).filter(({ dataset }) => seesDataset(access, dataset))
  return [
    ...(await findUnits(sql, access, typed, roundToOpen(rounds, await today())?.id ?? null)),
    ...findRounds(rounds, rank),
    ...(may(access, 'define') ? await findItems(sql, rank) : []),
    ...(await findCases(access, typed)),
    ...(may(access, 'managePeople') ? await findPeople(sql, access, typed) : []),
  ]
}
