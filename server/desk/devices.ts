import { getRequestHeader, type H3Event } from 'h3'
import type { CardMade, DEVICE_ACTS, DeviceSettings } from '#core/contract/devices'
import { isInstant } from '#core/contract/wire'
import { deviceBlocked, hashToken, isLetIn, mustHold, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound, Refusal } from '../refusal'
import { makeCard } from './cards'
import { mustHoldUnit } from '../units/must-hold-unit'

/** A device that showed its own token. */
export interface Device {
  id: string
  unit: string
  name: string
  settings: DeviceSettings
}

/** A device by its identifier. */
export async function deviceById(sql: Pick<Sql, 'query'>, id: string): Promise<Device> {
  const [device] = await sql.query<Device>('SELECT id, unit, name, settings FROM device WHERE id = $1', [id])
  return device!
}

/** May this device do that, by the settings of its card? */
export const may = (device: Device, what: keyof DeviceSettings['may']): boolean => device.settings.may[what]

/**
 * Blocks a device, whose sessions die at once, or lets it in again. @param letsIn what waits on it may still
 * come in, once. @throws Refusal 404, 403.
 */
export async function blockDevice(
  access: Access,
  id: string,
  blocked: boolean,
  letsIn = false,
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await deviceFor(tx, access, id)
    await tx.query(
      'UPDATE device SET blocked_at = $2, blocked_by = $3, lets_in = $4, let_in_at = NULL WHERE id = $1',
      [id, blocked ? nowText() : null, blocked ? access.id : null, blocked && letsIn],
    )
    await noteAct(tx, access, id, blocked ? 'blocked' : 'letIn')
  })
}

/** A device for an officer, alone with it for the rest of the transaction. @throws Refusal 404, 403 */
async function deviceFor(tx: Sql, access: Access, id: string): Promise<Device & { blocked: boolean }> {
  const [device] = await tx.query<Device & { blocked: boolean }>(
    'SELECT id, unit, name, settings, blocked_at IS NOT NULL AS blocked FROM device WHERE id = $1 FOR UPDATE',
    [id],
  )
  if (!device) throw notFound('device')
  await mustHoldUnit(tx, access, device.unit)
  return device
}

/** Notes what was done with a device at the office. */
const noteAct = (
  tx: Sql,
  access: Access,
  device: string,
  act: (typeof DEVICE_ACTS)[number],
  text: string | null = null,
): Promise<object[]> =>
  tx.query('INSERT INTO device_event (device, at, person, act, text) VALUES ($1, $2, $3, $4, $5)', [
    ...[device, nowText(), access.id, act, text],
  ])

/**
 * Hands a device over to somebody else of its facility: it has another name from now on, and everybody who
 * used it signs in again. What they had typed stays on it, under their PIN.
 *
 * @throws Refusal 404, 403; 409 `device-is-blocked`
 */
export async function handOver(access: Access, id: string, name: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const device = await deviceFor(tx, access, id)
    if (device.blocked) throw conflict('device-is-blocked', 'This device is blocked. Let it in first.')
    await tx.query('UPDATE device SET name = $2 WHERE id = $1', [id, name.trim()])
    await tx.query('DELETE FROM desk_session WHERE device = $1', [id])
    await noteAct(tx, access, id, 'handedOver', device.name)
  })
}

/** For how many days the card of a device that is paired again pairs. */
const AGAIN_DAYS = 7

/**
 * Pairs a device again that lost what it knew, or another one in its place: a card for one device with the same
 * name, facility and settings. The device as it was is blocked; what waits on it is let in once.
 *
 * @throws Refusal 404, 403
 */
export async function pairAgain(access: Access, id: string): Promise<CardMade> {
  const sql = await database()
  return sql.transaction(async tx => {
    const { name, unit, settings } = await deviceFor(tx, access, id)
    await tx.query(
      'UPDATE device SET blocked_at = coalesce(blocked_at, $2), blocked_by = $3, lets_in = true, let_in_at = NULL WHERE id = $1',
      [id, nowText(), access.id],
    )
    await noteAct(tx, access, id, 'pairedAgain')
    return makeCard(access, { name, unit, settings, uses: 1, days: AGAIN_DAYS }, tx)
  })
}

