import { namePeriod, parsePeriod } from '#core/calendar/period-text'
import type { SearchHit } from '#core/contract/people'
import { branchPath, type Access } from '../access/access'
import { database } from '../database'
import { openedRounds } from '../rounds/round'
import { settings } from '../settings'

const MOST = 12

/** A period as people say it: “September 2026”, “Week 46, 2026”. */
function periodName(text: string, language: string): string {
  const period = parsePeriod(text)
  return period.ok ? namePeriod(period.value, language) : ''
}

/** Does a text hold every word that was typed? */
const hasAll = (text: string, wanted: string): boolean => wanted.split(/\s+/).every(word => text.includes(word))

/** Folds case and accents, so that a name is found however it is typed. */
const fold = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()

/** Units of the person's branch and opened rounds whose name holds what was typed. */
export async function search(access: Access, typed: string): Promise<SearchHit[]> {
  const sql = await database()
  const wanted = fold(typed.trim())
  const { facilityLevel, districtLevel } = await settings()
  const units = await sql.query<{ code: string; name: string; level: number; above: string | null }>(
    `SELECT u.code, u.name, u.level, (SELECT string_agg(a.name, ' › ' ORDER BY a.level) FROM unit_latest a WHERE a.code = ANY(u.path) AND a.code <> u.code) AS above
     FROM unit_latest u WHERE u.path @> $1::text[] AND u.level = ANY($2::int[]) ORDER BY u.level, u.name`,
    [branchPath(access.branch), [districtLevel, facilityLevel]])
  const rounds = await openedRounds(sql)
  const newest = rounds[0]?.id ?? null
  const hits: SearchHit[] = [
    ...units.filter(({ name }) => fold(name).includes(wanted)).map(({ code, name, level, above }): SearchHit => ({
      kind: level === facilityLevel ? 'facility' : 'district', code, name: { en: name }, path: above ?? '', round: newest,
    })),
    ...rounds.filter(({ name, period }) => Object.entries(name).some(([language, word]) => hasAll(fold(`${word} ${period} ${periodName(period, language)}`), wanted))).map((round): SearchHit => ({
      kind: 'round', code: round.id, name: round.name, path: round.period, round: round.id,
    })),
  ]
  return hits.slice(0, MOST)
}
