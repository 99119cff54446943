import {
  VISIT_STATES,
  type VisitLine,
  type VisitList,
  type VisitMove,
  type VisitNew,
  type VisitQuery,
  type VisitState,
} from '#core/contract/visits'
import { parseDay } from '#core/calendar/day'
import { branchPath, mustHold, unitAsked, type Access } from '../access/access'
import { newestRegisters } from '../cases/registers'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { conflict, notFound, Refusal } from '../refusal'
import { dayOfPaper, settings, today } from '../settings'
import { reasonsAt } from './proposals'

/** How many a page has. */
const PAGE = 50
/** A visit is planned for a day within a year. */
const FARTHEST_DAYS = 366

/** The registers whose subject is a facility: the forms that are filled at a visit. */
export async function visitRegisters(sql: Pick<Sql, 'query'>) {
  return [...(await newestRegisters(sql)).values()].filter(({ subject }) => subject === 'unit')
}

/** @throws Refusal 422 `visit-day` for a day that is none, is over, or lies more than a year ahead */
async function mustBeAhead(tx: Sql, text: string, at: string): Promise<void> {
  const day = parseDay(text)
  const now = await today(tx)
  if (day.ok && day.value >= now && day.value <= now + FARTHEST_DAYS) return
  const message = 'A visit is planned for today or a later day, within a year.'
  throw new Refusal(422, 'visit-day', message, [{ code: 'visit-day', message, at }])
}

const noteVisit = (
  tx: Sql,
  access: Access,
  visit: string,
  { act, day, text }: { act: string; day: string | null; text: string | null },
): Promise<object[]> =>
  tx.query('INSERT INTO visit_event (visit, at, person, act, day, text) VALUES ($1, $2, $3, $4, $5, $6)', [
    ...[visit, nowText(), access.id, act, day, text],
  ])

async function mustHaveNoOther(tx: Sql, unit: string, id: string): Promise<void> {
  const [other] = await tx.query(`SELECT 1 FROM visit WHERE unit = $1 AND state = 'planned' AND id <> $2`, [
    unit,
    id,
  ])
  if (other) throw conflict('visit-planned', 'A visit to this facility is planned already.')
}

/**
 * Plans a visit to a facility, with what speaks for it now. The same act sent twice plans one.
 *
 * @throws Refusal 403, 404; 409 `visit-planned`, `not-facility`; 422 `visit-day`
 */
export async function planVisit(
  access: Access,
  { id, unit: asked, plannedFor, note }: VisitNew,
): Promise<void> {
  const sql = await database()
  const unit = await unitAsked(access, asked)
  const reasons = await reasonsAt(unit.code)
  await sql.transaction(async tx => {
    if (unit.level !== (await settings(tx)).facilityLevel)
      throw conflict('not-facility', 'A visit is planned to a facility.')
    await lockFacilities(tx, [unit.code])
    const [before] = await tx.query<{ unit: string }>('SELECT unit FROM visit WHERE id = $1', [id])
    if (before && before.unit !== unit.code)
      throw conflict('change-reused', 'This visit is planned to another facility.')
    if (before) return
    await mustBeAhead(tx, plannedFor, 'plannedFor')
    await mustHaveNoOther(tx, unit.code, id)
    await tx.query(
      `INSERT INTO visit (id, unit, planned_for, reasons, note, planned_at, planned_by, state)
       VALUES ($1, $2, $3, $4::jsonb -> 'reasons', $5, $6, $7, 'planned')`,
      [id, unit.code, plannedFor, { reasons }, note?.trim() ?? null, nowText(), access.id],
    )
    await noteVisit(tx, access, id, { act: 'planned', day: plannedFor, text: note?.trim() ?? null })
  })
}

/**
 * Says what becomes of a visit. One that was made or dropped by mistake is planned again.
 *
 * @throws Refusal 403, 404; 409 `state`, `visit-planned`; 422 `visit-day`, `paper-day`
 */
