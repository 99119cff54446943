import { printDay } from '#core/calendar/day'
import type { FacilityFile } from '#core/contract/facility'
import { MOST_ROUNDS_SHOWN } from '#core/contract/over-time'
import { may } from '#core/contract/permission'
import { groupBy } from '#core/group-by'
import { seesDataset, unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { contactsOf } from '../nudges/contacts'
import { roundRef, roundsWhere, type Round } from '../rounds/round'
import { today } from '../settings'
import { marksIn } from './over-time'

/** How many people, and devices, of one facility are told. */
const MOST = 20

/** How far back it is told how a facility reported. */
const YEARS = 2

/** What the tree says of a unit today. */
async function placeOf(sql: Pick<Sql, 'query'>, code: string, path: readonly string[]) {
  const above = await sql.query<{ code: string; name: string }>(
    'SELECT code, name FROM unit_latest WHERE code = ANY($1::text[]) ORDER BY array_position($1::text[], code)',
    [path],
  )
  const [unit] = await sql.query<{
    kind: string
    latitude: number | null
    longitude: number | null
    open: boolean
  }>(
    `SELECT l.kind, u.latitude, u.longitude, l.from_day <= $2 AND (l.to_day IS NULL OR l.to_day > $2) AS open
     FROM unit_latest l JOIN unit u ON u.code = l.code WHERE l.code = $1`,
    [code, printDay(await today(sql))],
  )
  const { kind, latitude, longitude, open } = unit!
  return {
    path: above,
    ...{ kind, open },
    position: latitude === null || longitude === null ? null : { latitude, longitude },
  }
}

/**
 * The rounds of the last years of every dataset whose period is over, oldest first; of days and weeks the last
 * ones.
 */
async function roundsBehind(sql: Pick<Sql, 'query'>): Promise<Round[]> {
  return roundsWhere(
    sql,
    `r.id IN (SELECT n.id FROM dataset s CROSS JOIN LATERAL (
       SELECT m.id FROM round m WHERE m.dataset = s.code AND m.opens_at <= $1 AND m.last_day < $2
         AND m.last_day > $1::timestamptz::date - interval '${YEARS} years' ORDER BY m.last_day DESC LIMIT ${MOST_ROUNDS_SHOWN}) n)
     ORDER BY r.dataset, r.last_day`,
    [nowText(), printDay(await today(sql))],
  )
}

/** How a unit reported each dataset that it was expected to. */
async function reportingBehind(
  sql: Pick<Sql, 'query'>,
  access: Access,
  unit: string,
): Promise<FacilityFile['reporting']> {
  const rounds = (await roundsBehind(sql)).filter(({ dataset }) => seesDataset(access, dataset))
  const marks = await marksIn(sql, rounds, unit)
  const left = await sql.query<{ dataset: string; count: number }>(
    `SELECT dataset, count(DISTINCT item)::int AS count FROM not_offered
     WHERE unit = $1 AND from_day <= $2 AND (to_day IS NULL OR to_day > $2) GROUP BY dataset`,
    [unit, printDay(await today(sql))],
  )
  const leftOf = new Map(left.map(({ dataset, count }) => [dataset, count]))
  const placed = rounds.map((round, at) => ({ round, mark: marks[at]!.get(unit) ?? null }))
  return [...groupBy(placed, ({ round }) => round.dataset)].flatMap(([dataset, own]) =>
    own.some(({ mark }) => mark)
      ? [
          {
            rounds: own.map(({ round }) => roundRef(round)),
            marks: own.map(({ mark }) => mark),
            notOffered: leftOf.get(dataset) ?? 0,
          },
        ]
      : [],
  )
}

/** All that is known of one facility: whom to call, what it has, and how it reported. @throws Refusal 403, 404 */
export async function facilityFile(access: Access, asked: string): Promise<FacilityFile> {
  const sql = await database()
  const { code, name, path } = await unitAsked(access, asked)
  return {
    unit: { code, name },
    ...(await placeOf(sql, code, path)),
    contacts: may(access, 'nudge') ? await contactsOf(sql, code) : [],
    people: await sql.query<FacilityFile['people'][number]>(
      `SELECT display_name AS name, role, last_seen_at AS "lastSeenAt" FROM person
       WHERE branch = $1 AND active AND role <> 'machine' ORDER BY display_name LIMIT ${MOST}`,
      [code],
    ),
    devices: await sql.query<FacilityFile['devices'][number]>(
      `SELECT id, name, last_contact_at AS "lastContactAt", waiting, blocked_at IS NOT NULL AS blocked FROM device
       WHERE unit = $1 ORDER BY blocked_at IS NOT NULL, last_contact_at DESC NULLS LAST, id LIMIT ${MOST}`,
      [code],
    ),
    reporting: await reportingBehind(sql, access, code),
  }
}
