import { deadlines, type Timing } from '#core/calendar/deadline'
import type { ReportFrequency } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import type { Consequences, CycleConsequences } from '#core/contract/settings'
import type { Words } from '#core/report/edition'
import { must } from '#core/result'
import { nowText } from '../clock'
import type { Sql } from '../database'
import type { RoundSettings } from '../rounds/open-rounds'

/** A round that has not closed, with when it would open, fall due and close. */
export interface MovedRound {
  id: string
  opensAt: string
  dueAt: string
  closesAt: string
  /** By how many minutes it is due later; earlier when negative. */
  laterBy: number
}

const text = (instant: number) => new Date(instant).toISOString()

/** The rounds that a time zone moves: what has closed stays as it was. */
export async function movedRounds(sql: Pick<Sql, 'query'>, timeZone: string): Promise<MovedRound[]> {
  const open = await sql.query<{ id: string; period: string; dueAt: string; timing: Timing }>(
    `SELECT r.id, r.period, r.due_at AS "dueAt", e.definition -> 'timing' AS timing
     FROM round r JOIN edition e ON e.dataset = r.dataset AND e.number = r.edition WHERE r.closes_at > $1 ORDER BY r.id`,
    [nowText()],
  )
  return open.flatMap(({ id, period, dueAt, timing }) => {
    const next = deadlines(must(parsePeriod(period)), timing, timeZone)
    const laterBy = Math.round((next.dueAt - Date.parse(dueAt)) / 60_000)
    return laterBy
      ? [
          {
            id,
            opensAt: text(next.opensAt),
            dueAt: text(next.dueAt),
            closesAt: text(next.closesAt),
            laterBy,
          },
        ]
      : []
  })
}

/** What another time zone does to reports that are in. */
async function zoneConsequences(
  sql: Pick<Sql, 'query'>,
  timeZone: string,
): Promise<Consequences['timeZone']> {
  const moved = await movedRounds(sql, timeZone)
  if (!moved.length) return { rounds: 0, laterBy: { least: 0, most: 0 }, becomeLate: 0, becomeOnTime: 0 }
  const [counts] = await sql.query<{ becomeLate: number; becomeOnTime: number }>(
    `SELECT count(*) FILTER (WHERE p.first_received_at > g.due_at AND p.first_received_at <= r.due_at)::int AS "becomeLate",
       count(*) FILTER (WHERE p.first_received_at <= g.due_at AND p.first_received_at > r.due_at)::int AS "becomeOnTime"
     FROM unnest($1::text[], $2::timestamptz[]) AS g (id, due_at) JOIN round r ON r.id = g.id JOIN report p ON p.round = r.id`,
    [moved.map(({ id }) => id), moved.map(({ dueAt }) => dueAt)],
  )
  const minutes = moved.map(({ laterBy }) => laterBy)
  return {
    rounds: moved.length,
    laterBy: { least: Math.min(...minutes), most: Math.max(...minutes) },
    ...counts!,
  }
}

/** What another first day does to the rounds of a frequency. What is in keeps them as they are. */
export async function cycleConsequences(
  sql: Pick<Sql, 'query'>,
  frequency: ReportFrequency,
): Promise<CycleConsequences> {
  const datasets = await sql.query<{ name: Words }>(
    'SELECT name FROM dataset WHERE frequency = $1 ORDER BY code',
    [frequency],
  )
  const [counts] = await sql.query<{ rounds: number; reports: number; kept: number }>(
    `SELECT count(*)::int AS rounds, coalesce(sum(reports), 0)::int AS reports, coalesce(sum(kept), 0)::int AS kept
     FROM (SELECT (SELECT count(*) FROM report p WHERE p.round = r.id) AS reports,
         (SELECT count(*) FROM signature s WHERE s.round = r.id) + (SELECT count(*) FROM late_change l WHERE l.round = r.id)
           + (SELECT count(*) FROM let_in i WHERE i.round = r.id) + (SELECT count(*) FROM nudge n WHERE n.round = r.id) + (SELECT count(*) FROM report_file_part f WHERE f.round = r.id) AS kept
       FROM round r JOIN dataset d ON d.code = r.dataset WHERE d.frequency = $1) AS each`,
    [frequency],
  )
  const { rounds, reports, kept } = counts!
  return { datasets: datasets.map(({ name }) => name), rounds, reports, refused: reports + kept > 0 }
}

/** What would change, part by part; null where nothing is asked to change. */
export async function consequencesOf(
  sql: Pick<Sql, 'query'>,
  now: RoundSettings,
  asked: RoundSettings,
): Promise<Consequences> {
  return {
    timeZone: asked.timeZone === now.timeZone ? null : await zoneConsequences(sql, asked.timeZone),
    weeks: asked.firstWeekday === now.firstWeekday ? null : await cycleConsequences(sql, 'week'),
    years: asked.firstMonth === now.firstMonth ? null : await cycleConsequences(sql, 'financialYear'),
  }
}
