import { printDay } from '#core/calendar/day'
import type { RecountChoices, RecountNew, RecountSheet } from '#core/contract/visits'
import { isTypedNumber } from '#core/report/asked'
import { checkNumber, numberOf } from '#core/report/cell'
import { numberKind } from '#core/report/edition'
import { isReceived } from '#core/report/state'
import { unitAsked, type Access } from '../access/access'
import { recheck } from '../checks/recheck'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound, Refusal, refusedBy } from '../refusal'
import { comparedNumbers, recountedCells } from '../recounts/held'
import { cellsOfReports } from '../reports/cells'
import {
  lockedPlace,
  receivedOf,
  reportPlace,
  stateOf,
  type BegunPlace,
  type ReportPlace,
} from '../reports/place'
import { roundRef, roundsById } from '../rounds/round'
import { dayOfPaper } from '../settings'
import { visitRegisters } from './visits'

/** So many of the newest reports of a facility are offered. */
const MOST_REPORTS = 60

/** The reports of a facility that the district has, the newest first. @throws Refusal 403, 404 */
export async function recountChoices(access: Access, asked: string): Promise<RecountChoices> {
  const sql = await database()
  const { code, name } = await unitAsked(access, asked)
  const reports = await sql.query<{ round: string; receivedAt: string; recounted: number }>(
    `SELECT p.round, p.received_at AS "receivedAt",
       (SELECT count(DISTINCT c.cell)::int FROM recount r JOIN recount_cell c ON c.recount = r.id
        WHERE r.report = p.id AND r.withdrawn_at IS NULL) AS recounted
     FROM report p JOIN round n ON n.id = p.round
     WHERE p.unit = $1 AND ${receivedOf('p')} ORDER BY n.last_day DESC, n.dataset LIMIT ${MOST_REPORTS}`,
    [code],
  )
  const rounds = await roundsById(
    sql,
    reports.map(({ round }) => round),
  )
  const [planned] = await sql.query<{ id: string }>(
    `SELECT id FROM visit WHERE unit = $1 AND state = 'planned'`,
    [code],
  )
  return {
    unit: { code, name },
    rounds: reports.map(({ round, ...report }) => ({ ...report, round: roundRef(rounds.get(round)!) })),
    registers: (await visitRegisters(sql)).map(one => ({ code: one.code, name: one.name })),
    planned: planned?.id ?? null,
  }
}

/** @throws Refusal 409 `report-missing` for a report that the district does not have */
function mustBeReceived(place: ReportPlace): BegunPlace {
  const { report } = place
  if (!report || !isReceived(stateOf(report)))
    throw conflict(
      'report-missing',
      'The district does not have this report: there is nothing to hold against.',
    )
  return { ...place, report }
}

/** The cells of a report that can be counted again: numbers that are typed. */
const countable = ({ ready }: Pick<ReportPlace, 'ready'>) =>
  ready.cells.filter(({ item }) => isTypedNumber(item.kind))

/** What is needed to count a report again. @throws Refusal 403, 404, 409 `report-missing` */
export async function recountSheet(access: Access, round: string, unit: string): Promise<RecountSheet> {
  const sql = await database()
  const place = mustBeReceived(await reportPlace(sql, access, round, unit))
  const { report, ready } = place
  const cells = (await cellsOfReports(sql, [report.id])).get(report.id) ?? {}
  const places = new Map(ready.cells.map(({ key }, at) => [key, at]))
  const counted = (await recountedCells(sql, [report.id]))(report.id)
    .filter(({ cell }) => places.has(cell))
    .sort((one, other) => places.get(one.cell)! - places.get(other.cell)!)
  return {
    round: roundRef(place.round),
    unit: { code: place.unit.code, name: place.unit.name },
    edition: ready.edition,
    cells: countable(place).flatMap(({ key }) => (cells[key]?.kind === 'notOffered' ? [] : [key])),
    counted: counted.map(({ cell, value, on, by }) => {
      const reported = numberOf(cells[cell])
      return { cell, recounted: value, reported, on, by, ...comparedNumbers(value, reported ?? NaN) }
    }),
    recounts: await sql.query<RecountSheet['recounts'][number]>(
      `SELECT r.id, r.counted_on AS "countedOn", r.counted_by AS "countedBy", r.on_paper AS "onPaper",
         p.display_name AS by, r.at, (SELECT count(*)::int FROM recount_cell c WHERE c.recount = r.id) AS cells
       FROM recount r JOIN person p ON p.id = r.person
       WHERE r.report = $1 AND r.withdrawn_at IS NULL ORDER BY r.at DESC, r.id DESC LIMIT 50`,
      [report.id],
    ),
  }
}

