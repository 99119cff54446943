import type { Today } from '#core/contract/rounds'
import { branchPath, seesDataset, unitAsked, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { OFFERED } from '../reports/late-changes'
import { roundRef, roundsById } from '../rounds/round'
import { lastActs } from './last-acts'
import { roundsToday } from './rounds-today'

/** What a demo's administrator sees of the doubts that its generator planted; null in a real installation. */
async function plantedToday(sql: Pick<Sql, 'query'>): Promise<Today['planted']> {
  const rows = await sql.query<{ key: string; value: { round: string; unit: string; key: string }[] }>(
    `SELECT key, value FROM setting WHERE key IN ('planted', 'plantedLater')`,
  )
  const listed = (key: string) => rows.find(row => row.key === key)?.value
  const planted = listed('planted')
  if (!planted) return null
  const [pairs] = await sql.query<{ planted: number; found: number; others: number }>(
    `WITH planted AS (SELECT least(p.one, p.other) AS one, greatest(p.one, p.other) AS other
       FROM setting s, jsonb_to_recordset(s.value) AS p (one uuid, other uuid) WHERE s.key = 'plantedPairs')
     SELECT (SELECT count(*) FROM planted)::int AS planted, count(l.one)::int AS found, count(*) FILTER (WHERE l.one IS NULL AND p.state = 'open')::int AS others
     FROM case_pair p LEFT JOIN planted l ON l.one = p.one AND l.other = p.other`,
  )
  const [cases] = await sql.query<{ planted: number; found: number; others: number }>(
    `WITH planted AS (SELECT p."case", p.key
       FROM setting s, jsonb_to_recordset(s.value) AS p ("case" uuid, key text) WHERE s.key = 'plantedCaseDoubts')
     SELECT (SELECT count(*) FROM planted)::int AS planted, count(l.key)::int AS found,
       count(*) FILTER (WHERE l.key IS NULL)::int AS others
     FROM discrepancy d LEFT JOIN planted l ON l."case" = d.case_id AND l.key = d.doubt_key WHERE d.case_id IS NOT NULL`,
  )
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
    later: listed('plantedLater')?.length ?? 0,
    pairs: pairs!,
    cases: cases!,
  }
}

/** So many of each kind are named. */
const MOST = 50

/** Reports that wait for a decision; `query` gives the round, the unit, its name and how many changes of each. */
async function waitingReports(
  sql: Pick<Sql, 'query'>,
  query: string,
  branch: string,
): Promise<Today['late']> {
  const rows = await sql.query<{ round: string; unit: string; name: string; changes: number }>(query, [
    branchPath(branch),
  ])
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

/** What arrived after its round closed, in the branch. */
const LATE = `SELECT l.round, l.unit, u.name, count(*)::int AS changes FROM late_change l JOIN unit_latest u ON u.code = l.unit
  WHERE ${OFFERED} AND u.path @> $1::text[] GROUP BY l.round, l.unit, u.name ORDER BY max(l.arrived_at) DESC LIMIT ${MOST}`

/** What devices say differently, in the branch. */
const CONFLICTS = `SELECT p.round, p.unit, u.name, count(*)::int AS changes
  FROM field_conflict c JOIN report p ON p.id = c.report JOIN unit_latest u ON u.code = p.unit
  WHERE c.settled_at IS NULL AND p.path @> $1::text[] GROUP BY p.round, p.unit, u.name ORDER BY max(c.at) DESC LIMIT ${MOST}`

/**
 * How far a new installation is; null once a report was begun. The first administrator does not count among
 * its people.
 */
async function startOf(sql: Pick<Sql, 'query'>): Promise<Today['start']> {
  const [start] = await sql.query<NonNullable<Today['start']>>(
    `SELECT (SELECT count(*) FROM unit)::int AS units, greatest((SELECT count(*) FROM person) - 1, 0)::int AS people,
       (SELECT count(DISTINCT dataset) FROM edition)::int AS datasets, (SELECT count(*) FROM device)::int AS devices
     WHERE NOT EXISTS (SELECT 1 FROM report)`,
  )
  return start ?? null
}

/**
 * Rounds that have opened and not yet closed, and what needs somebody, within the branch that was asked for.
 */
export async function today(access: Access, asked?: string): Promise<Today> {
  const sql = await database()
  const [planted, start] = await Promise.all([
    access.role === 'administrator' ? plantedToday(sql) : null,
    startOf(sql),
  ])
  if (start?.units === 0)
    return { unit: null, start, late: [], conflicts: [], rounds: [], lastActs: [], planted }
  const unit = await unitAsked(access, asked)
  const isSeen = ({ round }: { round: { dataset: string } }) => seesDataset(access, round.dataset)
  const [late, conflicts, rounds, acts] = await Promise.all([
    waitingReports(sql, LATE, unit.code),
    waitingReports(sql, CONFLICTS, unit.code),
    roundsToday(sql, unit),
    lastActs(sql, access),
  ])
  return {
    unit: { code: unit.code, name: unit.name },
    start,
    late: late.filter(isSeen),
    conflicts: conflicts.filter(isSeen),
    rounds: rounds.filter(isSeen),
    lastActs: acts,
    planted,
  }
}
