import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { cardFor, Client, OCTOBER } from '../support/client'
import { DEMO, demoPlace, type Place, type RunningServer, startServer } from '../support/server'
import { TestDevice, type Fault } from '../support/test-device'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf } from '#core/report/edition'

const UNIT = 'tern_row'
const PERSON = 'clerk.tern_row'
const CELLS = cellsOf(MONTHLY_SUMMARY)
  .filter(({ item }) => item.kind === 'wholeNumber')
  .map(({ key }) => key)

const newborn = (unit: string): DeskChange => ({
  kind: 'entry',
  id: uuid(),
  madeAt: new Date().toISOString(),
  case: uuid(),
  register: 'measles_contacts',
  edition: 1,
  form: 'contact',
  unit,
  answers: {
    contact_name: { kind: 'value', value: 'Made up' },
    met_on: { kind: 'value', value: '2026-10-20' },
  },
})

/** What was made, what the district has of it, and how often: the figure at the end. */
async function figure(device: TestDevice) {
  const events = await device.receiveAll()
  const had = events.flatMap(event =>
    event.kind === 'cell' ? [event.last!] : event.kind === 'entry' ? [event.id!] : [],
  )
  const mine = device.made.map(({ id }) => id)
  const times = new Map<string, number>()
  for (const id of had) times.set(id, (times.get(id) ?? 0) + 1)
  return {
    made: mine.length,
    received: mine.filter(id => times.has(id)).length,
    lost: mine.filter(id => !times.has(id)).length,
    doubled: mine.filter(id => times.get(id)! > 1).length,
  }
}

describe('a device at the API', () => {
  const address = inject('address')

  it('is let in by its token and a person, and by neither alone', async () => {
    const device = await TestDevice.at(address, UNIT)
    const body = { device: device.paired.device, clock: new Date().toISOString(), changes: [newborn(UNIT)] }
    const send = async (person: string | null, token: string, more: object = {}) => {
      const client = person ? await Client.signedIn(address, person) : new Client(address)
      const answer = await client.send<{ code?: string }>(
        'POST',
        '/api/desk/send',
        { ...body, ...more },
        { 'x-lantern-device': token },
      )
      return answer.body.code ?? answer.status
    }
    const { token } = device.paired
    expect([
      await send(null, token),
      await send(PERSON, ''),
      await send(PERSON, `${token}a`),
      await send(PERSON, token, { device: uuid() }),
      await send('officer.ashmere', token),
      await send('clerk.millrace', token),
    ]).toEqual([
      'signed-out',
      'device-unknown',
      'device-unknown',
      'device-other',
      'no-permission',
      'outside-branch',
    ])
    // One that cannot be is answered by itself.
    expect(await send(PERSON, token, { changes: [{ ...newborn(UNIT), more: 1 }] })).toBe(200)
    expect(await send(PERSON, token, { changes: [] })).toBe('schema')
    const officer = await Client.signedIn(address, 'officer.ashmere')
    await officer.post(`/api/devices/${device.paired.device}/block`, { blocked: true })
    expect(await send(PERSON, token)).toBe('device-blocked')
  })

  // Faults of the line: at every tenth request the line is cut before, and at every tenth the answer is lost
  // after the district stored it.
  it.each<[string, number, (request: number) => Fault]>([
    ['the line is cut at every tenth request', 0, request => (request % 10 === 0 ? 'cutBefore' : 'none')],
    [
      'every tenth answer is lost after the district stored it',
      30,
      request => (request % 10 === 3 ? 'answerLost' : 'none'),
    ],
    [
      'every second request or answer is lost',
      60,
      request => (request % 4 === 1 ? 'cutBefore' : request % 4 === 3 ? 'answerLost' : 'none'),
    ],
  ])('loses nothing and doubles nothing when %s', async (_name, first, fault) => {
    const device = await TestDevice.pair(address, PERSON, await cardFor(address, UNIT), 7, fault)
    const cells = CELLS.slice(first, first + 30)
    for (const cell of cells) device.write(OCTOBER, UNIT, cell, 1)
    for (let entry = 0; entry < 40; entry++) device.add(newborn(UNIT))
    for (const cell of cells) device.write(OCTOBER, UNIT, cell, 2)
    await device.sendAll()
    expect(
      [...device.outcomes.values()].filter(
        ({ outcome }) => outcome !== 'received' && outcome !== 'alreadyHad',
      ),
    ).toEqual([])
    expect(await figure(device)).toEqual({ made: 100, received: 100, lost: 0, doubled: 0 })
    expect(device.left).toBe(0)
  })
})

describe('a server that is killed in the middle', () => {
  let place: Place
  let server: RunningServer
  beforeAll(async () => {
    place = await demoPlace()
    server = await startServer(place.data, DEMO)
  })
  afterAll(async () => {
    await server?.stop('SIGKILL')
    await place?.remove()
  })

  it('twenty times, loses nothing that it said it had, and doubles nothing', async () => {
    const device = await TestDevice.pair(server.address, PERSON, await cardFor(server.address, UNIT), 5)
    const KILLS = 20
    for (let round = 0; round < KILLS; round++) {
      for (let entry = 0; entry < 15; entry++) device.add(newborn(UNIT))
      device.write(OCTOBER, UNIT, CELLS[round]!, round)
      // It dies while the pieces are on their way: some are stored and answered, some stored only, some never
      // came.
      const sending = device.sendAll(4).catch(() => undefined)
      await new Promise(resolve => setTimeout(resolve, 15 + ((round * 37) % 60)))
      await server.stop('SIGKILL')
      await sending
      server = await startServer(place.data, DEMO)
      await device.comeBack(server.address, PERSON)
    }
    await device.sendAll()
    expect(await figure(device)).toEqual({ made: KILLS * 16, received: KILLS * 16, lost: 0, doubled: 0 })
  }, 600_000)
})