/** @throws Refusal 422 `recount-cells` with what is wrong at which cell */
function mustBeCountable(place: ReportPlace, cells: RecountNew['cells']): void {
  const known = new Map(countable(place).map(cell => [cell.key, cell]))
  const seen = new Set<string>()
  const problems = cells.flatMap(({ cell, value }) => {
    const at = `cells/${cell}`
    const of = known.get(cell)
    if (!of || seen.has(cell))
      return [{ code: 'recount-cell', message: 'This cannot be counted again, or stands here twice.', at }]
    seen.add(cell)
    const read = checkNumber(value, numberKind(of.item) ?? 'count')
    return read.ok ? [] : read.problems.map(problem => ({ ...problem, at }))
  })
  if (problems.length) throw new Refusal(422, 'recount-cells', 'Some numbers cannot be kept.', problems)
}

/** The visit that a recount belongs to. @throws Refusal 409 `visit-elsewhere` */
async function mustBeVisitTo(tx: Sql, unit: string, visit: string | undefined): Promise<void> {
  if (visit === undefined) return
  const [row] = await tx.query(`SELECT 1 FROM visit WHERE id = $1 AND unit = $2 AND state <> 'dropped'`, [
    visit,
    unit,
  ])
  if (!row) throw conflict('visit-elsewhere', 'There is no such visit to this facility.')
}

/**
 * Saves what a supervisor counted again of a report that the district has, and finds its doubts anew: an item
 * whose recount is farther from the report than the tolerance is a discrepancy. The same act sent twice is one.
 *
 * @throws Refusal 403, 404; 409 `report-missing`, `visit-elsewhere`, `change-reused`; 422 `paper-day`,
 *   `recount-early`, `recount-cells`
 */
export async function saveRecount(
  access: Access,
  roundId: string,
  unit: string,
  { id, visit, countedOn, countedBy, onPaper, cells }: RecountNew,
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const place = mustBeReceived(await lockedPlace(tx, access, roundId, unit))
    const [before] = await tx.query<{ report: number }>('SELECT report FROM recount WHERE id = $1', [id])
    if (before && before.report !== place.report.id)
      throw conflict('change-reused', 'This recount was saved for another report.')
    if (before) return
    const day = await dayOfPaper(tx, countedOn, 'countedOn')
    if (printDay(day) < place.round.firstDay)
      throw refusedBy(
        422,
        [{ code: 'recount-early', message: 'On this day the period had not begun.' }],
        'countedOn',
      )
    mustBeCountable(place, cells)
    await mustBeVisitTo(tx, unit, visit)
    await tx.query(
      `INSERT INTO recount (id, report, visit, counted_on, counted_by, on_paper, at, person)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
      [
        ...[id, place.report.id, visit ?? null, countedOn, countedBy.trim(), onPaper],
        ...[nowText(), access.id],
      ],
    )
    await tx.query(
      'INSERT INTO recount_cell (recount, cell, value) SELECT $1, * FROM unnest($2::text[], $3::float8[])',
      [id, cells.map(({ cell }) => cell), cells.map(({ value }) => value)],
    )
    await recheck(tx, [place], access.id)
  })
}

/** Withdraws a recount that was a mistake. A second time changes nothing. @throws Refusal 403, 404 */
export async function withdrawRecount(access: Access, id: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [of] = await tx.query<{ round: string; unit: string }>(
      'SELECT p.round, p.unit FROM recount r JOIN report p ON p.id = r.report WHERE r.id = $1',
      [id],
    )
    if (!of) throw notFound('recount')
    const place = await lockedPlace(tx, access, of.round, of.unit)
    const withdrawn = await tx.query(
      `UPDATE recount SET withdrawn_at = $2, withdrawn_by = $3 WHERE id = $1 AND withdrawn_at IS NULL RETURNING id`,
      [id, nowText(), access.id],
    )
    if (withdrawn.length && place.report) await recheck(tx, [{ ...place, report: place.report }], access.id)
  })
}
