import type { NudgeState } from '#core/contract/nudges'
import type { Sql } from '../../server/database'
import { messagesFor } from '../../server/nudges/messages'
import type { DemoPerson } from '../people'
import { PERSON_ID } from './places-and-people'
import { EVERYTHING } from './work'

/**
 * A number that nobody has: 999 is the code of no country (ITU-T E.164, list of assigned codes; from memory). The
 * last two digits stay below those that the stand-in gateway treats otherwise, but for a few facilities.
 */
const numberOf = (at: number): string =>
  `+99941203${String(100 + Math.floor(at / 80)).slice(1)}${String(10 + (at % 80))}`

/** Facilities whose number the stand-in refuses, delivers late, or never. */
const OTHERWISE: Readonly<Record<string, string>> = {
  millrace: '+9994120399093',
  lowgate: '+9994120399092',
  weir_street: '+9994120399090',
}

/** Whom to call at each facility: its clerks. Those of the islands write French. */
export async function insertContactsOfFacilities(sql: Sql, people: readonly DemoPerson[]): Promise<void> {
  const clerks = people.filter(({ role }) => role === 'clerk')
  for (const [at, { userName, displayName, branch }] of clerks.entries())
    await sql.query(
      `INSERT INTO facility_contact (id, unit, name, phone, language, nudges, added_at, added_by)
       SELECT md5('contact ' || $1)::uuid, l.code, $2, $4, CASE WHEN $5 = ANY(l.path) THEN 'fr' ELSE 'en' END, true,
         '2026-01-12T10:00:00Z', ${PERSON_ID('$6')} FROM unit_latest l WHERE l.code = $3`,
      [userName, displayName, branch, OTHERWISE[branch!] ?? numberOf(at), 'quillan_isles_district', 'admin'],
    )
}

/** What became of the reminders, one after the other. */
const BECAME: readonly NudgeState[] = ['delivered', 'delivered', 'notDelivered', 'delivered']
/** What was reminded of, and when: rounds that some facilities have still not reported. */
const REMINDED = [
  { round: 'equipment~2026-Q3', at: '2026-10-21T11:20:00Z', ended: '2026-10-21T11:22:00Z' },
  { round: 'weekly_diseases~2026-W44', at: '2026-11-04T11:20:00Z', ended: '2026-11-04T11:22:00Z' },
]

/** The reminders that officers sent about reports that are still missing. */
export async function insertNudges(sql: Sql): Promise<void> {
  const units = await sql.query<{ code: string; officer: string }>(
    `SELECT u.code, p.id AS officer FROM unit_latest u JOIN person p ON p.role = 'officer' AND p.branch = ANY(u.path)`,
  )
  const officerOf = new Map(units.map(({ code, officer }) => [code, officer]))
  for (const { round, at, ended } of REMINDED) {
    const { messages } = await messagesFor(sql, EVERYTHING, round, [...officerOf.keys()])
    for (const [number, { unit, contact, text }] of messages.entries())
      await sql.query(
        `INSERT INTO nudge (id, round, unit, contact, phone, language, text, asked_at, asked_by, state, tries, taken_at, ended_at)
         VALUES (md5('nudge ' || $1 || $2)::uuid, $2, $3, $4, $5, $6, $7, $8, $9, $10, 1, $8, $11)`,
        [
          ...[String(number), round, unit.code, contact.id, contact.phone, contact.language, text],
          ...[at, officerOf.get(unit.code)!, BECAME[number % BECAME.length]!, ended],
        ],
      )
  }
}
