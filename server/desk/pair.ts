import { randomBytes } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import type { DeskSession, DeviceSettings, Paired } from '#core/contract/devices'
import { may } from '#core/contract/permission'
import type { PublicKeys } from '#core/protect/carry-file'
import { accessById, hashToken, mustHold, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { Refusal } from '../refusal'
import { hashCode } from '../people/one-time-code'
import { sessionView } from '../people/session-view'
import { letInByCode, letInByPassword, type LetIn } from '../people/sign-in'
import { limitTries } from '../access/tries'
import { settings } from '../settings'
import { deviceByToken } from './devices'
import { districtKeys } from './district-keys'

/** What a browser is set to in which a clerk signs in without a card. */
const WITHOUT_CARD: DeviceSettings = {
  language: 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 15,
  keepDays: 90,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: true },
}

interface NewDevice {
  name: string
  card: string | null
  unit: { code: string; name: string }
  settings: DeviceSettings
  keys?: PublicKeys
  /** The person in whose browser it is. */ madeFor?: string
}

/** Gives a device its identity, and a token that it shows at each contact. */
async function makeDevice(
  tx: Sql,
  { name, card, unit, settings: set, keys, madeFor }: NewDevice,
): Promise<Paired> {
  const token = randomBytes(24).toString('base64url')
  const id = uuid()
  await tx.query(
    'INSERT INTO device (id, name, card, unit, token_hash, paired_at, settings, keys, made_for) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)',
    [id, name, card, unit.code, hashToken(token), nowText(), set, keys ?? null, madeFor ?? null],
  )
  const { installation } = await settings(tx)
  return {
    device: id,
    token,
    name,
    unit,
    settings: set,
    installation,
    district: await districtKeys(tx),
    now: nowText(),
  }
}

/**
 * A name that no device of the unit has: *Phone 2* beside *Phone 1*. @param numbered the first has a number
 * too.
 */
async function freeName(tx: Sql, unit: string, base: string, numbered = false): Promise<string> {
  // Of two that are paired at once, the second sees the name of the first.
  await tx.query('SELECT 1 FROM unit WHERE code = $1 FOR UPDATE', [unit])
  const rows = await tx.query<{ name: string }>(
    'SELECT name FROM device WHERE unit = $1 AND starts_with(name, $2)',
    [unit, base],
  )
  const taken = new Set(rows.map(({ name }) => name))
  for (let number = 1; ; number++) {
    const name = number === 1 && !numbered ? base : `${base} ${number}`
    if (!taken.has(name)) return name
  }
}

/**
 * Pairs a device by the code of a card: one card may pair a batch, each device with a name of its own.
 * @throws Refusal 403 `card-wrong` (unknown, used up or too old), 429 `too-many-tries`.
 */
export const pairDevice = (
  asked: { code: string; name?: string; keys?: PublicKeys },
  address: string,
): Promise<Paired> =>
  // Wrong codes cost a wait at the address where they are typed, and nowhere else.
  limitTries({ what: 'card', address, known: true }, () => pairByCode(asked))

async function pairByCode({
  code,
  name,
  keys,
}: {
  code: string
  name?: string
  keys?: PublicKeys
}): Promise<Paired> {
  const sql = await database()
  const paired = await sql.transaction(async (tx): Promise<Paired | null> => {
    const [card] = await tx.query<{
      id: string
      name: string
      unit: string
      unitName: string
      settings: DeviceSettings
    }>(
      `UPDATE pairing_card c SET uses_left = uses_left - 1 FROM unit_latest u WHERE c.code_hash = $1 AND c.uses_left > 0 AND c.until > $2 AND u.code = c.unit
       RETURNING c.id, c.name, c.unit, u.name AS "unitName", c.settings`,
      [hashCode(code), nowText()],
    )
    if (!card) return null
    const wanted = name?.trim()
    return makeDevice(tx, {
      name: await freeName(tx, card.unit, wanted || card.name, !wanted),
      card: card.id,
      unit: { code: card.unit, name: card.unitName },
      settings: card.settings,
      keys,
    })
  })
  if (!paired)
    throw new Refusal(403, 'card-wrong', 'No card has this code, or it is used up or too old.', [
      { code: 'card-wrong', message: '', at: 'body/code' },
    ])
  return paired
}

