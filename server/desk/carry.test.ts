import '../../tests/support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { CarriedBack, DeskChange } from '#core/contract/desk'
import type { DeviceSettings } from '#core/contract/devices'
import { newCarryKeys, readCarryFile, writeCarryFile, type CarryKeys } from '#core/protect/carry-file'
import { makeInstallation, OCTOBER, personOf } from '../../tests/support/installation'
import { accessOf } from '../access/access'
import { now } from '../clock'
import { closeDatabase, type Database } from '../database'
import { reportFile } from '../reports/file'
import { makeCard } from './cards'
import { carryBack, applyCarried } from './carry'
import { blockDevice, deviceByToken } from './devices'
import { storedFile, applyPiece } from './files'
import { pairDevice, signInAtDevice } from './pair'
import { applySent } from './send'
import { CARD_SETTINGS, PNG, hashOf } from '../../tests/support/samples'

const officer = personOf('officer', 'north')
const ofSouth = personOf('officer', 'south')
const clerk = personOf('clerk', 'elm')
let sql: Database
let keys: CarryKeys
let paired: Awaited<ReturnType<typeof pairDevice>>
let session: string
const pair = async (
  settings = CARD_SETTINGS,
  publicKeys?: Awaited<ReturnType<typeof newCarryKeys>>['public'],
) =>
  pairDevice(
    {
      ...(await makeCard(officer, { name: 'Elm', unit: 'elm', settings, uses: 1, days: 7 })),
      ...(publicKeys && { keys: publicKeys }),
    },
    'here',
  )
/** A request as the door sees it: from a device, with the session of a person. */
const asks = (shown: string, path = '/api/desk/receive', token = paired.token) =>
  ({
    path,
    node: { req: { headers: { authorization: `Bearer ${shown}`, 'x-lantern-device': token } } },
  }) as never

beforeAll(async () => {
  vi.stubGlobal('hashPassword', (password: string) => Promise.resolve(`hash of ${password}`))
  vi.stubGlobal('verifyPassword', (hash: string, password: string) =>
    Promise.resolve(hash === `hash of ${password}`),
  )
  sql = await makeInstallation()
  await sql.query(
    `UPDATE person SET password_hash = 'hash of right', user_key = user_name, branch = CASE role WHEN 'clerk' THEN 'elm' WHEN 'officer' THEN 'north' ELSE branch END`,
  )
  const made = await newCarryKeys(false)
  keys = made.own
  paired = await pair(CARD_SETTINGS, made.public)
})
afterAll(async () => {
  vi.unstubAllGlobals()
  await closeDatabase()
})

describe('signing in at a device', () => {
  it('gives a session that is bound to it, and the same recovery secret each time', async () => {
    await expect(signInAtDevice('x', { userName: 'clerk', password: 'right' }, 'here')).rejects.toMatchObject(
      { code: 'device-unknown' },
    )
    await expect(
      signInAtDevice(paired.token, { userName: 'clerk', password: 'wrong' }, 'here'),
    ).rejects.toMatchObject({ code: 'wrong-password' })
    await expect(
      signInAtDevice(paired.token, { userName: 'officer', password: 'right' }, 'here'),
    ).rejects.toMatchObject({ code: 'no-permission' })
    const one = await signInAtDevice(paired.token, { userName: ' CLERK', password: 'right' }, 'here')
    const again = await signInAtDevice(paired.token, { userName: 'clerk', password: 'right' }, 'here')
    session = again.session
    expect([
      again.recovery === one.recovery,
      again.session === one.session,
      again.view.person.displayName,
    ]).toEqual([true, false, 'The clerk'])
    // The session before is over: a device has one of each person.
    expect(await accessOf(asks(one.session))).toBeNull()
    expect(await accessOf(asks(session))).toMatchObject({
      id: clerk.id,
      device: paired.device,
      branch: 'elm',
    })
    expect(
      (
        await sql.query<{ seen: string | null }>('SELECT last_seen_at AS seen FROM person WHERE id = $1', [
          clerk.id,
        ])
      )[0]!.seen,
    ).not.toBeNull()
    const other = await pair()
    // Nothing lost, 14: without the token of its device, or with another's, it opens nothing.
    expect([
      await accessOf(asks(session, '/api/due', '')),
      await accessOf(asks(session, '/api/due', other.token)),
    ]).toEqual([null, null])
    await expect(
      deviceByToken(other.token, { access: (await accessOf(asks(session)))! }),
    ).rejects.toMatchObject({ code: 'device-other' })
  })

  it('ends when the device is blocked, but for what waited on it where the officer lets that in', async () => {
    await blockDevice(officer, paired.device, true)
    await expect(accessOf(asks(session, '/api/desk/send'))).rejects.toMatchObject({ code: 'device-blocked' })
    await blockDevice(officer, paired.device, true, true)
    await expect(accessOf(asks(session))).rejects.toMatchObject({ code: 'device-blocked' })
    expect(await accessOf(asks(session, '/api/desk/send'))).toMatchObject({ id: clerk.id })
    expect(await deviceByToken(paired.token, { sending: true })).toMatchObject({ unit: 'elm' })
    await expect(deviceByToken(paired.token, {})).rejects.toMatchObject({ code: 'device-blocked' })
    await blockDevice(officer, paired.device, false)
    expect(await accessOf(asks(session))).toMatchObject({ id: clerk.id })
  })

  it('ends when the person signs out everywhere', async () => {
    await sql.query('UPDATE person SET session_epoch = session_epoch + 1 WHERE id = $1', [clerk.id])
    expect(await accessOf(asks(session))).toBeNull()
    session = (await signInAtDevice(paired.token, { userName: 'clerk', password: 'right' }, 'here')).session
  })
})

