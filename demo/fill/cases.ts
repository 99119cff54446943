import { groupBy } from '#core/group-by'
import { applyEntries } from '../../server/cases/apply-entries'
import { writeKnown } from '../../server/cases/known'
import type { Sql } from '../../server/database'
import { PAIRED_AT, type DemoDevice } from '../cases/devices'
import type { DemoEntry } from '../cases/entry'
import { identifierOf } from '../cases/identifier'
import { DEMO_TIME_ZONE } from '../report'
import { PERSON_ID } from './places-and-people'
import { EVERYTHING } from './work'

/** The devices, as they were last heard. Nobody can show their tokens: they stand for real telephones. */
export async function insertDevices(sql: Sql, devices: readonly DemoDevice[]): Promise<void> {
  await sql.query(
    `INSERT INTO device (id, name, unit, token_hash, paired_at, settings, last_contact_at, last_person, clock_off_ms, blocked_at, blocked_by, lets_in,
       waiting, needs_person, storage_share, app_version)
     SELECT id, name, unit, 'demo ' || id, $1::timestamptz, settings, last_contact_at, ${PERSON_ID('person')}, clock_off_ms, blocked_at,
       CASE WHEN blocked_at IS NOT NULL THEN ${PERSON_ID("'admin'")} END, false, waiting, 0, 0.04,
       CASE WHEN is_earlier THEN 'an earlier build' END
     FROM unnest($2::uuid[], $3::text[], $4::text[], $5::jsonb[], $6::timestamptz[], $7::text[], $8::bigint[], $9::timestamptz[], $10::int[], $11::boolean[])
       AS given (id, name, unit, settings, last_contact_at, person, clock_off_ms, blocked_at, waiting, is_earlier)`,
    [
      PAIRED_AT,
      devices.map(({ id }) => id),
      devices.map(({ name }) => name),
      devices.map(({ unit }) => unit),
      devices.map(({ settings }) => JSON.stringify(settings)),
      devices.map(({ lastContactAt }) => lastContactAt),
      devices.map(({ person }) => person),
      devices.map(({ clockOffMs }) => clockOffMs),
      devices.map(({ blockedAt }) => blockedAt),
      devices.map(({ waiting }) => waiting),
      devices.map(({ isEarlier }) => isEarlier),
    ],
  )
}

/** The contacts of the devices: what they brought, by the hour in which it came, and the last one. */
export async function insertContacts(sql: Sql): Promise<void> {
  await sql.query(
    `INSERT INTO device_contact (device, person, began_at, last_at, received, waiting, clock_off_ms)
     SELECT device, person, began_at, last_at, received, waiting, clock_off_ms FROM (
       SELECT d.id AS device, e.person, min(e.received_at) AS began_at, max(e.received_at) AS last_at, count(*)::int AS received,
         0 AS waiting, d.clock_off_ms
       FROM case_entry e JOIN device d ON d.id = e.device GROUP BY d.id, e.person, date_trunc('hour', e.received_at)
       UNION ALL SELECT id, last_person, last_contact_at, last_contact_at, 0, waiting, clock_off_ms FROM device) all_contacts
     ORDER BY last_at, device, received`,
  )
}

/**
 * What the devices registered, taken in by the product's own use-case as if they sent it, and received when
 * they did. @throws Error when the product refuses one.
 */
export async function insertCases(sql: Sql, entries: readonly DemoEntry[]): Promise<void> {
  // A correction may come from another device than what it corrects, which must be there before it.
  const inOrder = [
    ...entries.filter(({ entry }) => !entry.corrects),
    ...entries.filter(({ entry }) => entry.corrects),
  ]
  const turns = groupBy(inOrder, ({ device, entry }) => `${Boolean(entry.corrects)} ${device.id}`)
  for (const own of turns.values()) {
    const { id, person } = own[0]!.device
    const outcomes = await applyEntries(
      sql,
      { ...EVERYTHING, id: identifierOf(`person ${person}`) },
      own.map(({ entry }) => entry),
      madeAt => madeAt,
      { device: id },
      DEMO_TIME_ZONE,
    )
    const refused = outcomes.find(({ outcome }) => outcome !== 'received')
    if (refused) throw new Error(`A case of the scenario was not taken: ${JSON.stringify(refused)}`)
  }
  await sql.query(
    `UPDATE case_entry e SET received_at = given.at FROM unnest($1::uuid[], $2::timestamptz[]) AS given (id, at) WHERE e.id = given.id`,
    [entries.map(({ entry }) => entry.id), entries.map(({ receivedAt }) => receivedAt)],
  )
  // When an entry was received is part of what is kept of its case.
  await writeKnown(sql, [...new Set(entries.map(({ entry }) => entry.case))])
}