/** A clerk's session at a device of theirs, and the secret that opens their work there again. */
async function openSession(tx: Sql, device: string, person: LetIn): Promise<Omit<DeskSession, 'view'>> {
  const session = randomBytes(32).toString('base64url')
  await tx.query('DELETE FROM desk_session WHERE device = $1 AND person = $2', [device, person.id])
  await tx.query(
    'INSERT INTO desk_session (token_hash, device, person, epoch, made_at) VALUES ($1, $2, $3, $4, $5)',
    [hashToken(session), device, person.id, person.epoch, nowText()],
  )
  const [row] = await tx.query<{ secret: string }>(
    'INSERT INTO recovery_secret (device, person, secret) VALUES ($1, $2, $3) ON CONFLICT (device, person) DO UPDATE SET secret = recovery_secret.secret RETURNING secret',
    [device, person.id, randomBytes(32).toString('base64url')],
  )
  return { session, recovery: row!.secret }
}

/** How many devices without a card a person makes in a day: a browser each, and some that were tried. */
const DEVICES_A_DAY = 10

/**
 * Makes the browser in which a clerk signed in a device of their unit. @throws Refusal 422 `no-unit`, 429
 * `too-many-devices`.
 */
export async function deviceHere(
  access: Access,
  keys?: PublicKeys,
): Promise<{ paired: Paired; session: DeskSession }> {
  const sql = await database()
  return sql.transaction(async tx => {
    const [unit] = await tx.query<{ code: string; name: string }>(
      'SELECT code, name FROM unit_latest WHERE code = $1',
      [access.branch],
    )
    if (!unit) throw new Refusal(422, 'no-unit', 'A device belongs to one organisation unit.')
    const [person] = await tx.query<LetIn>('SELECT id, session_epoch AS epoch FROM person WHERE id = $1', [
      access.id,
    ])
    // The person's row is locked, so that of many at once each counts the ones before.
    await tx.query('SELECT 1 FROM person WHERE id = $1 FOR UPDATE', [access.id])
    const [made] = await tx.query<{ count: number }>(
      `SELECT count(*)::int AS count FROM device WHERE made_for = $1 AND paired_at > $2::timestamptz - interval '1 day'`,
      [access.id, nowText()],
    )
    if (made!.count >= DEVICES_A_DAY)
      throw new Refusal(
        429,
        'too-many-devices',
        `You have set up ${DEVICES_A_DAY} devices today. Ask your administrator for a pairing card.`,
      )
    const paired = await makeDevice(tx, {
      name: await freeName(tx, unit.code, access.displayName),
      card: null,
      unit,
      settings: WITHOUT_CARD,
      keys,
      madeFor: access.id,
    })
    return {
      paired,
      session: { ...(await openSession(tx, paired.device, person!)), view: await sessionView(access, tx) },
    }
  })
}

/**
 * Signs a person in at a paired device. @throws Refusal of signing in, 401 `device-unknown`, 403
 * `device-blocked`, `no-permission`, `outside-branch`.
 */
export async function signInAtDevice(
  token: string | undefined,
  { userName, password, code }: { userName: string; password: string; code?: string },
  address: string,
): Promise<DeskSession> {
  const device = await deviceByToken(token, { anyone: true })
  const source = { address, device: device.id }
  const person = await (code
    ? letInByCode({ userName, code, password }, source)
    : letInByPassword({ userName, password }, source))
  const access = await accessById(person.id)
  if (!may(access, 'fill'))
    throw new Refusal(403, 'no-permission', 'Your role does not fill reports at a device.')
  mustHold(access, device.path)
  const sql = await database()
  return sql.transaction(async tx => ({
    ...(await openSession(tx, device.id, person)),
    view: await sessionView(access, tx),
  }))
}