const at = () => new Date(now()).toISOString()
const cell = (name: string, value: number, more: object = {}): DeskChange => ({
  kind: 'cell',
  id: uuid(),
  madeAt: at(),
  round: OCTOBER,
  unit: 'elm',
  cell: name,
  base: 0,
  content: { kind: 'value', value },
  ...more,
})
const sendAct = (): DeskChange => ({
  kind: 'send',
  id: uuid(),
  madeAt: at(),
  round: OCTOBER,
  unit: 'elm',
  explanations: {},
})
const limited = async (may: Partial<DeviceSettings['may']>) =>
  deviceByToken((await pair({ ...CARD_SETTINGS, may: { ...CARD_SETTINGS.may, ...may } })).token, {})
const codes = async (device: Awaited<ReturnType<typeof limited>>, ...changes: DeskChange[]) =>
  (await applySent(clerk, device, { clockOffset: 0, changes })).map(({ outcome, code }) => code ?? outcome)

describe('a device that may not do everything', () => {
  it('does not begin a report, and does not change one that was sent', async () => {
    expect(await codes(await limited({ openReports: false }), cell('tested', 5))).toEqual(['device-may-not'])
    const plain = await deviceByToken(paired.token, {})
    expect(await codes(plain, cell('tested', 5))).toEqual(['received'])
    expect(await codes(await limited({ openReports: false }), cell('positive', 1), sendAct())).toEqual([
      'received',
      'received',
    ])
    expect(
      await codes(await limited({ changeSent: false }), cell('tested', 6, { base: 1, why: 'a slip' })),
    ).toEqual(['device-may-not'])
    expect(await codes(plain, cell('tested', 6, { base: 1, why: 'a slip' }))).toEqual(['received'])
  })
})

describe('pictures in pieces', () => {
  const piece = (start: number, end: number, bytes = PNG) => ({
    start,
    bytes: bytes.length,
    data: bytes.subarray(start, end).toString('base64'),
  })

  it('come in any order, each piece once, and are whole when the last is there', async () => {
    const device = await deviceByToken(paired.token, {})
    const hash = hashOf(PNG)
    expect(await applyPiece(device, hash, piece(0, 20))).toEqual({ upTo: 20, done: false })
    expect(await applyPiece(device, hash, piece(40, PNG.length))).toEqual({ upTo: 20, done: false })
    expect(await applyPiece(device, hash, piece(0, 20))).toEqual({ upTo: 20, done: false })
    await expect(storedFile(clerk, hash)).rejects.toMatchObject({ status: 404 })
    expect(await applyPiece(device, hash, piece(20, 40))).toEqual({ upTo: PNG.length, done: true })
    expect(await applyPiece(device, hash, piece(0, 20))).toEqual({ upTo: PNG.length, done: true })
    expect(await storedFile(officer, hash)).toEqual({ mediaType: 'image/png', bytes: PNG })
    await expect(storedFile(ofSouth, hash)).rejects.toMatchObject({ status: 404 })
  })

  it('are refused when they were changed on the way, or are no pictures', async () => {
    const device = await deviceByToken(paired.token, {})
    await expect(
      applyPiece(device, hashOf(Buffer.from('other')), piece(0, PNG.length)),
    ).rejects.toMatchObject({ code: 'file-changed' })
    const page = Buffer.from('<script>alert(1)</script>')
    await expect(applyPiece(device, hashOf(page), piece(0, page.length, page))).rejects.toMatchObject({
      code: 'file-kind',
    })
    await expect(
      applyPiece(device, hashOf(page), { start: 0, bytes: 90_000_000, data: 'AAAA' }),
    ).rejects.toMatchObject({ status: 413 })
    expect(await sql.query('SELECT count(*) AS count FROM stored_file')).toEqual([{ count: 1 }])
  })
})

