import { rmSync, writeFileSync } from 'node:fs'
import { request } from 'node:http'
import { join } from 'node:path'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Client, OCTOBER } from '../support/client'
import { DEMO, demoFolder, PASSWORD, type RunningServer, startServer } from '../support/server'
import { TestDevice } from '../support/test-device'
import { CARD_SETTINGS } from '../support/samples'

let data: string
let server: RunningServer
let officer: Client

beforeAll(async () => {
  data = demoFolder()
  server = await startServer(data, DEMO)
  officer = await Client.signedIn(server.address, 'officer.ashmere')
})
afterAll(async () => {
  await server.stop()
  rmSync(data, { recursive: true, force: true })
})

const entry = () => ({
  kind: 'entry' as const,
  id: uuid(),
  madeAt: new Date().toISOString(),
  case: uuid(),
  register: 'measles_contacts',
  edition: 1,
  form: 'contact',
  unit: 'tern_row',
  answers: { contact_name: { kind: 'value' as const, value: 'Made up' } },
})

describe('nothing lost, 13', () => {
  it('a method that an address does not know is answered with 405 and the ones that it does', async () => {
    for (const [method, path] of [
      ['DELETE', '/api/today'],
      ['PATCH', '/api/today'],
      ['PUT', '/api/session'],
      ['POST', `/api/rounds/${OCTOBER}/board`],
    ] as const) {
      const { status, type, headers } = await officer.send(method, path, method === 'DELETE' ? undefined : {})
      expect([status, type]).toEqual([405, 'application/problem+json'])
      expect(headers.get('allow')).toMatch(/GET/)
    }
  })

  it('signing out ends the session at the server, for a copy of its cookie too', async () => {
    const own = await Client.signedIn(server.address, 'clerk.lowgate')
    const copy = own.at(server.address)
    expect((await copy.get('/api/due')).status).toBe(200)
    await own.delete('/api/session')
    expect((await copy.get('/api/due')).status).toBe(401)
  })

  it('a person makes a few devices a day, also when many are asked for at once', async () => {
    const clerk = await Client.signedIn(server.address, 'clerk.old_quay')
    const answers = await Promise.all(
      Array.from({ length: 30 }, () => clerk.post<{ code?: string }>('/api/desk/here', {})),
    )
    expect(answers.filter(({ status }) => status === 200)).toHaveLength(10)
    expect(answers.filter(({ body }) => body.code === 'too-many-devices')).toHaveLength(20)
  })

  it('a blocked device brings what waited on it once: an hour later it is blocked like any other', async () => {
    const device = await TestDevice.at(server.address, 'tern_row')
    await officer.post(`/api/devices/${device.paired.device}/block`, { blocked: true, letsIn: true })
    device.add(entry())
    await device.sendAll(3)
    expect(device.left).toBe(0)
    await server.stop()
    const later = new Date(Date.parse(DEMO.LANTERN_NOW) + 2 * 3_600_000).toISOString()
    const port = Number(new URL(server.address).port)
    server = await startServer(data, { ...DEMO, LANTERN_NOW: later }, port)
    officer = await Client.signedIn(server.address, 'officer.ashmere')
    device.add(entry())
    await expect(device.sendOnce()).rejects.toThrow(/device-blocked/)
  })

  it('a unit that something refers to is not taken back, and that is said in a sentence', async () => {
    const admin = await Client.signedIn(server.address, 'admin')
    const rows = [
      { code: 'new_pier', name: 'New Pier', parent: 'north_shore', level: '4', kind: 'dispensary' },
    ]
    const zone = (
      await admin.get<{ units: { code: string; parent: string }[] }>('/api/units')
    ).body.units.find(({ code }) => code === 'tern_row')!.parent
    rows[0]!.parent = zone
    const {
      body: { basis },
    } = await admin.post<{ basis: number }>('/api/units/preview', { day: '2026-11-09', rows })
    const {
      body: { id },
    } = await admin.post<{ id: string }>('/api/units/changes', { day: '2026-11-09', rows, basis })
    await officer.post('/api/pairing-cards', {
      name: 'Refers',
      unit: 'new_pier',
      uses: 1,
      days: 1,
      settings: CARD_SETTINGS,
    })
    const { status, body } = await admin.post(`/api/units/changes/${id}/undo`)
    expect([status, body.code]).toEqual([409, 'units-referred'])
  })
})

