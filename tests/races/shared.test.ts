import { setTimeout } from 'node:timers/promises'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { JobKind, JobLine, JobList } from '#core/contract/jobs'
import { cardFor, Client, OCTOBER } from '../support/client'
import { contactEntry } from '../support/samples'
import { DEMO, startServer, type RunningServer } from '../support/server'
import { TestDevice } from '../support/test-device'
import { atOnce, signedInAtBoth, startTwo, type TwoServers } from '../support/two-servers'

const EIGHT = 8
let two: TwoServers
let officers: Client[]
let admins: Client[]
let database: pg.Client
beforeAll(async () => {
  two = await startTwo()
  officers = await signedInAtBoth(two, 'officer.ashmere', EIGHT)
  admins = await signedInAtBoth(two, 'admin', EIGHT)
  database = new pg.Client({ connectionString: two.data })
  await database.connect()
})
afterAll(async () => {
  await database?.end()
  await two?.stop()
})

describe('of eight at once, over two processes', () => {
  it('as many pair a device as the card allows', async () => {
    const code = await cardFor(two.address(0), 'tern_row', 3)
    const { statuses, answers } = await atOnce(admins, (_, at) =>
      new Client(two.address(at)).post<{ name: string }>('/api/desk/pair', { code }),
    )
    expect(statuses).toMatchObject({ 200: 3 })
    const names = answers.filter(({ status }) => status === 200).map(({ body }) => body.name)
    expect(new Set(names).size).toBe(3)
  })

  it('all say what a facility offers and who is in a group, and one of them is heard last', async () => {
    const ITEMS = ['days_open', 'outpatient_first_visits']
    const said = await atOnce(officers, (client, at) =>
      client.send('PUT', '/api/services/monthly_summary/millrace', {
        from: '2026-11-01',
        items: ITEMS.slice(at % 2),
      }),
    )
    expect(Object.keys(said.statuses)).toEqual(['200'])
    const { body } = await officers[0]!.get<{ notOffered: { item: string }[] }>(
      '/api/services/monthly_summary/millrace',
    )
    expect([ITEMS, ITEMS.slice(1)]).toContainEqual(body.notOffered.map(({ item }) => item).sort())
    const MEMBERS = ['millrace', 'tern_row']
    const grouped = await atOnce(admins, (client, at) =>
      client.send('PUT', '/api/unit-groups/raced', {
        name: { en: 'Raced', fr: 'Couru' },
        members: MEMBERS.slice(at % 2).map(unit => ({ unit, from: '2026-01-01', to: null })),
      }),
    )
    expect(Object.keys(grouped.statuses)).toEqual(['200'])
  })

  it('all let a facility in after closing, or hear why not', async () => {
    const { statuses } = await atOnce(officers, client =>
      client.post(`/api/reports/${OCTOBER}/millrace/let-in`, {
        day: '2026-11-12',
        why: 'The bridge is out.',
      }),
    )
    expect(Object.keys(statuses)).toEqual(['200'])
  })
})

describe('what one process hears, the other knows', () => {
  it('wrong passwords cost a wait at both', async () => {
    const tried = []
    for (let at = 0; at < 6; at++)
      tried.push(
        await new Client(two.address(at)).post('/api/session', { userName: 'reader', password: 'wrong' }),
      )
    expect(tried.map(({ status }) => status)).toEqual([401, 401, 401, 401, 429, 429])
    const right = { userName: 'reader', password: 'lantern-2026' }
    expect((await new Client(two.address(1)).post('/api/session', right)).status).toBe(429)
    await setTimeout(Number(tried.at(-1)!.headers.get('retry-after')) * 1000)
    expect((await new Client(two.address(0)).post('/api/session', right)).status).toBe(200)
  })
})

