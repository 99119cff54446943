import type { NudgeLine, NudgeList, NudgeQuery } from '#core/contract/nudges'
import { branchPath, unitAsked, type Access } from '../access/access'
import { database } from '../database'
import { roundRef, roundsById } from '../rounds/round'

/** How many a page has. */
const PAGE = 50

const SHOWS: Readonly<Record<keyof NudgeList['counts'], string>> = {
  all: 'true',
  pending: 'n.next_at IS NOT NULL',
  notReached: `n.state IN ('refused', 'failed', 'notDelivered')`,
}

type Row = Omit<NudgeLine, 'unit' | 'round'> & { round: string; code: string; unitName: string }

/** A page of the reminders to facilities of a branch, the newest first. @throws Refusal 403, 404 */
export async function listNudges(
  access: Access,
  { show = 'all', unit, after }: NudgeQuery,
): Promise<NudgeList> {
  const sql = await database()
  const { code } = await unitAsked(access, unit)
  const from = 'nudge n JOIN unit_latest u ON u.code = n.unit WHERE u.path @> $1::text[]'
  const branch = branchPath(code)
  const rows = await sql.query<Row>(
    `SELECT n.id, n.round, n.unit AS code, u.name AS "unitName", c.name, n.phone, n.text, n.asked_at AS "askedAt",
       p.display_name AS "askedBy", n.state, n.next_at AS "nextAt", n.tries, n.problem, n.ended_at AS "endedAt"
     FROM (SELECT n.* FROM ${from} AND ${SHOWS[show]}
         AND ($2::uuid IS NULL OR (n.asked_at, n.id) < (SELECT asked_at, id FROM nudge WHERE id = $2))
       ORDER BY n.asked_at DESC, n.id DESC LIMIT ${PAGE + 1}) n
     JOIN unit_latest u ON u.code = n.unit JOIN facility_contact c ON c.id = n.contact JOIN person p ON p.id = n.asked_by
     ORDER BY n.asked_at DESC, n.id DESC`,
    [branch, after ?? null],
  )
  const [counts] = await sql.query<NudgeList['counts']>(
    `SELECT ${Object.entries(SHOWS)
      .map(([name, of]) => `count(*) FILTER (WHERE ${of})::int AS "${name}"`)
      .join(', ')} FROM ${from}`,
    [branch],
  )
  const page = rows.slice(0, PAGE)
  const rounds = await roundsById(
    sql,
    page.map(({ round }) => round),
  )
  return {
    lines: page.map(({ code: unitCode, unitName, round, ...line }) => ({
      ...line,
      unit: { code: unitCode, name: unitName },
      round: roundRef(rounds.get(round)!),
    })),
    more: rows.length > PAGE,
    counts: counts!,
  }
}
