import { RECEIVED_STATES, type ReportState } from '#core/report/state'
import { filledBy, mustHold, notShared, seesDataset, type Access } from '../access/access'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import type { Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { msOf, numberOrNull, rowsOfText, rowText } from '../database/row-text'
import { notFound, Refusal } from '../refusal'
import { roundsFor } from '../rounds/closing'
import { roundById, roundsById, type Round } from '../rounds/round'
import { expectedOf, type ExpectedUnit } from '../units/expected-units'

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

/** The reports of some rounds that are begun, in a branch. */
export async function reportsOfRounds(
  sql: Pick<Sql, 'query'>,
  rounds: readonly string[],
  branch: string,
): Promise<ReportRow[]> {
  const columns = rowText(
    ...['id', 'round', 'unit', 'edition', 'state', msOf('first_received_at'), msOf('received_at')],
    ...['answered', 'not_offered', 'not_applying'],
  )
  const [found] = await sql.query<{ reports: string | null }>(
    `SELECT ${columns} AS reports FROM report WHERE round = ANY($1::text[]) AND path @> $2::text[]`,
    [rounds, [branch]],
  )
  return rowsOfText(found!.reports).map(
    ([id, round, unit, edition, state, first, received, answered, notOffered, notApplying]) => ({
      id: Number(id),
      round: round!,
      unit: unit!,
      edition: Number(edition),
      state: state as ReportRow['state'],
      firstReceivedAt: instantOfMs(numberOrNull(first!)),
      receivedAt: instantOfMs(numberOrNull(received!)),
      answered: Number(answered),
      notOffered: Number(notOffered),
      notApplying: Number(notApplying),
    }),
  )
}

const instantOfMs = (ms: number | null): string | null => (ms === null ? null : new Date(ms).toISOString())

/**
 * For queries: that the district has a report, as `isReceived` of core says.
 * @example receivedOf('p') // "p.state IN ('sent', 'accepted')"
 */
export const receivedOf = (report: string): string =>
  `${report}.state IN (${RECEIVED_STATES.map(state => `'${state}'`).join(', ')})`

/** A unit in a round: what a report is found by. */
export interface UnitInRound {
  round: { id: string }
  unit: { code: string }
}
/** A name for it, in maps. */
export const placeKey = ({ round, unit }: UnitInRound): string =>
  reportKey({ round: round.id, unit: unit.code })
/** The same of a row that says both by their names. */
export const reportKey = ({ round, unit }: PlaceAsked): string => `${round} ${unit}`

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

/** The same of a report that was begun. */
export type BegunPlace = ReportPlace & { report: ReportRow }

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
  return (await placesOf(sql, access, [{ round: roundId, unit: unitCode }], ''))[0]!
}

/**
 * The same of several, alone with their facilities for the rest of the transaction: nobody else begins, changes or
 * moves one of their reports meanwhile. In their order. @throws Refusal as {@link reportPlace}, for the first of them
 */
export async function lockedPlaces(
  tx: Sql,
  access: Access,
  asked: readonly PlaceAsked[],
): Promise<ReportPlace[]> {
  await lockFacilities(
    tx,
    asked.map(({ unit }) => unit),
  )
  return placesOf(tx, access, asked, 'FOR UPDATE')
}

/** The same of one. */
export const lockedPlace = async (
  tx: Sql,
  access: Access,
  round: string,
  unit: string,
): Promise<ReportPlace> => (await lockedPlaces(tx, access, [{ round, unit }]))[0]!

/** A round and a unit by their names. */
export interface PlaceAsked {
  round: string
  unit: string
}

async function placesOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  asked: readonly PlaceAsked[],
  lock: '' | 'FOR UPDATE',
): Promise<ReportPlace[]> {
  const known = await roundsById(
    sql,
    asked.map(({ round }) => round),
  )
  const expected = await expectedOf(
    sql,
    [...known.values()],
    asked.map(({ unit }) => unit),
  )
  const found: { round: Round; unit: ExpectedUnit }[] = []
  for (const one of asked) {
    const round = known.get(one.round) ?? (await roundById(sql, one.round))
    const unit = expected.get(round.id)?.find(({ code }) => code === one.unit)
    if (!unit) throw notFound('report: this unit is not expected in this round')
    mustHold(access, unit.path)
    if (!seesDataset(access, round.dataset)) throw notShared()
    found.push({ round, unit })
  }
  const rounds = await roundsFor(
    sql,
    found.map(({ round, unit }) => ({ round, unit: unit.code })),
  )
  const reports = await sql.query<ReportRow>(
    `SELECT ${REPORT_COLUMNS} FROM report WHERE (round, unit) IN (SELECT * FROM unnest($1::text[], $2::text[])) ${lock}`,
    [asked.map(({ round }) => round), asked.map(({ unit }) => unit)],
  )
  if (access.ownOnly) await mustBeOwn(sql, access, reports)
  const reportAt = new Map(reports.map(report => [reportKey(report), report]))
  const places: ReportPlace[] = []
  for (const [at, { unit }] of found.entries()) {
    const round = rounds[at]!
    const report = reportAt.get(placeKey({ round, unit }))
    const ready = await editionOf(sql, round.dataset, report?.edition ?? round.edition)
    places.push({ round, unit, report, ready })
  }
  return places
}

/** @throws Refusal 403 `own-only` */
async function mustBeOwn(
  sql: Pick<Sql, 'query'>,
  access: Access,
  reports: readonly ReportRow[],
): Promise<void> {
  const own = await sql.query(
    `SELECT 1 FROM report p WHERE p.id = ANY($1::bigint[]) AND ${filledBy('p', '$2')}`,
    [reports.map(({ id }) => id), access.id],
  )
  if (own.length < reports.length)
    throw new Refusal(403, 'own-only', 'You see only the reports that you filled yourself.')
}

export const stateOf = (report: ReportRow | undefined): ReportState => report?.state ?? 'awaited'
