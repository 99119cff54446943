import type { ReportState } from '#core/report/state'
import { filledBy, mustHold, type Access } from '../access/access'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { notFound, Refusal } from '../refusal'
import { roundFor } from '../rounds/closing'
import { roundById, type Round } from '../rounds/round'
import { expectedUnits, type ExpectedUnit } from '../units/expected-units'

/** A report as the database keeps it; an awaited one has none. */
export interface ReportRow {
  id: number
  round: string
  unit: string
  edition: number
  state: Exclude<ReportState, 'awaited'>
  firstReceivedAt: string | null
  receivedAt: string | null
  /** How many of its cells are answered, and how many are of services that the unit does not offer. */
  answered: number
  notOffered: number
  /** Cells that do not apply by the answers that are there. */
  notApplying: number
}

export const REPORT_COLUMNS = `id, round, unit, edition, state, first_received_at AS "firstReceivedAt", received_at AS "receivedAt",
  answered, not_offered AS "notOffered", not_applying AS "notApplying"`

/** A unit in a round: what a report is found by. */
export interface UnitInRound {
  round: { id: string }
  unit: { code: string }
}
/** A name for it, in maps. */
export const placeKey = ({ round, unit }: UnitInRound): string => `${round.id} ${unit.code}`

/**
 * Where a report stands: its round with the closing time that holds for its unit, its unit as it was then,
 * the edition it is filled in, and its row if it has one.
 */
export interface ReportPlace {
  round: Round
  unit: ExpectedUnit
  report: ReportRow | undefined
  ready: ReadyEdition
}

/**
 * Finds the place of a report for a person.
 * @throws Refusal 404 when the round does not expect the unit, 403 outside the person's branch.
 */
export async function reportPlace(
  sql: Pick<Sql, 'query'>,
  access: Access,
  roundId: string,
  unitCode: string,
): Promise<ReportPlace> {
  return placeOf(sql, access, roundId, unitCode, '')
}

/**
 * The same, alone with the facility for the rest of the transaction: nobody else begins, changes or moves one
 * of its reports meanwhile.
 */
export async function lockedPlace(
  tx: Sql,
  access: Access,
  roundId: string,
  unitCode: string,
): Promise<ReportPlace> {
  await lockFacilities(tx, [unitCode])
  return placeOf(tx, access, roundId, unitCode, 'FOR UPDATE')
}

async function placeOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  roundId: string,
  unitCode: string,
  lock: '' | 'FOR UPDATE',
): Promise<ReportPlace> {
  const round = await roundFor(sql, await roundById(sql, roundId), unitCode)
  const unit = (await expectedUnits(sql, round, unitCode)).find(({ code }) => code === unitCode)
  if (!unit) throw notFound('report: this unit is not expected in this round')
  mustHold(access, unit.path)
  const [report] = await sql.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report WHERE round = $1 AND unit = $2 ${lock}`,
    [roundId, unitCode],
  )
  if (report && access.ownOnly) {
    const [own] = await sql.query(`SELECT 1 FROM report p WHERE p.id = $1 AND ${filledBy('p', '$2')}`, [
      report.id,
      access.id,
    ])
    if (!own) throw new Refusal(403, 'own-only', 'You see only the reports that you filled yourself.')
  }
  return { round, unit, report, ready: await editionOf(sql, round.dataset, report?.edition ?? round.edition) }
}

export const stateOf = (report: ReportRow | undefined): ReportState => report?.state ?? 'awaited'
