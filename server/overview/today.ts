import type { Today } from '#core/contract/rounds'
import { districtState } from '#core/report/district-state'
import { reporting } from '#core/quality/reporting'
import { isReceived, lanternSign } from '#core/report/state'
import { branchPath, unitAsked, type Access } from '../access/access'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { OFFERED } from '../reports/late-changes'
import { BLOCKS } from '../checks/blocking'
import { changedSinceSigning } from '../district-reports/district-report'
import { REPORT_COLUMNS, stateOf, type ReportRow } from '../reports/place'
import { expectedUnits } from '../units/expected-units'
import { openedRounds, roundById, roundRef, type Round } from '../rounds/round'

interface Counts {
  mustFix: number
  explain: number
  answered: number
  /** Discrepancies that stop the signing. */
  blocking: number
  /** Sent reports without a doubt left. */
  toAccept: number
}

async function countsOf(sql: Pick<Sql, 'query'>, round: string, units: readonly string[]): Promise<Counts> {
  const [doubts] = await sql.query<Omit<Counts, 'toAccept'>>(
    `SELECT count(*) FILTER (WHERE d.strength = 'mustFix')::int AS "mustFix",
       count(*) FILTER (WHERE d.strength = 'explain')::int AS explain,
       count(*) FILTER (WHERE d.state = 'answered')::int AS answered,
       count(*) FILTER (WHERE ${BLOCKS})::int AS blocking
     FROM discrepancy d JOIN report p ON p.id = d.report
     WHERE p.round = $1 AND p.unit = ANY($2::text[]) AND d.state <> 'settled'`,
    [round, units],
  )
  const [clean] = await sql.query<{ count: number }>(
    `SELECT count(*)::int AS count FROM report p WHERE p.round = $1 AND p.unit = ANY($2::text[]) AND p.state = 'sent'
       AND NOT EXISTS (SELECT 1 FROM discrepancy d WHERE d.report = p.id AND ${BLOCKS})`,
    [round, units],
  )
  return { ...doubts!, toAccept: clean!.count }
}

async function roundToday(sql: Pick<Sql, 'query'>, round: Round, unit: { code: string; name: string }) {
  const units = (await expectedUnits(sql, round, unit.code)).map(({ code }) => code)
  const rows = await sql.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report WHERE round = $1 AND unit = ANY($2::text[])`,
    [round.id, units],
  )
  const byUnit = new Map(rows.map(row => [row.unit, row]))
  const dueAt = Date.parse(round.dueAt)
  const signs = units.map(unit => lanternSign(stateOf(byUnit.get(unit)), dueAt, now()))
  const [signed] = await sql.query<{ count: number }>(
    'SELECT count(*)::int AS count FROM signature WHERE round = $1 AND unit = $2',
    [round.id, unit.code],
  )
  const counts = await countsOf(sql, round.id, units)
  const received = rows.filter(row => isReceived(stateOf(row))).length
  return {
    state: districtState({ received, blocking: counts.blocking, signatures: signed!.count }),
    changedSince: signed!.count ? ((await changedSinceSigning(round, unit)) ?? 0) : 0,
    round: roundRef(round),
    reporting: reporting(
      units.map(unit => {
        const report = byUnit.get(unit)
        return {
          received: isReceived(stateOf(report)),
          firstReceivedAt: report?.firstReceivedAt ? Date.parse(report.firstReceivedAt) : null,
        }
      }),
      dueAt,
    ),
    overdue: signs.filter(sign => sign === 'overdue').length,
    drafts: rows.filter(({ state }) => state === 'draft').length,
    ...counts,
  }
}

/** What a demo's administrator sees of the doubts that its generator planted; null in a real installation. */
async function plantedToday(sql: Pick<Sql, 'query'>): Promise<Today['planted']> {
  const [setting] = await sql.query<{ value: { round: string; unit: string; key: string }[] }>(
    `SELECT value FROM setting WHERE key = 'planted'`,
  )
  if (!setting) return null
  const planted = setting.value
  const rounds = [...new Set(planted.map(({ round }) => round))]
  const raised = await sql.query<{ round: string; unit: string; key: string }>(
    `SELECT p.round, p.unit, d.doubt_key AS key FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.round = ANY($1::text[])`,
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
  const rounds = new Map(
    await Promise.all(
      [...new Set(rows.map(({ round }) => round))].map(
        async id => [id, roundRef(await roundById(sql, id))] as const,
      ),
    ),
  )
  return rows.map(({ round, unit, name, changes }) => ({
    round: rounds.get(round)!,
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
  const open = (await openedRounds(sql)).filter(round => now() < Date.parse(round.closesAt))
  const rounds = []
  for (const round of open) rounds.push(await roundToday(sql, round, unit))
  return {
    unit: { code: unit.code, name: unit.name },
    start,
    late: await lateReports(sql, unit.code),
    rounds,
    planted,
  }
}
