import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { DeskOutcome } from '#core/contract/desk'
import { pairAt } from '../../tests/support/facility'
import { makeInstallation, NOW, personOf } from '../../tests/support/installation'
import { now } from '../clock'
import { closeDatabase, database } from '../database'
import { contactsOf, forgetOldContacts, noteContact } from './contacts'
import { listDevices } from './device-list'
import { blockDevice, deviceByToken, handOver, pairAgain, type Device } from './devices'
import { pairDevice } from './pair'

const officer = personOf('officer', 'north')
const ofSouth = personOf('officer', 'south')
const clerk = personOf('clerk', 'elm')
const MINUTE = 60_000
const DAY = 1440 * MINUTE
let elm: Device
let oak: Device

/** Moves the clock of the installation to some time after the tests began. */
const later = (milliseconds: number) => vi.setSystemTime(begin + milliseconds)
let begin = 0
beforeAll(async () => {
  vi.useFakeTimers({ toFake: ['Date'] })
  begin = Date.now()
  await makeInstallation()
  elm = await pairAt('elm', clerk)
  oak = await pairAt('oak', personOf('clerk', 'oak'))
})
afterAll(async () => {
  vi.useRealTimers()
  await closeDatabase()
})

const outcome = (of: DeskOutcome['outcome']): DeskOutcome => ({ id: 'x', outcome: of })
const note = async (device: Device, more: Omit<Parameters<typeof noteContact>[2], 'device'> = {}) =>
  noteContact(await database(), clerk, { device: device.id, ...more })
const names = async (query: Parameters<typeof listDevices>[1], version: string | null = null) =>
  (await listDevices(officer, query, version)).lines.map(({ unit }) => unit.code)

describe('the contacts of a device', () => {
  it('are one as long as it is heard within ten minutes, and say what it brought', async () => {
    await note(elm, { outcomes: [outcome('received'), outcome('refused'), outcome('alreadyHad')] })
    later(5 * MINUTE)
    await note(elm, { outcomes: [outcome('conflict')], says: { waiting: 3, needsPerson: 2 } })
    later(14 * MINUTE)
    await note(elm, { says: { waiting: 1 } })
    const { lines } = await contactsOf(officer, elm.id, {})
    expect(lines).toMatchObject([{ by: 'The clerk', received: 2, refused: 1, conflicts: 1, waiting: 1 }])
    expect(Date.parse(lines[0]!.lastAt) - Date.parse(lines[0]!.beganAt)).toBe(14 * MINUTE)
    later(60 * MINUTE)
    await note(elm)
    expect((await contactsOf(officer, elm.id, {})).lines.map(({ received }) => received)).toEqual([0, 2])
  })

  it('come in pages, and are closed to another district', async () => {
    for (let at = 0; at < 35; at++) {
      later((100 + at * 20) * MINUTE)
      await note(oak)
    }
    const first = await contactsOf(officer, oak.id, {})
    expect([first.lines.length, first.more]).toEqual([30, true])
    const rest = await contactsOf(officer, oak.id, { after: first.lines.at(-1)!.id })
    expect([rest.lines.length, rest.more]).toEqual([5, false])
    await expect(contactsOf(ofSouth, oak.id, {})).rejects.toMatchObject({ status: 403 })
    await expect(contactsOf(officer, officer.id, {})).rejects.toMatchObject({ status: 404 })
  })

  it('are forgotten after two years', async () => {
    later(0)
    const sql = await database()
    await sql.query(`UPDATE device_contact SET last_at = $1 WHERE seq = 1`, [
      new Date(now() - 740 * DAY).toISOString(),
    ])
    expect(await forgetOldContacts(sql)).toBe(1)
    expect((await contactsOf(officer, elm.id, {})).lines).toHaveLength(1)
  })
})

