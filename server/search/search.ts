import { namePeriod, parsePeriod } from '#core/calendar/period-text'
import { may } from '#core/contract/permission'
import type { SearchHit } from '#core/contract/people'
import { fold } from '#core/form/code'
import type { Edition, Words } from '#core/report/edition'
import type { Access } from '../access/access'
import { holds } from '../access/branch'
import { listCases } from '../cases/list'
import { database, type Sql } from '../database'
import { listPeople } from '../people/manage'
import { openedRounds, type Round } from '../rounds/round'
import { settings } from '../settings'

/** So many hits of each kind: who needs more types more. */
const MOST_EACH = 6

type Find = (...texts: string[]) => boolean

/** A period as people say it: “September 2026”, “Week 46, 2026”. */
function periodName(text: string, language: string): string {
  const period = parsePeriod(text)
  return period.ok ? namePeriod(period.value, language) : ''
}

async function findUnits(sql: Pick<Sql, 'query'>, access: Access, found: Find, newest: string | null): Promise<SearchHit[]> {
  const { facilityLevel, districtLevel } = await settings(sql)
  const units = await sql.query<{ code: string; name: string; level: number; path: string[] }>('SELECT code, name, level, path FROM unit_latest ORDER BY level, name')
  const names = new Map(units.map(({ code, name }) => [code, name]))
  const hits = units.filter(({ code, name, path }) => holds(access.branch, path) && found(name, code)).slice(0, MOST_EACH)
  return hits.map(({ code, name, level, path }) => ({
    kind: level === facilityLevel ? 'facility' : level === districtLevel ? 'district' : 'unit',
    code, name: { en: name }, path: path.slice(0, -1).map(above => names.get(above)).join(' › '), of: newest,
  }))
}

const findRounds = (rounds: readonly Round[], found: Find): SearchHit[] => rounds
  .filter(({ name, period }) => Object.entries(name).some(([language, word]) => found(word, period, periodName(period, language))))
  .slice(0, MOST_EACH).map(round => ({ kind: 'round', code: round.id, name: round.name, path: round.period, of: round.id }))

/** Items of the newest editions, for those who define datasets. */
async function findItems(sql: Pick<Sql, 'query'>, found: Find): Promise<SearchHit[]> {
  const editions = await sql.query<{ dataset: string; name: Words; sections: Edition['sections'] }>(
    `SELECT DISTINCT ON (e.dataset) e.dataset, d.name, e.definition -> 'sections' AS sections FROM edition e JOIN dataset d ON d.code = e.dataset ORDER BY e.dataset, e.number DESC`)
  const items = editions.flatMap(({ dataset, name, sections }) => sections.flatMap(section => section.items.map(item => ({ dataset, name, item }))))
  return items.filter(({ item }) => found(item.code, ...Object.values(item.name))).slice(0, MOST_EACH)
    .map(({ dataset, name, item }) => ({ kind: 'item', code: item.code, name: item.name, path: Object.values(name)[0] ?? '', of: dataset }))
}

/** Cases by any of their answers that are searched for; named by what their register shows of them first. */
async function findCases(access: Access, typed: string): Promise<SearchHit[]> {
  const cases = await listCases(access, { find: typed }, MOST_EACH)
  return cases.map(({ id, register, unit, answers }) => {
    const texts = Object.values(answers).flatMap(content => (content.kind === 'value' && typeof content.value === 'string' ? [content.value] : []))
    return { kind: 'case', code: id, name: { en: texts.slice(0, 2).join(', ') || id.slice(-6) }, path: unit.name, of: register }
  })
}

async function findPeople(access: Access, found: Find): Promise<SearchHit[]> {
  const people = await listPeople(access)
  return people.filter(({ displayName, userName }) => found(displayName, userName)).slice(0, MOST_EACH)
    .map(({ userName, displayName, branch }) => ({ kind: 'person', code: userName, name: { en: displayName }, path: branch?.name ?? '', of: null }))
}

/** What can be jumped to: units of the person's branch, opened rounds, cases, and for those who manage them items and people. */
export async function search(access: Access, typed: string): Promise<SearchHit[]> {
  const parts = fold(typed.trim()).split(/\s+/).filter(Boolean)
  if (!parts.length) return []
  const found: Find = (...texts) => { const text = fold(texts.join(' ')); return parts.every(part => text.includes(part)) }
  const sql = await database()
  const rounds = await openedRounds(sql)
  return [
    ...await findUnits(sql, access, found, rounds[0]?.id ?? null),
    ...findRounds(rounds, found),
    ...may(access.role, 'define') ? await findItems(sql, found) : [],
    ...await findCases(access, typed),
    ...may(access.role, 'managePeople') ? await findPeople(access, found) : [],
  ]
}
