import { v7 as uuid } from 'uuid'
import type { NudgePreview, NudgesAsked } from '#core/contract/nudges'
import { messageParts } from '#core/nudge/message-parts'
import { afterQuiet } from '#core/nudge/quiet-hours'
import { branchPath, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockFacilities } from '../database/locks'
import { messageGateway } from '../messages/gateway'
import { askForJob } from '../queue/job-table'
import { conflict } from '../refusal'
import { settings } from '../settings'
import { messagesFor } from './messages'
import { nudgeTimes, quietHoursOf } from './rules'

/** When what is asked now is sent: at once, or when the quiet hours end. */
async function sendingTime(sql: Pick<Sql, 'query'>): Promise<number> {
  const { timeZone } = await settings(sql)
  return afterQuiet(now(), quietHoursOf(await nudgeTimes(sql)), timeZone)
}

/** What would be sent to some facilities of a round, before anybody sends it. @throws Refusal 404 */
export async function previewNudges(
  access: Access,
  roundId: string,
  units: readonly string[],
): Promise<NudgePreview> {
  const sql = await database()
  const { messages, left } = await messagesFor(sql, access, roundId, units)
  const at = await sendingTime(sql)
  return {
    messages: messages.map(({ unit, contact: { name, phone }, text }) => ({
      ...{ unit, name, phone, text },
      parts: messageParts(text).parts,
    })),
    left,
    hasGateway: messageGateway() !== null,
    quietUntil: at > now() ? new Date(at).toISOString() : null,
  }
}

/**
 * Asks for a reminder to each of some facilities of a round. A job sends them. Those whose report is in, that
 * nobody can be reached at, or that were reminded enough today are left, with why.
 *
 * @throws Refusal 404, 409 `no-gateway`
 */
export async function askNudges(
  access: Access,
  roundId: string,
  units: readonly string[],
): Promise<NudgesAsked> {
  if (!messageGateway()) throw conflict('no-gateway', 'This installation has no message gateway.')
  const sql = await database()
  return sql.transaction(async tx => {
    await lockFacilities(tx, units)
    const { messages, left } = await messagesFor(tx, access, roundId, units, true)
    const nextAt = new Date(await sendingTime(tx)).toISOString()
    const rows = messages.map(({ unit, contact, text }) => ({
      ...{ id: uuid(), unit: unit.code, contact: contact.id, phone: contact.phone },
      ...{ language: contact.language, text },
    }))
    await tx.query(
      `INSERT INTO nudge (id, round, unit, contact, phone, language, text, asked_at, asked_by, state, next_at)
       SELECT n.id, $2, n.unit, n.contact, n.phone, n.language, n.text, $3, $4, 'waiting', $5
       FROM jsonb_to_recordset($1::jsonb -> 'rows') AS n (id uuid, unit text, contact uuid, phone text, language text, text text)`,
      [{ rows }, roundId, nowText(), access.id, nextAt],
    )
    if (rows.length && Date.parse(nextAt) <= now()) await askForJob(tx, 'sendNudges')
    return { ids: rows.map(({ id }) => id), left }
  })
}

/**
 * Stops reminders that were not sent yet.
 * @returns how many; what was sent, or is outside the person's branch, is left alone
 */
export async function stopNudges(access: Access, ids: readonly string[]): Promise<number> {
  const sql = await database()
  const stopped = await sql.query(
    `UPDATE nudge n SET state = 'stopped', next_at = NULL, ended_at = $3 FROM unit_latest u
     WHERE n.id = ANY($1::uuid[]) AND n.state = 'waiting' AND u.code = n.unit AND u.path @> $2::text[] RETURNING n.id`,
    [ids, branchPath(access.branch), nowText()],
  )
  return stopped.length
}