describe('a process whose clock is twenty minutes ahead', () => {
  let ahead: RunningServer
  beforeAll(async () => {
    const now = new Date(Date.parse(DEMO.LANTERN_NOW) + 20 * 60_000).toISOString()
    ahead = await startServer(two.data, { ...DEMO, LANTERN_NOW: now })
  })
  afterAll(() => ahead?.stop())

  it('knows the sessions of the others, and they know its own', async () => {
    expect((await admins[0]!.at(ahead.address).get('/api/today')).status).toBe(200)
    const there = await Client.signedIn(ahead.address, 'officer.ashmere')
    expect((await there.at(two.address(0)).get('/api/today')).status).toBe(200)
    expect((await admins[0]!.get('/api/today')).status).toBe(200)
  })

  it('takes jobs that the others ask for, and they take its own, at once', async () => {
    for (const address of [two.address(0), ahead.address]) {
      const client = admins[0]!.at(address)
      const { body } = await client.post<JobLine>('/api/jobs', { kind: 'openRounds' })
      await vi.waitFor(
        async () => {
          const { lines } = (await client.get<JobList>('/api/jobs?filter=asked')).body
          expect(lines.find(({ id }) => id === body.id)?.state).toBe('done')
        },
        { timeout: 10_000, interval: 100 },
      )
    }
  })

  it('gives a device the entries that it sent elsewhere, in their order', async () => {
    const unit = 'tern_row'
    const here = await TestDevice.at(two.address(0), unit)
    const there = await TestDevice.at(ahead.address, unit)
    for (const device of [here, there, here, there]) {
      device.add(contactEntry(unit))
      await device.sendAll(2)
      expect(device.left).toBe(0)
    }
    const heard = (await there.receiveAll()).map(({ id }) => id)
    const made = [here.made[0]!, there.made[0]!, here.made[1]!, there.made[1]!].map(({ id }) => id)
    expect(heard.filter(id => made.includes(id!))).toEqual(made)
  })
})

describe('jobs of two processes', () => {
  const ask = (client: Client, kind: JobKind) => client.post<JobLine>('/api/jobs', { kind })
  const jobs = async () => (await admins[0]!.get<JobList>('/api/jobs?filter=asked')).body.lines
  const ended = (ids: readonly string[]) =>
    vi.waitFor(
      async () => {
        const states = (await jobs()).filter(({ id }) => ids.includes(id)).map(({ state }) => state)
        expect(states.filter(state => state !== 'done')).toEqual([])
      },
      { timeout: 90_000, interval: 200 },
    )

  it('run one at a time of a kind, each once, whoever asks', async () => {
    const { answers } = await atOnce(admins, client => ask(client, 'verify'))
    const ids = [...new Set(answers.map(({ body }) => body.id))]
    // Asked of the database: each process has a clock of its own, which began at the time of the demo.
    let most = 0
    let isOver = false
    const waiting = ended(ids).finally(() => (isOver = true))
    while (!isOver) {
      const { rows } = await database.query<{ running: number }>(
        `SELECT count(*)::int AS running FROM job WHERE kind = 'verify' AND state = 'running'`,
      )
      most = Math.max(most, rows[0]!.running)
    }
    await waiting
    expect(most).toBe(1)
    const ran = (await jobs()).filter(({ id }) => ids.includes(id))
    expect(ran.map(({ tries }) => tries)).toEqual(ids.map(() => 1))
  })

  it('are gone on with when the process that runs one dies: every report is judged, none is lost', async () => {
    await database.query(
      `INSERT INTO report_to_judge (report, since)
       SELECT id, now() FROM report WHERE first_received_at IS NOT NULL AND round LIKE 'monthly_summary~%'
       ORDER BY id LIMIT 200 ON CONFLICT DO NOTHING`,
    )
    const { body } = await ask(admins[0]!, 'judgeAgain')
    const runner = async () => {
      const { rows } = await database.query<{ runner: string; state: string }>(
        'SELECT runner, state FROM job WHERE id = $1',
        [body.id],
      )
      return rows[0]!
    }
    await vi.waitFor(async () => expect((await runner()).state).toBe('running'), { timeout: 9_000 })
    const before = (await runner()).runner
    await two.kill(0)
    // One of them ran it. Which one, the row does not say: when the lease is over, it was the other.
    if ((await runner()).runner === before && (await runner()).state === 'running') await two.kill(1)
    admins = await signedInAtBoth(two, 'admin', EIGHT)
    await ended([body.id])
    const [job] = (await jobs()).filter(({ id }) => id === body.id)
    expect(job!.tries).toBeGreaterThan(1)
    const { rows } = await database.query('SELECT 1 FROM report_to_judge')
    expect(rows).toEqual([])
    const { rows: doubled } = await database.query(
      'SELECT report, case_id, doubt_key FROM discrepancy GROUP BY 1, 2, 3 HAVING count(*) > 1',
    )
    expect(doubled).toEqual([])
  })
})
