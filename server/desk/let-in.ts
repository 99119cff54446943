import { dayAt, startOfDay } from '#core/calendar/deadline'
import { parseDay } from '#core/calendar/day'
import { must } from '#core/result'
import { accessById, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, Refusal } from '../refusal'
import { lockedPlace } from '../reports/place'
import { settings } from '../settings'
import { deviceById } from './devices'
import { OFFERED } from '../reports/late-changes'
import { lateGroups, noteApplied } from './late-changes'
import { applyInTransaction } from './send'

/** For how many days a facility is let in at the most. */
const MOST_DAYS = 60

/**
 * Lets one facility fill and send one report after its round closed. What had arrived after the closing is
 * applied in the same act, as the person who made it; what cannot be applied stays offered with the reason.
 *
 * @param day the last day on which the report is open to the facility, as 2026-11-30
 * @throws Refusal 422 `let-in-day` for a day that is over, or too far away
 */
export async function letIn(
  access: Access,
  roundId: string,
  unit: string,
  day: string,
  why: string,
): Promise<{ until: string; applied: number; left: number }> {
  const { timeZone } = await settings()
  const sql = await database()
  return sql.transaction(async tx => {
    await lockedPlace(tx, access, roundId, unit)
    const last = must(parseDay(day))
    const today = dayAt(now(), timeZone)
    if (last < today || last > today + MOST_DAYS)
      throw new Refusal(422, 'let-in-day', `Choose a day from today up to ${MOST_DAYS} days ahead.`)
    const until = new Date(startOfDay(last + 1, timeZone)).toISOString()
    await tx.query(
      'INSERT INTO let_in (round, unit, until, why, person, at) VALUES ($1, $2, $3, $4, $5, $6)',
      [roundId, unit, until, why.trim(), access.id, nowText()],
    )
    return { until, ...(await applyLate(tx, access, roundId, unit, timeZone)) }
  })
}

async function applyLate(
  tx: Sql,
  access: Access,
  round: string,
  unit: string,
  timeZone: string,
): Promise<{ applied: number; left: number }> {
  let [applied, left] = [0, 0]
  for (const { person, device, changes } of await lateGroups(tx, round, unit)) {
    const sending = {
      access: await accessById(person, tx),
      device: await deviceById(tx, device),
      timeZone,
      correctTime: (madeAt: string) => madeAt,
    }
    const outcomes = await applyInTransaction(tx, sending, changes)
    await noteApplied(tx, outcomes, access.id)
    const refused = outcomes.filter(({ outcome }) => outcome === 'refused' || outcome === 'early').length
    applied += outcomes.length - refused
    left += refused
  }
  return { applied, left }
}

/**
 * Decides that what arrived after closing stays out of the report. It is kept, and the device hears why.
 * @throws Refusal 409 `nothing-offered`.
 */
export async function leaveOutLate(
  access: Access,
  roundId: string,
  unit: string,
  why: string,
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await lockedPlace(tx, access, roundId, unit)
    const rows = await tx.query(
      `UPDATE late_change SET outcome = 'leftOut', settled_at = $3, settled_by = $4, why = $5 WHERE round = $1 AND unit = $2 AND ${OFFERED} RETURNING id`,
      [roundId, unit, nowText(), access.id, why.trim()],
    )
    if (!rows.length)
      throw conflict('nothing-offered', 'Nothing that arrived after closing waits for a decision.')
  })
}
