import { dayAt, deadlines } from '#core/calendar/deadline'
import { parseDay, printDay } from '#core/calendar/day'
import { firstDay, lastDay, periodOfDay, periodsBetween, shiftPeriod } from '#core/calendar/period'
import { printPeriod } from '#core/calendar/period-text'
import type { Edition } from '#core/report/edition'
import { must } from '#core/result'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { settings } from '../settings'

/**
 * Makes the rounds of each dataset from its first assignment up to those that are open now. Safe to repeat.
 */
export async function openRounds(): Promise<void> {
  const { timeZone } = await settings()
  const sql = await database()
  await sql.transaction(tx => openRoundsAt(tx, now(), timeZone))
}

/** The same at a given instant, inside a transaction. */
export async function openRoundsAt(sql: Sql, at: number, timeZone: string): Promise<void> {
  const datasets = await sql.query<{ code: string; number: number; definition: Edition; first: string }>(
    `SELECT DISTINCT ON (e.dataset) e.dataset AS code, e.number, e.definition,
       (SELECT min(from_day) FROM assignment a WHERE a.dataset = e.dataset) AS first
     FROM edition e ORDER BY e.dataset, e.number DESC`,
  )
  for (const { code, number, definition, first } of datasets) {
    if (!first) continue
    const { frequency, timing } = definition
    const from = periodOfDay(frequency, must(parseDay(first)))
    const upTo = shiftPeriod(periodOfDay(frequency, dayAt(at, timeZone)), timing.opensAhead)
    for (const period of periodsBetween(from, upTo)) {
      const { opensAt, dueAt, closesAt } = deadlines(period, timing, timeZone)
      if (opensAt > at) continue
      const [openText, dueText, closeText] = [opensAt, dueAt, closesAt].map(instant =>
        new Date(instant).toISOString(),
      ) as [string, string, string]
      await sql.query(
        `INSERT INTO round (id, dataset, edition, period, first_day, last_day, opens_at, due_at, closes_at)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) ON CONFLICT DO NOTHING`,
        [
          `${code}~${printPeriod(period)}`,
          code,
          number,
          printPeriod(period),
          printDay(firstDay(period)),
          printDay(lastDay(period)),
          openText,
          dueText,
          closeText,
        ],
      )
    }
  }
}
