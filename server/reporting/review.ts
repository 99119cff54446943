import type { UnitRef } from '#core/contract/common'
import type { ReportState } from '#core/report/state'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { BLOCKS, CLEAN } from '../checks/blocking'
import { conflict } from '../refusal'
import { expectedUnits } from '../units/expected-units'
import { roundById } from '../rounds/round'
import { moveReport } from '../reports/move'
import { REPORT_COLUMNS, lockedPlace, stateOf, type ReportRow } from '../reports/place'

/** Doubts that no longer hold were cured by a correction: accepting the report settles them as such. */
async function settleCured(sql: Sql, report: number, person: string, at: string): Promise<void> {
  await sql.query(
    `WITH cured AS (
       UPDATE discrepancy SET state = 'settled', outcome = 'corrected'
       WHERE report = $1 AND state <> 'settled' AND NOT holds RETURNING id)
     INSERT INTO discrepancy_event (discrepancy, at, person, act, text) SELECT id, $3, $2, 'settled', NULL FROM cured`,
    [report, person, at],
  )
}

async function blockers(sql: Sql, report: number): Promise<number> {
  const [row] = await sql.query<{ count: number }>(
    `SELECT count(*)::int AS count FROM discrepancy d WHERE d.report = $1 AND ${BLOCKS}`,
    [report],
  )
  return row!.count
}

async function acceptRow(sql: Sql, report: ReportRow, person: string, at: string): Promise<void> {
  await settleCured(sql, report.id, person, at)
  await moveReport(sql, report, 'accepted', person)
}

/**
 * Accepts one report. @throws Refusal 409 `state`, or `doubts-left` while doubts are neither corrected nor
 * explained.
 */
export async function acceptReport(access: Access, roundId: string, unit: string, at: string) {
  const sql = await database()
  return sql.transaction(async tx => {
    const { report } = await lockedPlace(tx, access, roundId, unit)
    if (!report || !stateAfter(stateOf(report), 'accept'))
      throw conflict('state', 'Only a report that was sent can be accepted.')
    const left = await blockers(tx, report.id)
    if (left) throw conflict('doubts-left', `${left} doubts about this report are not settled.`)
    await acceptRow(tx, report, access.id, at)
    return { state: 'accepted' as ReportState, receivedAt: report.receivedAt }
  })
}

/**
 * The reports of a round within a branch that a condition holds of, alone with their facilities for the rest of
 * the transaction.
 * @param some only those of these units, if it is said
 */
async function lockedReports(
  tx: Sql,
  roundId: string,
  branch: string | null,
  some: readonly string[] | undefined,
  condition: string,
): Promise<{ report: ReportRow; unit: UnitRef }[]> {
  const expected = await expectedUnits(tx, await roundById(tx, roundId), branch)
  const asked = some && new Set(some)
  const names = new Map(
    expected.flatMap(({ code, name }) => (!asked || asked.has(code) ? [[code, name] as const] : [])),
  )
  const codes = [...names.keys()]
  await lockFacilities(tx, codes)
  const reports = await tx.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report p WHERE p.round = $1 AND p.unit = ANY($2::text[]) AND ${condition} ORDER BY p.unit FOR UPDATE`,
    [roundId, codes],
  )
  return reports.map(report => ({ report, unit: { code: report.unit, name: names.get(report.unit)! } }))
}

/**
 * Accepts every sent report of a round within a branch that has no doubt left.
 * @param some only those of these units, if it is said
 * @returns the units whose reports were accepted
 */
export async function acceptClean(
  access: Access,
  roundId: string,
  branch: string,
  at: string,
  some?: readonly string[],
): Promise<UnitRef[]> {
  const sql = await database()
  return sql.transaction(async tx => {
    const found = await lockedReports(tx, roundId, branch, some, CLEAN)
    for (const { report } of found) await acceptRow(tx, report, access.id, at)
    return found.map(({ unit }) => unit)
  })
}

/**
 * Sends the reports of some units back, with one reason.
 * @returns those that were; what the district has not, or is outside the person's branch, is left alone
 */
export async function sendBackMany(
  access: Access,
  roundId: string,
  units: readonly string[],
  why: string,
): Promise<UnitRef[]> {
  const sql = await database()
  return sql.transaction(async tx => {
    const found = await lockedReports(tx, roundId, access.branch, units, 'true')
    const sentBack: UnitRef[] = []
    for (const { report, unit } of found) {
      const to = stateAfter(report.state, 'sendBack')
      if (!to) continue
      await moveReport(tx, report, to, access.id, why)
      sentBack.push(unit)
    }
    return sentBack
  })
}

/** How long after accepting many at once it can be taken back in one act. */
const UNDO_MS = 5 * 60_000

/**
 * Takes back what this person accepted a moment ago: the reports are sent again, as they were. What the
 * acceptance settled as corrected stays settled: those doubts are gone from the values.
 * @returns how many; those that somebody touched since are left alone.
 */
export async function undoAccept(
  access: Access,
  roundId: string,
  unitCodes: readonly string[],
): Promise<number> {
  const sql = await database()
  return sql.transaction(async tx => {
    const reports = await lockedReports(tx, roundId, access.branch, unitCodes, 'true')
    let undone = 0
    for (const { report } of reports) {
      const [last] = await tx.query<{ person: string; at: string }>(
        'SELECT person, at FROM report_event WHERE report = $1 ORDER BY seq DESC LIMIT 1',
        [report.id],
      )
      const to = stateAfter(report.state, 'undoAccept')
      if (!to || last?.person !== access.id || now() - Date.parse(last.at) > UNDO_MS) continue
      await moveReport(tx, report, to, access.id)
      undone++
    }
    return undone
  })
}

/** Sends a report back to its facility with the reason. @throws Refusal 409 `state` */
export async function sendBack(access: Access, roundId: string, unit: string, why: string) {
  const sql = await database()
  return sql.transaction(async tx => {
    const { report } = await lockedPlace(tx, access, roundId, unit)
    const to = stateAfter(stateOf(report), 'sendBack')
    if (!report || !to) throw conflict('state', 'Only a report that the district has can be sent back.')
    await moveReport(tx, report, to, access.id, why)
    return { state: to, receivedAt: report.receivedAt }
  })
}
