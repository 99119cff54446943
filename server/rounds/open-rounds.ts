import { dayAt, deadlines } from '#core/calendar/deadline'
import { parseDay, printDay } from '#core/calendar/day'
import { cycleOf, firstDay, lastDay, periodOfDay, periodsBetween, shiftPeriod } from '#core/calendar/period'
import { printPeriod } from '#core/calendar/period-text'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { settingsHeld, type Settings } from '../settings'

/**
 * Makes the rounds of each dataset from its first assignment up to those that are open now. Safe to repeat.
 * @returns how many were made
 */
export async function openRounds(): Promise<number> {
  const sql = await database()
  return sql.transaction(async tx => openRoundsAt(tx, now(), await settingsHeld(tx)))
}

/** What rounds are made by. */
export type RoundSettings = Pick<Settings, 'timeZone' | 'firstWeekday' | 'firstMonth'>

/** A dataset with what its next rounds are made of. */
interface DatasetNow {
  code: string
  number: number
  definition: Edition
  /** The first day on which it is assigned to anybody. */
  first: string | null
  /** First days of its oldest and newest round. */
  oldest: string | null
  newest: string | null
}

/** The periods in which a dataset is reported by an instant, and for which it has no round yet. */
function missingPeriods(
  { definition, first, oldest, newest }: DatasetNow,
  at: number,
  { timeZone, ...calendar }: RoundSettings,
) {
  if (!first) return []
  const { frequency, timing } = definition
  const cycle = cycleOf(frequency, calendar)
  const upTo = shiftPeriod(periodOfDay(cycle, dayAt(at, timeZone)), timing.opensAhead)
  return periodsBetween(periodOfDay(cycle, must(parseDay(first))), upTo)
    .filter(period => !oldest || printDay(firstDay(period)) < oldest || printDay(firstDay(period)) > newest!)
    .map(period => ({ period, ...deadlines(period, timing, timeZone) }))
    .filter(({ opensAt }) => opensAt <= at)
}

/**
 * The same at a given instant, inside a transaction that holds the settings: one statement for each dataset
 * that lacks a round.
 */
export async function openRoundsAt(sql: Sql, at: number, held: RoundSettings): Promise<number> {
  const datasets = await sql.query<DatasetNow>(
    `SELECT DISTINCT ON (e.dataset) e.dataset AS code, e.number, e.definition, a.first, r.oldest, r.newest
     FROM edition e
       LEFT JOIN LATERAL (SELECT min(from_day) AS first FROM assignment WHERE dataset = e.dataset) a ON true
       LEFT JOIN LATERAL (SELECT min(first_day) AS oldest, max(first_day) AS newest FROM round WHERE dataset = e.dataset) r ON true
     ORDER BY e.dataset, e.number DESC`,
  )
  let made = 0
  const instant = (milliseconds: number) => new Date(milliseconds).toISOString()
  for (const dataset of datasets) {
    const missing = missingPeriods(dataset, at, held)
    if (!missing.length) continue
    const rounds = await sql.query(
      `INSERT INTO round (id, dataset, edition, period, first_day, last_day, opens_at, due_at, closes_at)
       SELECT $1 || '~' || period, $1, $2, period, first_day, last_day, opens_at, due_at, closes_at
       FROM unnest($3::text[], $4::date[], $5::date[], $6::timestamptz[], $7::timestamptz[], $8::timestamptz[])
         AS g (period, first_day, last_day, opens_at, due_at, closes_at) ON CONFLICT DO NOTHING RETURNING id`,
      [
        dataset.code,
        dataset.number,
        missing.map(({ period }) => printPeriod(period)),
        missing.map(({ period }) => printDay(firstDay(period))),
        missing.map(({ period }) => printDay(lastDay(period))),
        missing.map(({ opensAt }) => instant(opensAt)),
        missing.map(({ dueAt }) => instant(dueAt)),
        missing.map(({ closesAt }) => instant(closesAt)),
      ],
    )
    made += rounds.length
  }
  return made
}