/** How far a device's clock is ahead of ours, in milliseconds; 0 for a time that cannot be read. */
export const clockOffset = (clock: string): number =>
  isInstant(clock) ? Math.round(Date.parse(clock) - now()) : 0

interface Shown {
  anyone?: boolean
  /** Bringing what waited is let in where the officer said so. */ sending?: boolean
  claimed?: string
  clock?: string
  access?: Access
}

/**
 * The device behind a request, by the token that it shows in `x-lantern-device`. The token is bound to its
 * device: one shown with another device's name, or with the session of a person at another device, is
 * refused.
 * @throws Refusal 401 `device-unknown`, 403 `device-blocked`, `device-other`.
 */
export const deviceOf = (event: H3Event, shown: Shown): Promise<Device & { path: string[] }> =>
  deviceByToken(getRequestHeader(event, 'x-lantern-device'), shown)

/** Notes when a blocked device began to bring what waited on it. */
export async function noteLetIn(sql: Pick<Sql, 'query'>, device: string): Promise<void> {
  await sql.query('UPDATE device SET let_in_at = $2 WHERE id = $1 AND let_in_at IS NULL', [device, nowText()])
}

/** The same by the token itself. */
export async function deviceByToken(
  token: string | undefined,
  { sending, claimed, clock, access }: Shown,
): Promise<Device & { path: string[] }> {
  const sql = await database()
  const [device] = token
    ? await sql.query<Device & { path: string[]; blocked: boolean; letsIn: boolean; letInAt: string | null }>(
        `SELECT d.id, d.unit, d.name, d.settings, u.path, d.blocked_at IS NOT NULL AS blocked, d.lets_in AS "letsIn", d.let_in_at AS "letInAt" FROM device d JOIN unit_latest u ON u.code = d.unit WHERE d.token_hash = $1`,
        [hashToken(token)],
      )
    : []
  if (!device) throw new Refusal(401, 'device-unknown', 'This device is not paired with this district.')
  if (device.blocked && !(sending && isLetIn(device))) throw deviceBlocked()
  if (device.blocked) await noteLetIn(sql, device.id)
  if ((claimed?.toLowerCase() ?? device.id) !== device.id || (access?.device ?? device.id) !== device.id)
    throw new Refusal(403, 'device-other', 'This token belongs to another device.')
  if (access) {
    mustHold(access, device.path)
    const off = clock === undefined ? null : clockOffset(clock)
    await sql.query(
      'UPDATE device SET last_contact_at = $2, last_person = $3, clock_off_ms = coalesce($4, clock_off_ms) WHERE id = $1',
      [device.id, nowText(), access.id, off],
    )
  }
  return device
}

/**
 * Is a device still let in? Answered to its token alone, so that a locked one can erase itself. @throws
 * Refusal 401 `device-unknown`.
 */
export async function standingOf(
  event: H3Event,
): Promise<{ blocked: boolean; letsIn: boolean; settings: DeviceSettings }> {
  const token = getRequestHeader(event, 'x-lantern-device')
  const sql = await database()
  const [device] = token
    ? await sql.query<{
        blocked: boolean
        letsIn: boolean
        letInAt: string | null
        settings: DeviceSettings
      }>(
        'SELECT blocked_at IS NOT NULL AS blocked, lets_in AS "letsIn", let_in_at AS "letInAt", settings FROM device WHERE token_hash = $1',
        [hashToken(token)],
      )
    : []
  if (!device) throw new Refusal(401, 'device-unknown', 'This device is not paired with this district.')
  const { blocked, settings } = device
  return { blocked, letsIn: isLetIn(device), settings }
}