describe('nothing lost, 10: a stop', () => {
  it('lets the requests that are under way come to their end before the database closes', async () => {
    await server.stop()
    server = await startServer(data, DEMO)
    officer = await Client.signedIn(server.address, 'officer.ashmere')
    const device = await TestDevice.at(server.address, 'tern_row')
    for (let count = 0; count < 400; count++) device.add(entry())
    const sending = device.sendNow(device.made)
    await new Promise(resolve => {
      setTimeout(resolve, 15)
    })
    const stopped = server.stop()
    const { status, body } = await sending
    expect(await stopped).toBe(0)
    // It was answered, or told to come again: never cut off in between.
    expect([200, 503]).toContain(status)
    server = await startServer(data, DEMO)
    await device.comeBack(server.address, 'clerk.tern_row')
    const events = await device.receiveAll()
    const there = new Set(events.map(({ id }) => id))
    if (status === 200) expect(body.outcomes.every(({ outcome }) => outcome === 'received')).toBe(true)
    expect(device.made.filter(({ id }) => there.has(id))).toHaveLength(status === 200 ? 400 : 0)
  })
})

describe('nothing lost, 5: an address', () => {
  it('with the character 0 is refused, and is no fault of the server', async () => {
    const own = await Client.signedIn(server.address, 'officer.ashmere')
    for (const path of [
      '/api/search?q=%00',
      '/api/search?q=a%00b',
      '/api/cases?find=abc%00',
      '/api/units/%00',
      '/api/discrepancies?unit=%ED%A0%80',
    ]) {
      expect((await own.get(path)).status, path).toBe(400)
    }
  })
})

describe('nothing lost, 11: a body that lies', () => {
  it('that says gzip and is none, or ends early, is refused and nothing hangs', async () => {
    const { hostname, port } = new URL(server.address)
    const status = await new Promise<number | string>(resolve => {
      const asked = request(
        {
          hostname,
          port,
          path: '/api/session',
          method: 'POST',
          headers: {
            origin: server.address,
            'content-type': 'application/json',
            'content-encoding': 'gzip',
            'content-length': 3,
          },
        },
        answer => resolve(answer.statusCode!),
      )
      asked.on('error', error => resolve(error.message))
      asked.end('abc')
    })
    expect(status).toBe(400)
    expect(
      (
        await new Client(server.address).post('/api/session', {
          userName: 'clerk.lowgate',
          password: PASSWORD,
        })
      ).status,
    ).toBe(200)
  })
})

/** After the others: for a minute nobody can sign in from this address, and a start of the server does not forget it. */
describe('nothing lost, 12: strangers', () => {
  it('four hundred sign-ins with made-up names do not lock anybody out, nor stop the server', async () => {
    officer = await Client.signedIn(server.address, 'officer.ashmere')
    const tries = Array.from({ length: 400 }, (_, at) =>
      new Client(server.address).post('/api/session', { userName: `stranger ${at}`, password: 'guess' }),
    )
    const asked = Array.from({ length: 20 }, () => officer.get('/api/today'))
    const codes = (await Promise.all(tries)).map(({ body }) => body.code)
    expect(new Set(codes)).toEqual(new Set(['wrong-password', 'too-many-tries']))
    expect((await Promise.all(asked)).every(({ status }) => status === 200)).toBe(true)
  })
})

describe('nothing lost, 4: a session key that was cut off', () => {
  it('ends the start with a sentence', async () => {
    await server.stop()
    writeFileSync(join(data, 'session-key'), 'short')
    const { spawnSync } = await import('node:child_process')
    const { status, stderr } = spawnSync(process.execPath, ['scripts/start.mjs'], {
      env: { ...process.env, LANTERN_DATA: data, PORT: '4399' },
      encoding: 'utf8',
    })
    expect([status, stderr]).toEqual([
      1,
      expect.stringContaining('session-key is damaged, it holds 5 characters'),
    ])
    rmSync(join(data, 'session-key'))
    server = await startServer(data, DEMO)
  })
})
