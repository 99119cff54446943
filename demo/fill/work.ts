import type { DemoReport } from '../scenario'
import type { Access } from '../../server/access/access'
import type { Sql } from '../../server/database'
import { recheck } from '../../server/checks/recheck'
import { computeDistrict } from '../../server/district-reports/compute'
import { seal } from '../../server/district-reports/signatures'
import { reportPlace } from '../../server/reports/place'
import { roundById } from '../../server/rounds/round'
import { CONVERSATIONS } from './conversations'
import { PERSON_ID } from './places-and-people'

/** Somebody who may see everything: the filling is nobody's act. */
export const EVERYTHING: Access = {
  id: '',
  userName: '',
  displayName: '',
  role: 'administrator',
  branch: null,
  ownOnly: false,
  without: [],
  sharing: null,
}

/**
 * Checks each received report as the server does, and accepts those that are to be accepted and have no
 * doubt.
 */
export async function raiseDoubts(sql: Sql, reports: readonly DemoReport[]): Promise<void> {
  for (const wanted of reports.filter(({ receivedAt }) => receivedAt)) {
    const place = await reportPlace(sql, EVERYTHING, wanted.round, wanted.unit)
    const report = place.report!
    await recheck(sql, [{ ...place, report }], null)
    await sql.query(`UPDATE discrepancy SET found_at = $2::timestamptz WHERE report = $1`, [
      report.id,
      wanted.receivedAt,
    ])
    await sql.query(
      `UPDATE discrepancy_event SET at = $2::timestamptz WHERE discrepancy IN (SELECT id FROM discrepancy WHERE report = $1)`,
      [report.id, wanted.receivedAt],
    )
    if (wanted.state !== 'accepted') continue
    await sql.query(
      `UPDATE report SET state = 'accepted' WHERE id = $1 AND NOT EXISTS (SELECT 1 FROM discrepancy WHERE report = $1 AND strength <> 'note')`,
      [report.id],
    )
  }
}

/** What officer and facilities have said to each other so far. */
export async function startConversations(sql: Sql): Promise<void> {
  for (const { unit, key, lines } of CONVERSATIONS) {
    const [row] = await sql.query<{ id: string; report: number }>(
      `UPDATE discrepancy d SET state = $3 FROM report p
       WHERE p.id = d.report AND p.unit = $1 AND d.doubt_key = $2 RETURNING d.id, d.report`,
      [unit, key, lines.at(-1)!.act],
    )
    if (!row) throw new Error(`The scenario has no doubt ${key} at ${unit}.`)
    for (const { by, act, at, text } of lines) {
      await sql.query(
        `INSERT INTO discrepancy_event (discrepancy, at, person, act, text) VALUES ($1, $2, ${PERSON_ID('$3')}, $4, $5)`,
        [row.id, at, by, act, text],
      )
    }
    if (unit === 'lowgate') {
      await sql.query(
        `INSERT INTO report_event (report, at, person, from_state, to_state, why) VALUES ($1, $2, ${PERSON_ID('$3')}, 'sent', 'sentBack', $4)`,
        [
          row.report,
          '2026-11-06T18:21:00Z',
          'officer.ashmere',
          'More births than deliveries. Please correct and send again.',
        ],
      )
    }
  }
}

const SIGNED_EARLIER = [
  ['2026-08', '2026-09-11T15:40:00Z'],
  ['2026-09', '2026-10-12T16:05:00Z'],
] as const

/** The district reports of the months before, signed by their officers. */
export async function signEarlier(sql: Sql): Promise<void> {
  const districts = await sql.query<{ code: string; name: string; officer: string }>(
    `SELECT u.code, u.name, p.user_name AS officer FROM unit_latest u JOIN person p ON p.branch = u.code AND p.role = 'officer' WHERE u.level = 2 ORDER BY u.code`,
  )
  for (const [period, at] of SIGNED_EARLIER) {
    const round = await roundById(sql, `monthly_summary~${period}`)
    for (const { officer, ...district } of districts) {
      const { snapshot, checksum } = seal({
        ...(await computeDistrict(sql, round, district)),
        previous: null,
      })
      await sql.query(
        `INSERT INTO signature (id, round, unit, amendment, signed_at, person, checksum, snapshot)
         VALUES (md5($1 || $2)::uuid, $1, $2, 1, $3::timestamptz, ${PERSON_ID('$4')}, $5, $6)`,
        [round.id, district.code, at, officer, checksum, snapshot],
      )
    }
  }
}
