import type { Today } from '#core/contract/rounds'
import { branchPath, unitAsked, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { OFFERED } from '../reports/late-changes'
import { roundRef, roundsById } from '../rounds/round'
import { roundsToday } from './rounds-today'

/** What a demo's administrator sees of the doubts that its generator planted; null in a real installation. */
async function plantedToday(sql: Pick<Sql, 'query'>): Promise<Today['planted']> {
  const [setting] = await sql.query<{ value: { round: string; unit: string; key: string }[] }>(
    `SELECT value FROM setting WHERE key = 'planted'`,
  )
  if (!setting) return null
  const planted = setting.value
  const rounds = [...new Set(planted.map(({ round }) => round))]
  const raised = await sql.query<{ round: string; unit: string; key: string }>(
    `SELECT d.round, p.unit, d.doubt_key AS key FROM discrepancy d JOIN report p ON p.id = d.report WHERE d.round = ANY($1::text[])`,
    [rounds],
  )
  const nameOf = ({ round, unit, key }: { round: string; unit: string; key: string }) =>
    `${round} ${unit} ${key}`
  const names = new Set(raised.map(nameOf))
  const found = planted.filter(doubt => names.has(nameOf(doubt))).length
  const plantedNames = new Set(planted.map(nameOf))
  return {
    planted: planted.length,
    found,
    others: raised.filter(doubt => !plantedNames.has(nameOf(doubt))).length,
  }
}

const MOST_LATE = 50

/** What arrived after its round closed, in the branch, and waits for a decision. */
async function lateReports(sql: Pick<Sql, 'query'>, branch: string): Promise<Today['late']> {
  const rows = await sql.query<{ round: string; unit: string; name: string; changes: number }>(
    `SELECT l.round, l.unit, u.name, count(*)::int AS changes FROM late_change l JOIN unit_latest u ON u.code = l.unit
     WHERE ${OFFERED} AND u.path @> $1::text[] GROUP BY l.round, l.unit, u.name ORDER BY max(l.arrived_at) DESC LIMIT ${MOST_LATE}`,
    [branchPath(branch)],
  )
  const rounds = await roundsById(
    sql,
    rows.map(({ round }) => round),
  )
  return rows.map(({ round, unit, name, changes }) => ({
    round: roundRef(rounds.get(round)!),
    unit: { code: unit, name },
    changes,
  }))
}

/**
 * How far a new installation is; null once a report was begun. The first administrator does not count among
 * its people.
 */
async function startOf(sql: Pick<Sql, 'query'>): Promise<Today['start']> {
  const [counts] = await sql.query<NonNullable<Today['start']> & { isUsed: boolean }>(
    `SELECT (SELECT count(*) FROM unit)::int AS units, greatest((SELECT count(*) FROM person) - 1, 0)::int AS people,
       (SELECT count(DISTINCT dataset) FROM edition)::int AS datasets, (SELECT count(*) FROM device)::int AS devices, EXISTS (SELECT 1 FROM report) AS "isUsed"`,
  )
  const { isUsed, ...start } = counts!
  return isUsed ? null : start
}

/**
 * Rounds that have opened and not yet closed, and what needs somebody, within the branch that was asked for.
 */
export async function today(access: Access, asked?: string): Promise<Today> {
  const sql = await database()
  const planted = access.role === 'administrator' ? await plantedToday(sql) : null
  const [any] = await sql.query('SELECT 1 FROM unit LIMIT 1')
  const start = await startOf(sql)
  if (!any) return { unit: null, start, late: [], rounds: [], planted }
  const unit = await unitAsked(access, asked)
  return {
    unit: { code: unit.code, name: unit.name },
    start,
    late: await lateReports(sql, unit.code),
    rounds: await roundsToday(sql, unit),
    planted,
  }
}
