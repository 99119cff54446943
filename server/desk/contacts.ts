import type { DeskOutcome, DeskReceive } from '#core/contract/desk'
import type { Static } from '@sinclair/typebox'
import type { DeviceContact, DeviceContacts } from '#core/contract/devices'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { notFound } from '../refusal'
import { mustHoldUnit } from '../units/must-hold-unit'

/** What a device does within so many minutes after it was heard belongs to the same contact. */
const SAME_CONTACT = '10 minutes'
const PAGE = 30

/** What a contact adds to the log of a device. */
export interface Contact {
  device: string
  /** What the district answered, where the device sent something. */
  outcomes?: readonly DeskOutcome[]
  /** What the device says of itself, where it does. */
  says?: Pick<DeskReceive, 'waiting' | 'needsPerson' | 'storage' | 'version'>
}

const countOf = (outcomes: readonly DeskOutcome[], ...of: DeskOutcome['outcome'][]) =>
  outcomes.filter(({ outcome }) => of.includes(outcome)).length

/**
 * Notes in the log of a device that it was heard, by whom, and what it brought; and what it says of itself.
 * What it does within ten minutes is one contact.
 */
export async function noteContact(
  sql: Pick<Sql, 'query'>,
  access: Access,
  { device, outcomes = [], says }: Contact,
): Promise<void> {
  const at = nowText()
  const counts = [
    countOf(outcomes, 'received', 'alreadyHad'),
    countOf(outcomes, 'refused'),
    countOf(outcomes, 'conflict'),
  ]
  if (says)
    await sql.query(
      `UPDATE device SET waiting = coalesce($2, waiting), needs_person = coalesce($3, needs_person),
       storage_share = coalesce($4, storage_share), app_version = coalesce($5, app_version) WHERE id = $1`,
      [device, says.waiting ?? null, says.needsPerson ?? null, says.storage ?? null, says.version ?? null],
    )
  await sql.query(
    `WITH last AS (
       SELECT seq FROM device_contact
       WHERE device = $1 AND person = $2 AND last_at > $3::timestamptz - interval '${SAME_CONTACT}' ORDER BY seq DESC LIMIT 1),
     goes_on AS (
       UPDATE device_contact c SET last_at = $3, received = c.received + $4, refused = c.refused + $5,
         conflicts = c.conflicts + $6, waiting = coalesce($7, c.waiting),
         clock_off_ms = (SELECT clock_off_ms FROM device WHERE id = $1)
       FROM last WHERE c.seq = last.seq RETURNING c.seq)
     INSERT INTO device_contact (device, person, began_at, last_at, received, refused, conflicts, waiting, clock_off_ms)
     SELECT d.id, $2, $3, $3, $4, $5, $6, $7, d.clock_off_ms FROM device d
     WHERE d.id = $1 AND NOT EXISTS (SELECT 1 FROM goes_on)`,
    [device, access.id, at, ...counts, says?.waiting ?? null],
  )
}

/** A page of the contacts of a device, the last first, and what was done with it. @throws Refusal 404, 403 */
export async function contactsOf(
  access: Access,
  device: string,
  { after }: { after?: number },
): Promise<Static<typeof DeviceContacts>> {
  const sql = await database()
  const [row] = await sql.query<{ unit: string }>('SELECT unit FROM device WHERE id = $1', [device])
  if (!row) throw notFound('device')
  await mustHoldUnit(sql, access, row.unit)
  const lines = await sql.query<DeviceContact>(
    `SELECT c.seq AS id, p.display_name AS by, c.began_at AS "beganAt", c.last_at AS "lastAt", c.received, c.refused,
       c.conflicts, c.waiting, c.clock_off_ms AS "clockOffMs"
     FROM device_contact c LEFT JOIN person p ON p.id = c.person
     WHERE c.device = $1 AND ($2::bigint IS NULL OR c.seq < $2) ORDER BY c.seq DESC LIMIT ${PAGE + 1}`,
    [device, after ?? null],
  )
  const acts = await sql.query<Static<typeof DeviceContacts>['acts'][number]>(
    `SELECT e.at, p.display_name AS by, e.act, e.text FROM device_event e JOIN person p ON p.id = e.person
     WHERE e.device = $1 ORDER BY e.seq DESC LIMIT ${PAGE}`,
    [device],
  )
  return { lines: lines.slice(0, PAGE), more: lines.length > PAGE, acts }
}

/** Contacts are kept for two years, as long as a facility's file looks back. */
export async function forgetOldContacts(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query(
    `DELETE FROM device_contact WHERE last_at < $1::timestamptz - interval '2 years' RETURNING seq`,
    [nowText()],
  )
  return gone.length
}