export async function moveVisit(access: Access, id: string, move: VisitMove): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [visit] = await tx.query<{ unit: string; path: string[] }>(
      'SELECT v.unit, u.path FROM visit v JOIN unit_latest u ON u.code = v.unit WHERE v.id = $1',
      [id],
    )
    if (!visit) throw notFound('visit')
    mustHold(access, visit.path)
    await lockFacilities(tx, [visit.unit])
    const [now] = await tx.query<{ state: VisitState }>('SELECT state FROM visit WHERE id = $1', [id])
    const { state } = now!
    if (state !== 'planned' && move.to !== 'planned')
      throw conflict('state', `This visit is ${state}: that cannot be done with it now. Look at it again.`)
    if (move.to === 'made') await dayOfPaper(tx, move.day, 'day')
    if (move.to === 'planned') {
      await mustBeAhead(tx, move.day, 'day')
      await mustHaveNoOther(tx, visit.unit, id)
    }
    const day = move.to === 'dropped' ? null : move.day
    const text = move.to === 'planned' ? null : (move.text?.trim() ?? null)
    await tx.query(
      `UPDATE visit SET state = $2, planned_for = CASE WHEN $2 = 'planned' THEN $3::date ELSE planned_for END,
         made_on = CASE WHEN $2 = 'made' THEN $3::date END, made_by = $4, outcome = $5 WHERE id = $1`,
      [...[id, move.to, day, move.to === 'made' ? move.by.trim() : null, text]],
    )
    await noteVisit(tx, access, id, { act: move.to, day, text })
  })
}

type Row = Omit<VisitLine, 'unit'> & { code: string; unitName: string }

/**
 * A page of the visits to facilities of a branch: those that are planned by their day, the others with the last
 * first.
 *
 * @throws Refusal 403, 404
 */
export async function listVisits(
  access: Access,
  { show = 'planned', unit, after }: VisitQuery,
): Promise<VisitList> {
  const sql = await database()
  const { code } = await unitAsked(access, unit)
  const registers = (await visitRegisters(sql)).map(one => one.code)
  const [sign, order] = show === 'planned' ? ['>', 'ASC'] : ['<', 'DESC']
  const rows = await sql.query<Row>(
    `SELECT v.id, v.unit AS code, u.name AS "unitName", v.planned_for AS "plannedFor", p.display_name AS "plannedBy",
       v.reasons, v.note, v.state, v.made_on AS "madeOn", v.made_by AS "madeBy", v.outcome,
       (SELECT count(*)::int FROM recount r JOIN recount_cell c ON c.recount = r.id
        WHERE r.visit = v.id AND r.withdrawn_at IS NULL) AS recounted,
       (SELECT count(*)::int FROM case_record f
        WHERE f.unit = v.unit AND f.register = ANY($4::text[]) AND f.last_on = v.made_on) AS forms
     FROM visit v JOIN unit_latest u ON u.code = v.unit JOIN person p ON p.id = v.planned_by
     WHERE u.path @> $1::text[] AND v.state = $2
       AND ($3::uuid IS NULL OR (v.planned_for, v.id) ${sign} (SELECT planned_for, id FROM visit WHERE id = $3))
     ORDER BY v.planned_for ${order}, v.id ${order} LIMIT ${PAGE + 1}`,
    [branchPath(code), show, after ?? null, registers],
  )
  const [counts] = await sql.query<VisitList['counts']>(
    `SELECT ${VISIT_STATES.map(state => `count(*) FILTER (WHERE v.state = '${state}')::int AS ${state}`).join(
      ', ',
    )}
     FROM visit v JOIN unit_latest u ON u.code = v.unit WHERE u.path @> $1::text[]`,
    [branchPath(code)],
  )
  return {
    lines: rows.slice(0, PAGE).map(({ code: unitCode, unitName, ...line }) => ({
      ...line,
      unit: { code: unitCode, name: unitName },
    })),
    more: rows.length > PAGE,
    counts: counts!,
  }
}
