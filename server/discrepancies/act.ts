import { v7 as uuid } from 'uuid'
import { countKey } from '#core/reconcile/count-doubt'
import type { Correction } from '#core/contract/discrepancies'
import type { Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { recheck } from '../checks/recheck'
import { database, type Sql } from '../database'
import { conflict, notFound, Refusal } from '../refusal'
import { lockedPlace } from '../reports/place'
import { mustBeOpen, roundFor } from '../rounds/closing'
import { findDiscrepancy, lockedDiscrepancy, type LockedDiscrepancy } from './read'
import { holdingDiscrepancy, noteDiscrepancy } from '../doubts/save-found'

async function setState(sql: Sql, id: string, state: string, outcome: string | null = null): Promise<void> {
  await sql.query('UPDATE discrepancy SET state = $2, outcome = $3 WHERE id = $1', [id, state, outcome])
}

/**
 * Writes corrected values of the doubted cells, with the sentence as the reason, and finds the doubts anew.
 * @throws Refusal 422 `not-doubted`, 409 `changed-meanwhile` with what stands there now.
 */
async function correct(
  sql: Sql,
  access: Access,
  { id, report }: LockedDiscrepancy,
  corrections: readonly Correction[],
  why: string,
  origin: string,
): Promise<void> {
  if (corrections.length === 0) return
  const refused = (cell: string, code: string, message: string) =>
    new Refusal(422, code, message, [{ code, message, at: `cells/${cell}` }])
  // What a case says is corrected by a new entry of the facility.
  const row = report === null ? null : (await findDiscrepancy(sql, access, id)).row
  for (const { cell } of corrections)
    if (!row?.cells.includes(cell))
      throw refused(cell, 'not-doubted', 'Only the doubted values can be corrected here.')
  const place = await lockedPlace(sql, access, row!.round, row!.unit)
  const outcomes = await changeReport(
    sql,
    { ...place, report: place.report! },
    access,
    corrections.map(one => ({ ...one, id: uuid(), why })),
    { origin },
    true,
  )
  for (const [at, { outcome, code, message }] of outcomes.entries()) {
    const { cell } = corrections[at]!
    if (outcome === 'refused') throw refused(cell, code!, message!)
    if (outcome === 'conflict')
      throw conflict(
        'changed-meanwhile',
        'Somebody else changed this value in the meantime. Look at it again.',
        [{ code: 'changed-meanwhile', message: cell, at: `cells/${cell}` }],
      )
  }
}

const wrongState = (row: Pick<LockedDiscrepancy, 'state'>) =>
  conflict('state', `This discrepancy is ${row.state}: that cannot be done with it now. Look at it again.`)

/**
 * Opens a settled discrepancy again, with the reason. @throws Refusal 409 `state` on one that is not settled.
 */
export async function reopen(access: Access, id: string, text: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const row = await lockedDiscrepancy(tx, access, id)
    if (row.state !== 'settled') throw wrongState(row)
    await setState(tx, id, 'open')
    await noteDiscrepancy(tx, id, 'reopened', access.id, text.trim())
  })
}

/** Asks the facility. @throws Refusal 409 `state` on a settled one. */
export async function ask(access: Access, id: string, text: string): Promise<void> {
  const sql = await database()
  await sql.transaction(tx => askWithin(tx, access, id, text))
}

async function askWithin(tx: Sql, access: Access, id: string, text: string): Promise<void> {
  const row = await lockedDiscrepancy(tx, access, id)
  if (row.state === 'settled') throw wrongState(row)
  await setState(tx, id, 'asked')
  await noteDiscrepancy(tx, id, 'asked', access.id, text.trim())
}

/**
 * Asks a facility why its report and its register say different numbers. The difference becomes a discrepancy,
 * if it is none yet, and goes by itself when both agree.
 * @param code of the count
 * @throws Refusal 404 `count`, `report`; 409 `count-agrees`, and `state` where it was settled for these numbers
 */
export async function askAboutCount(
  access: Access,
  round: string,
  code: string,
  unit: string,
  text: string,
): Promise<{ discrepancy: string }> {
  const sql = await database()
  return sql.transaction(async tx => {
    const place = await lockedPlace(tx, access, round, unit)
    const { report, ready } = place
    const count = ready.edition.caseCounts?.find(one => one.code === code)
    if (!count) throw notFound('count')
    if (!report?.receivedAt) throw notFound('report')
    await recheck(tx, [{ ...place, report }], access.id, [code])
    const found = await holdingDiscrepancy(tx, report.id, countKey(count))
    if (!found)
      throw conflict('count-agrees', 'The report and the register agree by now. There is nothing to ask.')
    await askWithin(tx, access, found, text)
    return { discrepancy: found }
  })
}

/** Where an answer comes from. `mustMay` throws when the device may not change the report. */
interface AnswerFrom {
  origin: string
  mustMay: (report: { round: string; unit: string }) => Promise<void>
}

/**
 * The facility's answer, with the values that it corrects, in the transaction of the caller. Corrections pass
 * the same gates as any other change of a facility.
 * @throws Refusal 409 `state` on a settled one about a report.
 */
export async function answer(
  tx: Sql,
  access: Access,
  id: string,
  text: string,
  corrections: readonly Correction[],
  { origin, mustMay }: AnswerFrom,
): Promise<void> {
  const row = await lockedDiscrepancy(tx, access, id)
  if (row.state === 'settled' && row.report === null && !corrections.length) {
    // The entry that corrects the case may have come first, and closed it: what was said about it is kept.
    await noteDiscrepancy(tx, id, 'answered', access.id, text.trim())
    return
  }
  if (row.state === 'settled') throw wrongState(row)
  if (corrections.length && row.report !== null) {
    const { row: about, round } = await findDiscrepancy(tx, access, id)
    mustBeOpen(await roundFor(tx, round, about.unit))
    await mustMay({ round: about.round, unit: about.unit })
  }
  await noteDiscrepancy(tx, id, 'answered', access.id, text.trim())
  await setState(tx, id, 'answered')
  await correct(tx, access, row, corrections, text.trim(), origin)
}

/**
 * Settles a discrepancy. *Corrected* holds only when the doubt is gone from the values; *explained* and
 * *dismissed* hold for these values and lapse when they change.
 * @throws Refusal 409 `state`, `still-holds`.
 */
export async function settle(
  access: Access,
  id: string,
  outcome: 'corrected' | 'explained' | 'dismissed',
  text: string,
  corrections: readonly Correction[],
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const row = await lockedDiscrepancy(tx, access, id)
    if (row.state === 'settled') throw wrongState(row)
    await correct(tx, access, row, corrections, text.trim(), 'office')
    const after = await lockedDiscrepancy(tx, access, id)
    if (outcome === 'corrected' && after.holds)
      throw conflict(
        'still-holds',
        'With these values the doubt is still there. Correct them, or accept the explanation.',
      )
    await setState(tx, id, 'settled', outcome)
    await noteDiscrepancy(tx, id, 'settled', access.id, text.trim())
  })
}
