import type { Sql } from '../../server/database'
import { recheck } from '../../server/checks/recheck'
import { reportPlace } from '../../server/reports/place'
import { VISITS_MADE, VISITS_PLANNED } from '../visits'
import { PERSON_ID } from './places-and-people'
import { EVERYTHING, sayFound } from './work'

const PLANNED_AT = '2026-10-12T10:00:00Z'

const VISIT_ID = (parameter: string) => `md5('visit ' || ${parameter})::uuid`
const RECOUNT_ID = (parameter: string) => `md5('recount ' || ${parameter})::uuid`

/** The visits that officers made and planned, and what they counted again. */
export async function insertVisits(sql: Sql): Promise<void> {
  for (const { unit, officer, plannedFor, note, reasons } of VISITS_PLANNED)
    await sql.query(
      `INSERT INTO visit (id, unit, planned_for, reasons, note, planned_at, planned_by, state)
       VALUES (${VISIT_ID('$1')}, $1, $2, $3::jsonb -> 'reasons', $4, $5, ${PERSON_ID('$6')}, 'planned')`,
      [unit, plannedFor, { reasons }, note, PLANNED_AT, `officer.${officer}`],
    )
  for (const { unit, officer, madeOn, found, reasons, round, recounts } of VISITS_MADE) {
    const by = `officer.${officer}`
    await sql.query(
      `INSERT INTO visit (id, unit, planned_for, reasons, planned_at, planned_by, state, made_on, made_by, outcome)
       SELECT ${VISIT_ID('$1')}, $1, $2, $3::jsonb -> 'reasons', $4, p.id, 'made', $2, p.display_name, $6
       FROM person p WHERE p.user_name = $5`,
      [unit, madeOn, { reasons }, PLANNED_AT, by, found],
    )
    await sql.query(
      `INSERT INTO recount (id, report, visit, counted_on, counted_by, on_paper, at, person)
       SELECT ${RECOUNT_ID('$1')}, r.id, ${VISIT_ID('$1')}, $3, p.display_name, false, $3::date + interval '17 hours', p.id
       FROM report r JOIN person p ON p.user_name = $4 WHERE r.unit = $1 AND r.round = $2`,
      [unit, round, madeOn, by],
    )
    for (const { item, share } of recounts)
      await sql.query(
        `INSERT INTO recount_cell (recount, cell, value)
         SELECT ${RECOUNT_ID('$1')}, v.cell, round(v.value * $4::float8) FROM cell_value v JOIN report r ON r.id = v.report
         WHERE r.unit = $1 AND r.round = $2 AND split_part(v.cell, '.', 1) = $3 AND v.value IS NOT NULL`,
        [unit, round, item, share],
      )
    if (recounts.every(({ share }) => share === 1)) continue
    const place = await reportPlace(sql, EVERYTHING, round, unit)
    await recheck(sql, [{ ...place, report: place.report! }], null)
    await sayFound(sql, [{ report: place.report!.id, at: `${madeOn}T17:00:00Z` }])
  }
  await sql.query(
    `INSERT INTO visit_event (visit, at, person, act, day, text)
     SELECT id, planned_at, planned_by, 'planned', planned_for, note FROM visit
     UNION ALL SELECT id, made_on + interval '18 hours', planned_by, 'made', made_on, outcome FROM visit WHERE state = 'made'`,
  )
}
