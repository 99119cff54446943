import { v7 as uuid } from 'uuid'
import type { CarriedBack, CarriedIn, DeskOutcome } from '#core/contract/desk'
import type { DeviceSettings } from '#core/contract/devices'
import { writeCarryFile, writerOf, type PublicKeys } from '#core/protect/carry-file'
import { accessById, deviceBlocked, isLetIn, mustHold, type Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'
import { notFound, Refusal } from '../refusal'
import { runHeavy } from '../threads/run-heavy'
import { noteLetIn } from './devices'
import { districtKeys, ownKeys, secretKeys } from './district-keys'
import { applyPiece } from './files'
import { readCarried } from './read-carried'
import { receiveSince } from './receive'
import { applySent } from './send'
import { viewOf } from './standing'
import { deskDefinitions, deskWork } from './work'

interface KnownDevice {
  id: string
  name: string
  unit: string
  unitName: string
  path: string[]
  settings: DeviceSettings
  keys: PublicKeys | null
  blocked: boolean
  letsIn: boolean
  letInAt: string | null
  /** How far its clock was ahead at the last contact, in milliseconds. */
  clockOffset: number
}

async function knownDevice(id: string): Promise<KnownDevice | null> {
  const sql = await database()
  const [device] = await sql.query<KnownDevice>(
    `SELECT d.id, d.name, d.unit, u.name AS "unitName", u.path, d.settings, d.keys, d.blocked_at IS NOT NULL AS blocked, d.lets_in AS "letsIn", d.let_in_at AS "letInAt", coalesce(d.clock_off_ms, 0) AS "clockOffset"
     FROM device d JOIN unit_latest u ON u.code = d.unit WHERE d.id = $1`,
    [/^[0-9a-f-]{36}$/.test(id) ? id : null],
  )
  return device ?? null
}

/**
 * The person whose work a device carries: somebody who signed in there and may still. @throws Refusal 403
 * `carry-person`.
 */
async function personAt(device: string, person: string): Promise<Access> {
  const sql = await database()
  const [there] = await sql.query(
    'SELECT 1 FROM desk_session s JOIN person p ON p.id = s.person AND p.active AND p.session_epoch = s.epoch WHERE s.device = $1 AND s.person = $2',
    [device, person],
  )
  if (!there)
    throw new Refusal(
      403,
      'carry-person',
      'The person whose work this is no longer signed in at this device.',
    )
  return accessById(person)
}

/**
 * Takes in a file that was carried from a device, by the rules of the network: each change once, each with
 * its outcome.
 * @throws Refusal 422 `carry-changed`, `carry-unknown`, `carry-signature`; 403 `device-blocked`,
 *   `carry-person`, `outside-branch`.
 */
export async function applyCarried(access: Access, file: string): Promise<CarriedIn> {
  const sql = await database()
  const named = writerOf(file)
  const writer = named === null ? null : await knownDevice(named)
  const { person, changes, files } = await runHeavy('readCarried', readCarried, {
    file,
    own: await secretKeys(sql),
    writer: writer?.keys ? { id: writer.id, key: writer.keys.sign } : null,
  })
  // Nothing of a file is believed before its signature is: from here on it is.
  const device = writer!
  mustHold(access, device.path)
  if (device.blocked && !isLetIn(device)) throw deviceBlocked()
  if (device.blocked) await noteLetIn(sql, device.id)
  const who = await personAt(device.id, person)
  let filesIn = 0
  for (const { hash, bytes, data } of files) {
    // One picture that cannot be taken does not hold up the rest.
    filesIn += await applyPiece(device, hash, { start: 0, bytes, data }).then(
      () => 1,
      (error: unknown) => {
        if (error instanceof Refusal) return 0
        throw error
      },
    )
  }
  const outcomes: DeskOutcome[] = []
  for (const piece of changes) {
    // The time at which the file was written says nothing of the device's clock: the file may have travelled
    // for days.
    outcomes.push(
      ...(await applySent(who, device, {
        clockOffset: device.clockOffset,
        changes: JSON.parse(piece) as unknown[],
      })),
    )
  }
  await sql.query(
    'INSERT INTO carried (id, device, person, at, taken_by, outcomes) VALUES ($1, $2, $3, $4, $5, $6)',
    [uuid(), device.id, person, nowText(), access.id, JSON.stringify(outcomes)],
  )
  const count = (outcome: DeskOutcome['outcome']) => outcomes.filter(one => one.outcome === outcome).length
  return {
    device: device.name,
    unit: { code: device.unit, name: device.unitName },
    person: who.displayName,
    received: count('received'),
    alreadyHad: count('alreadyHad'),
    conflicts: count('conflict'),
    early: count('early'),
    refused: outcomes.flatMap(({ outcome, code, message }) =>
      outcome === 'refused' ? [{ code: code ?? 'server', message: message ?? '' }] : [],
    ),
    files: filesIn,
  }
}

/** How many files' outcomes go back: what a device was told once it need not be told for ever. */
const TOLD_BACK = 20

/**
 * All that a device works with and what became of what it sent by file, as one file to carry back.
 * @param person whose work; the last person who signed in there when none is given.
 * @throws Refusal 404, 403, 409 `carry-nobody` when nobody has signed in there, or it has no keys.
 */
export async function carryBack(
  access: Access,
  id: string,
  person?: string,
): Promise<{ name: string; text: string }> {
  const sql = await database()
  const device = await knownDevice(id)
  if (!device) throw notFound('device')
  mustHold(access, device.path)
  if (device.blocked && !isLetIn(device)) throw deviceBlocked()
  const [last] = await sql.query<{ person: string }>(
    'SELECT person FROM desk_session WHERE device = $1 AND ($2::uuid IS NULL OR person = $2) ORDER BY made_at DESC LIMIT 1',
    [id, person ?? null],
  )
  if (!last || !device.keys)
    throw new Refusal(
      409,
      'carry-nobody',
      'Nobody has signed in at this device yet: there is nobody to write to.',
    )
  const who = await personAt(id, last.person)
  const carried = await sql.query<{ outcomes: DeskOutcome[] }>(
    'SELECT outcomes FROM carried WHERE device = $1 AND person = $2 ORDER BY at DESC LIMIT $3',
    [id, who.id, TOLD_BACK],
  )
  const events: CarriedBack['events'] = []
  let [cursor, stamp] = [undefined as string | undefined, '']
  for (let more = true; more;) {
    const page = await receiveSince(who, { most: 2000, ...(cursor && { since: cursor }) })
    events.push(...page.events.filter(({ kind }) => kind === 'entry' || kind === 'case'))
    ;({ cursor, more, definitions: stamp } = page)
  }
  const files = await sql.query<{ hash: string }>(
    'SELECT hash FROM stored_file WHERE unit = $1 AND received_at IS NOT NULL',
    [device.unit],
  )
  const back: CarriedBack = {
    outcomes: carried.flatMap(one => one.outcomes),
    files: files.map(({ hash }) => hash),
    at: nowText(),
    definitions: await deskDefinitions(who),
    work: await deskWork(who),
    events,
    cursor: cursor!,
    stamp,
    view: viewOf(who),
  }
  const text = await writeCarryFile(
    back,
    { id: (await districtKeys(sql)).sign.x!, key: (await ownKeys(sql)).sign },
    device.keys.agree,
  )
  return { name: device.name, text }
}
