import { v7 as uuid } from 'uuid'
import type { Correction } from '#core/contract/discrepancies'
import { checkNumber } from '#core/report/cell'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { conflict, Refusal } from '../refusal'
import { moveReport } from '../reports/move'
import { reportPlace } from '../reports/place'
import { applyCells } from '../reports/apply-cells'
import { mustBeOpen, roundFor } from '../rounds/closing'
import { findDiscrepancy, type DiscrepancyRow } from './read'
import { noteDiscrepancy, recheck } from '../checks/recheck'

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
  row: DiscrepancyRow,
  corrections: readonly Correction[],
  why: string,
  origin: string,
): Promise<void> {
  if (corrections.length === 0) return
  const place = await reportPlace(sql, access, row.round, row.unit, true)
  const report = place.report!
  for (const { cell, content } of corrections) {
    if (!row.cells.includes(cell))
      throw new Refusal(422, 'not-doubted', 'Only the doubted values can be corrected here.', [
        { code: 'not-doubted', message: cell, at: `cells/${cell}` },
      ])
    const checked =
      content.kind === 'value'
        ? checkNumber(content.value, place.ready.cellByKey.get(cell)!.item.number)
        : undefined
    if (checked && !checked.ok)
      throw new Refusal(422, checked.problems[0]!.code, checked.problems[0]!.message, [
        { ...checked.problems[0]!, at: `cells/${cell}` },
      ])
  }
  const outcomes = await applyCells(
    sql,
    place,
    report,
    access,
    corrections.map(one => ({ ...one, id: uuid(), why })),
    { origin },
  )
  const changed = outcomes.find(({ outcome }) => outcome === 'conflict')
  if (changed) {
    throw conflict(
      'changed-meanwhile',
      'Somebody else changed this value in the meantime. Look at it again.',
      [{ code: 'changed-meanwhile', message: changed.cell, at: `cells/${changed.cell}` }],
    )
  }
  const next = stateAfter(report.state, 'change')
  if (next) await moveReport(sql, report, next, access.id, why)
  await recheck(sql, { ...place, report }, access.id)
}

const wrongState = (row: DiscrepancyRow) =>
  conflict('state', `This discrepancy is ${row.state}: that cannot be done with it now. Look at it again.`)

/**
 * Opens a settled discrepancy again, with the reason. @throws Refusal 409 `state` on one that is not settled.
 */
export async function reopen(access: Access, id: string, text: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const { row } = await findDiscrepancy(tx, access, id)
    if (row.state !== 'settled') throw wrongState(row)
    await setState(tx, id, 'open')
    await noteDiscrepancy(tx, id, 'reopened', access.id, text.trim())
  })
}

/** Asks the facility. @throws Refusal 409 `state` on a settled one. */
export async function ask(access: Access, id: string, text: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const { row } = await findDiscrepancy(tx, access, id)
    if (row.state === 'settled') throw wrongState(row)
    await setState(tx, id, 'asked')
    await noteDiscrepancy(tx, id, 'asked', access.id, text.trim())
  })
}

/** The facility's answer, with the values that it corrects. @throws Refusal 409 `state` on a settled one. */
export async function answer(
  access: Access,
  id: string,
  text: string,
  corrections: readonly Correction[],
): Promise<void> {
  const sql = await database()
  await sql.transaction(tx =>
    answerIn(tx, access, id, text, corrections, { origin: 'questions', mustMay: () => Promise.resolve() }),
  )
}

/** Where an answer comes from. `mustMay` throws when the device may not change the report. */
interface AnswerFrom {
  origin: string
  mustMay: (report: { round: string; unit: string }) => Promise<void>
}

/** The same inside a transaction. Corrections pass the same gates as any other change of a facility. */
export async function answerIn(
  tx: Sql,
  access: Access,
  id: string,
  text: string,
  corrections: readonly Correction[],
  { origin, mustMay }: AnswerFrom,
): Promise<void> {
  const { row, round } = await findDiscrepancy(tx, access, id)
  if (row.state === 'settled') throw wrongState(row)
  if (corrections.length) {
    mustBeOpen(await roundFor(tx, round, row.unit))
    await mustMay({ round: row.round, unit: row.unit })
  }
  await noteDiscrepancy(tx, id, 'answered', access.id, text.trim())
  await setState(tx, id, 'answered')
  await correct(tx, access, row, corrections, text.trim(), origin)
}

/**
 * Settles a discrepancy. *Corrected* holds only when the doubt is gone from the values; *explained* and
 * *dismissed*
 * hold for these values and lapse when they change.
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
    const { row } = await findDiscrepancy(tx, access, id)
    if (row.state === 'settled') throw wrongState(row)
    await correct(tx, access, row, corrections, text.trim(), 'office')
    const { row: after } = await findDiscrepancy(tx, access, id)
    if (outcome === 'corrected' && after.holds)
      throw conflict(
        'still-holds',
        'With these values the doubt is still there. Correct them, or accept the explanation.',
      )
    await setState(tx, id, 'settled', outcome)
    await noteDiscrepancy(tx, id, 'settled', access.id, text.trim())
  })
}