describe('a carried file', () => {
  const write = (
    changes: DeskChange[],
    more: { person?: string; key?: CryptoKey; id?: string; files?: unknown[] } = {},
  ) =>
    writeCarryFile(
      { person: more.person ?? clerk.id, clock: at(), changes, files: more.files ?? [] },
      { id: more.id ?? paired.device, key: more.key ?? keys.sign },
      paired.district.agree,
    )
  const why = { why: 'counted again' }

  it('is taken in once: again, or half of it, changes nothing more', async () => {
    const changes = [cell('seen.f', 4, why), cell('seen.m', 6, why)]
    const picture = Buffer.concat([PNG, Buffer.from('x')])
    const file = await write(changes, {
      files: [{ hash: hashOf(picture), bytes: picture.length, data: picture.toString('base64') }],
    })
    expect(await applyCarried(officer, file)).toMatchObject({
      unit: { code: 'elm' },
      person: 'The clerk',
      received: 2,
      alreadyHad: 0,
      files: 1,
      refused: [],
    })
    expect(await applyCarried(officer, file)).toMatchObject({ received: 0, alreadyHad: 2 })
    expect(await applyCarried(officer, await write(changes.slice(1)))).toMatchObject({
      received: 0,
      alreadyHad: 1,
    })
    // A device that sends the same by the network afterwards doubles nothing.
    expect(await codes(await deviceByToken(paired.token, {}), ...changes)).toEqual([
      'alreadyHad',
      'alreadyHad',
    ])
    expect(
      (await reportFile(clerk, OCTOBER, 'elm')).cells
        .filter(one => one.cell.startsWith('seen'))
        .map(({ version }) => version),
    ).toEqual([1, 1])
    expect((await storedFile(officer, hashOf(picture))).bytes.length).toBe(picture.length)
  })

  it('is refused whole when it was cut off, changed, signed by another, of an unknown device, of another branch, or of a person who is not there', async () => {
    const file = await write([cell('tested', 9, { base: 2, ...why })])
    const stranger = (await newCarryKeys(false)).own.sign
    await expect(applyCarried(officer, file.slice(0, -40))).rejects.toMatchObject({ code: 'carry-changed' })
    await expect(applyCarried(officer, file.replace('.', '.A'))).rejects.toMatchObject({
      code: 'carry-changed',
    })
    await expect(applyCarried(officer, await write([], { key: stranger }))).rejects.toMatchObject({
      code: 'carry-signature',
    })
    await expect(applyCarried(officer, await write([], { id: uuid() }))).rejects.toMatchObject({
      code: 'carry-unknown',
    })
    await expect(applyCarried(officer, await write([], { id: 'no device' }))).rejects.toMatchObject({
      code: 'carry-unknown',
    })
    await expect(applyCarried(ofSouth, file)).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(applyCarried(officer, await write([], { person: officer.id }))).rejects.toMatchObject({
      code: 'carry-person',
    })
    expect(await applyCarried(officer, await write([{ kind: 'nonsense' } as never]))).toMatchObject({
      received: 0,
      refused: [{ code: 'change-kind' }],
    })
    await blockDevice(officer, paired.device, true)
    await expect(applyCarried(officer, file)).rejects.toMatchObject({ code: 'device-blocked' })
    await blockDevice(officer, paired.device, true, true)
    expect(await applyCarried(officer, file)).toMatchObject({ received: 1 })
    await blockDevice(officer, paired.device, false)
  })

  it('goes back the same way, with what became of each change and all that the device works with', async () => {
    const { text } = await carryBack(officer, paired.device)
    const read = await readCarryFile(text, keys.agree, id =>
      Promise.resolve(id === paired.district.sign.x ? paired.district.sign : null),
    )
    if (!read.ok) throw new Error(read.problems[0]!.code)
    const back = read.value.content as CarriedBack
    expect(back.outcomes.filter(({ outcome }) => outcome === 'received')).toHaveLength(3)
    expect(back.files).toContain(hashOf(PNG))
    expect([
      back.work.due.unit.code,
      back.definitions.units.units.length > 0,
      /^\d+(\.\d+){4}$/.test(back.cursor),
    ]).toEqual(['elm', true, true])
    await expect(carryBack(ofSouth, paired.device)).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(carryBack(officer, (await pair()).device)).rejects.toMatchObject({ code: 'carry-nobody' })
  })
})
