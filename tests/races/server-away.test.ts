import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout } from 'node:timers/promises'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { fillDemo } from '../../scripts/demo-data.mjs'
import { startCluster } from '../../scripts/postgres.mjs'
import { cardFor, Client } from '../support/client'
import { contactEntry } from '../support/samples'
import { DEMO, startServer, type RunningServer } from '../support/server'
import { TestDevice } from '../support/test-device'

const UNITS = ['tern_row', 'sedge_bay']
/** Room for the demo and a little more. */
const MEGABYTES = 450

/** A small disk of its own, where this machine lets us make one; else a folder, and no test of a full one. */
const disk = mkdtempSync(join(tmpdir(), 'lantern-disk-'))
const isSmall = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${MEGABYTES}m`, 'tmpfs', disk]).status === 0
let cluster: Awaited<ReturnType<typeof startCluster>>
let servers: RunningServer[]
let devices: TestDevice[]

beforeAll(async () => {
  cluster = await startCluster({ isDurable: true, within: disk })
  await cluster.make('lantern')
  await fillDemo(cluster.url('lantern'))
  servers = await Promise.all([0, 1].map(() => startServer(cluster.url('lantern'), DEMO)))
  devices = []
  for (const [at, unit] of UNITS.entries()) {
    const { address } = servers[at]!
    devices.push(await TestDevice.pair(address, `clerk.${unit}`, await cardFor(address, unit, 1), 3))
  }
})
afterAll(async () => {
  await Promise.all((servers ?? []).map(server => server.stop()))
  await cluster?.stop()
  if (isSmall) spawnSync('umount', [disk])
  rmdirSync(disk)
})

/** Devices send entries all the time while something happens to the database. What is refused is sent again. */
async function sendWhile(happens: () => Promise<void>): Promise<Set<number>> {
  const refused = new Set<number>()
  let isOver = false
  const sending = devices.map(async (device, at) => {
    while (!isOver) {
      for (let count = 0; count < 3; count++) device.add(contactEntry(UNITS[at]!))
      await device.sendAll(3).catch(async (error: Error) => {
        refused.add(Number(/refused: (\d+)/.exec(error.message)?.[1]))
        await setTimeout(100)
      })
    }
  })
  await happens()
  isOver = true
  await Promise.all(sending)
  return refused
}

/** Sends what is left, and compares: everything that was confirmed is there, once. */
async function nothingIsLost(): Promise<void> {
  for (const device of devices) {
    await vi.waitFor(() => device.sendAll(), { timeout: 60_000, interval: 500 })
    expect(device.left).toBe(0)
    const outcomes = [...device.outcomes.values()].map(({ outcome }) => outcome)
    // What was stored, and whose answer was cut off, was there already when it came again.
    expect(outcomes.filter(outcome => outcome !== 'received' && outcome !== 'alreadyHad')).toEqual([])
  }
  const rows = await cluster.run('SELECT id, count(*)::int AS count FROM case_entry GROUP BY id', 'lantern')
  const counts = new Map(rows.map(({ id, count }: { id: string; count: number }) => [id, count]))
  const made = devices.flatMap(device => device.made.map(({ id }) => id))
  expect(made.length).toBeGreaterThan(30)
  expect(made.filter(id => counts.get(id) !== 1)).toEqual([])
}

const health = async () => {
  for (const { address } of servers) expect((await fetch(`${address}/api/health`)).status).toBe(200)
}

describe('while devices send, a PostgreSQL server', () => {
  it('that cuts every connection in the middle of transactions loses nothing, and doubles nothing', async () => {
    const refused = await sendWhile(async () => {
      for (let time = 0; time < 12; time++) {
        await setTimeout(250)
        await cluster.run(
          `SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE application_name = 'eastward-lantern'`,
        )
      }
    })
    expect([...refused].filter(status => status !== 503)).toEqual([])
    await nothingIsLost()
    await health()
  })

  it('that dies and comes back after some seconds is waited for; people hear why', async () => {
    let answer = { status: 0, code: '' }
    const officer = await Client.signedIn(servers[0]!.address, 'officer.ashmere')
    const refused = await sendWhile(async () => {
      await setTimeout(500)
      await cluster.end()
      const { status, body } = await officer.get<{ code: string }>('/api/today')
      answer = { status, code: body.code }
      await setTimeout(2_500)
      await cluster.begin()
      await setTimeout(500)
    })
    expect(answer).toEqual({ status: 503, code: 'database-away' })
    expect([...refused]).toEqual([503])
    await nothingIsLost()
    await health()
    // Jobs go on as well.
    const admin = await Client.signedIn(servers[0]!.address, 'admin')
    const { body } = await admin.post<{ id: string }>('/api/jobs', { kind: 'openRounds' })
    await vi.waitFor(
      async () => {
        const { body: list } = await admin.get<{ lines: { id: string; state: string }[] }>('/api/jobs')
        expect(list.lines.find(({ id }) => id === body.id)?.state).toBe('done')
      },
      { timeout: 20_000, interval: 200 },
    )
  })

  it.skipIf(!isSmall)(
    'whose disk is full confirms nothing that it does not have, until there is room',
    async () => {
      const ballast = join(disk, 'ballast')
      const refused = await sendWhile(async () => {
        await setTimeout(300)
        // What is left of the disk, but for a little.
        for (let number = 0; ; number++) {
          try {
            writeFileSync(`${ballast}${number}`, Buffer.alloc(1_000_000), { flag: 'w' })
          } catch {
            break
          }
        }
        // Until the pages and the log that there is room for are used up.
        await vi.waitFor(
          () =>
            cluster
              .run(
                'CREATE TABLE IF NOT EXISTS more (text text); INSERT INTO more SELECT repeat(md5(random()::text), 200) FROM generate_series(1, 2000)',
                'lantern',
              )
              .then(
                () => Promise.reject(new Error('there is still room')),
                () => undefined,
              ),
          { timeout: 60_000, interval: 10 },
        )
        await setTimeout(2_000)
      })
      expect([...refused]).toEqual([503])
      for (let number = 0; number <= MEGABYTES; number++) rmSync(`${ballast}${number}`, { force: true })
      // A server that could not write its log ends by itself.
      await cluster.end()
      await cluster.begin()
      await cluster.run('DROP TABLE IF EXISTS more', 'lantern')
      await nothingIsLost()
      await health()
    },
  )
})