describe('the devices of a branch', () => {
  it('are listed with the longest silent first, and with what waits on them', async () => {
    later(0)
    const sql = await database()
    await sql.query('UPDATE device SET last_contact_at = $2 WHERE id = $1', [
      oak.id,
      new Date(now() - 9 * DAY).toISOString(),
    ])
    expect(await names({})).toEqual(['oak', 'elm'])
    expect(await names({ show: 'silent' })).toEqual(['oak'])
    expect(await names({ show: 'waiting' })).toEqual(['elm'])
    expect(await names({ find: 'ELM' })).toEqual(['elm'])
    expect(await names({ find: 'phone oak' })).toEqual(['oak'])
    const { lines, counts } = await listDevices(officer, {}, null)
    expect(lines[1]).toMatchObject({ waiting: 1, needsPerson: 2, storageShare: null })
    expect(counts).toEqual({ all: 2, silent: 1, waiting: 1, silentWaiting: 0, blocked: 0 })
    expect((await listDevices(ofSouth, {}, null)).counts.all).toBe(0)
  })

  it('say that they run an earlier version only where that is known', async () => {
    await note(elm, { says: { version: 'build-1', storage: 0.25 } })
    const earlier = async (version: string | null) =>
      (await listDevices(officer, {}, version)).lines.map(({ isEarlier }) => isEarlier)
    expect(await earlier('build-1')).toEqual([false, false])
    expect(await earlier('build-2')).toEqual([false, true])
    expect(await earlier(null)).toEqual([false, false])
  })

  it('that are blocked come last and are not silent', async () => {
    await blockDevice(officer, oak.id, true)
    expect(await names({})).toEqual(['elm', 'oak'])
    expect((await listDevices(officer, {}, null)).counts).toMatchObject({ silent: 0, blocked: 1 })
    expect(await names({ show: 'blocked' })).toEqual(['oak'])
  })

  it('say how many forms have a newer edition than they were given', async () => {
    const sql = await database()
    const lacking = async () =>
      (await listDevices(officer, {}, null)).lines.map(({ lacksEditions }) => lacksEditions)
    expect(await lacking()).toEqual([0, 0])
    await sql.query(
      `INSERT INTO edition (dataset, number, definition, published_at) SELECT dataset, 2, definition, $1 FROM edition`,
      [new Date(now() + MINUTE).toISOString()],
    )
    await sql.query(`UPDATE device SET last_contact_at = $2 WHERE id = $1`, [
      oak.id,
      new Date(now() + 2 * MINUTE).toISOString(),
    ])
    expect(await lacking()).toEqual([1, 0])
  })

  it('are handed over with another name, and nobody who used one stays signed in', async () => {
    const sql = await database()
    await sql.query(
      `INSERT INTO desk_session (token_hash, device, person, epoch, made_at) VALUES ('t', $1, $2, 1, $3)`,
      [elm.id, clerk.id, NOW],
    )
    await expect(handOver(ofSouth, elm.id, 'Mine')).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(handOver(officer, oak.id, 'Blocked')).rejects.toMatchObject({ code: 'device-is-blocked' })
    await handOver(officer, elm.id, 'Phone of the night shift')
    expect(await sql.query('SELECT 1 FROM desk_session WHERE device = $1', [elm.id])).toEqual([])
    const { acts } = await contactsOf(officer, elm.id, {})
    expect(acts).toMatchObject([{ act: 'handedOver', by: 'The officer', text: elm.name }])
    expect((await listDevices(officer, { find: 'night' }, null)).lines).toMatchObject([
      { id: elm.id, name: 'Phone of the night shift' },
    ])
  })

  it('are paired again by a card like the first: the old one is blocked, and what waits on it let in', async () => {
    await expect(pairAgain(ofSouth, elm.id)).rejects.toMatchObject({ code: 'outside-branch' })
    const card = await pairAgain(officer, elm.id)
    const { token } = await pairDevice({ code: card.code }, 'test')
    const again = await deviceByToken(token, { access: clerk })
    expect(again).toMatchObject({ unit: 'elm', settings: elm.settings })
    expect(again.name).toMatch(/^Phone of the night shift/)
    const old = (await listDevices(officer, {}, null)).lines.find(({ id }) => id === elm.id)
    expect(old).toMatchObject({ blocked: true, letsIn: true })
    expect((await contactsOf(officer, elm.id, {})).acts.map(({ act }) => act)).toEqual([
      'pairedAgain',
      'handedOver',
    ])
    const sql = await database()
    await sql.query('DELETE FROM device_contact WHERE device = $1', [again.id])
    await sql.query('DELETE FROM device WHERE id = $1', [again.id])
  })

  it('come in pages', async () => {
    const sql = await database()
    await sql.query(
      `INSERT INTO device (id, name, unit, token_hash, paired_at, last_contact_at)
       SELECT gen_random_uuid(), 'Phone ' || n, 'elm', 'token ' || n, $1::timestamptz, $1::timestamptz - n * interval '1 minute'
       FROM generate_series(1, 60) AS n`,
      [NOW],
    )
    const first = await listDevices(officer, {}, null)
    const rest = await listDevices(officer, { after: first.lines.at(-1)!.id }, null)
    expect([first.lines.length, first.more, rest.lines.length, rest.more]).toEqual([50, true, 12, false])
    expect(new Set([...first.lines, ...rest.lines].map(({ id }) => id)).size).toBe(62)
  })
})
