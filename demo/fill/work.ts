import { groupBy } from '#core/group-by'
import type { DemoReport } from '../scenario'
import type { Access } from '../../server/access/access'
import type { Sql } from '../../server/database'
import { recheck } from '../../server/checks/recheck'
import { computeDistrict } from '../../server/district-reports/compute'
import { seal } from '../../server/district-reports/signatures'
import { lockedPlaces, type BegunPlace } from '../../server/reports/place'
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

/** The doubts of reports that were found now were found at another time. */
export async function sayFound(sql: Sql, reports: readonly { report: number; at: string }[]): Promise<void> {
  const ids = reports.map(({ report }) => report)
  await sql.query(
    `UPDATE discrepancy d SET found_at = g.at FROM unnest($1::bigint[], $2::timestamptz[]) AS g (report, at)
     WHERE d.report = g.report AND d.found_at > g.at`,
    [ids, reports.map(({ at }) => at)],
  )
  await sql.query(
    `UPDATE discrepancy_event e SET at = d.found_at FROM discrepancy d
     WHERE d.id = e.discrepancy AND d.report = ANY($1::bigint[])`,
    [ids],
  )
}

/**
 * Checks each received report as the server does, and accepts those that are to be accepted and have no
 * doubt.
 */
export async function raiseDoubts(sql: Sql, reports: readonly DemoReport[]): Promise<void> {
  const received = reports.filter(({ receivedAt }) => receivedAt)
  for (const own of groupBy(received, ({ round }) => round).values()) {
    const places = (await lockedPlaces(sql, EVERYTHING, own)) as BegunPlace[]
    await recheck(sql, places, null)
    const ids = places.map(({ report }) => report.id)
    await sayFound(
      sql,
      own.map(({ receivedAt }, number) => ({ report: ids[number]!, at: receivedAt! })),
    )
    await sql.query(
      `UPDATE report p SET state = 'accepted' WHERE p.id = ANY($1::bigint[])
       AND NOT EXISTS (SELECT 1 FROM discrepancy d WHERE d.report = p.id AND d.strength <> 'note')`,
      [ids.filter((_, number) => own[number]!.state === 'accepted')],
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
