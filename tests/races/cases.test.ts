import { v7 as uuid } from 'uuid'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { CaseFileView } from '#core/contract/cases'
import type { DeskEvent } from '#core/contract/desk'
import type { JobKind, JobLine, JobList } from '#core/contract/jobs'
import type { RegisterFile } from '#core/contract/registers'
import type { Client } from '../support/client'
import { TestDevice } from '../support/test-device'
import { atOnce, signedInAtBoth, startTwo, type TwoServers } from '../support/two-servers'

const EIGHT = 8
let two: TwoServers
let officers: Client[]
let database: pg.Client
beforeAll(async () => {
  two = await startTwo()
  officers = await signedInAtBoth(two, 'officer.ashmere', EIGHT)
  database = new pg.Client({ connectionString: two.data })
  await database.connect()
})
afterAll(async () => {
  await database?.end()
  await two?.stop()
})

const rows = async <Row extends object>(text: string, values: unknown[] = []) =>
  (await database.query<Row>(text, values)).rows
const fileOf = async (id: string) => (await officers[0]!.get<CaseFileView>(`/api/cases/${id}`)).body

describe('of eight officers at once, over two processes', () => {
  let id = ''
  let facilities: string[] = []

  it('each gives a case on from the facility to which the one before gave it', async () => {
    ;[{ id }] = (await rows<{ id: string }>(
      `SELECT id FROM case_record WHERE register = 'measles_cases' AND unit = 'pell_harbour' AND closed_on IS NULL AND merged_into IS NULL
       ORDER BY id LIMIT 1`,
    )) as [{ id: string }]
    facilities = (
      await rows<{ code: string }>(
        `SELECT code FROM unit_latest WHERE level = 4 AND to_day IS NULL AND code <> 'pell_harbour'
           AND path[2] = (SELECT path[2] FROM unit_latest WHERE code = 'pell_harbour') ORDER BY code LIMIT ${EIGHT}`,
      )
    ).map(({ code }) => code)
    const { statuses } = await atOnce(officers, (client, at) =>
      client.post(`/api/cases/${id}/acts`, {
        ...{ act: 'move', to: facilities[at], since: null, text: 'Who has it?' },
      }),
    )
    expect(statuses).toEqual({ 200: EIGHT })
    const { life, unit } = await fileOf(id)
    const moves = life.filter(({ act }) => act === 'moved')
    expect(moves.map(({ to }) => to!.code).sort()).toEqual(facilities)
    moves.reduce((at, { from, to }) => {
      expect(from!.code).toBe(at)
      return to!.code
    }, 'pell_harbour')
    expect(unit.code).toBe(moves.at(-1)!.to!.code)
  })

  it('one closes it', async () => {
    const { statuses } = await atOnce(officers, client =>
      client.post(`/api/cases/${id}/acts`, { act: 'close', on: '2026-11-09', outcome: 'lost' }),
    )
    expect(statuses).toEqual({ 200: 1, 409: EIGHT - 1 })
  })

  it('none keeps a phone from hearing of the case, whatever it sent at the same time', async () => {
    const device = await TestDevice.at(two.address(0), 'pell_harbour')
    const [entry] = await rows<{ edition: number }>(
      `SELECT edition FROM case_entry WHERE case_id = $1 ORDER BY seq LIMIT 1`,
      [id],
    )
    const visit = {
      ...{ kind: 'entry', id: uuid(), madeAt: '2026-11-09T08:00:00Z', case: id, register: 'measles_cases' },
      ...{ edition: entry!.edition, form: 'home_visit', unit: 'pell_harbour' },
      answers: { home_visited_on: { kind: 'value', value: '2026-11-09' } },
    }
    const [sent, moved] = await Promise.all([
      device.person.post<{ outcomes: { outcome: string }[] }>('/api/desk/send', {
        ...{ device: device.paired.device, clock: '2026-11-09T10:45:00Z', changes: [visit] },
      }),
      officers[1]!.post(`/api/cases/${id}/acts`, {
        ...{ act: 'move', to: 'pell_harbour', since: null, text: 'Back again' },
      }),
    ])
    expect([sent.body.outcomes[0]!.outcome, moved.status]).toEqual(['received', 200])
    const events = (await device.receiveAll()) as DeskEvent[]
    expect(events.some(event => event.kind === 'entry' && event.id === visit.id)).toBe(true)
    const last = events.findLast(
      (event): event is Extract<DeskEvent, { kind: 'case' }> => event.kind === 'case' && event.case === id,
    )
    expect(last).toMatchObject({ unit: 'pell_harbour', isHere: true })
    expect((await fileOf(id)).unit.code).toBe('pell_harbour')
  })
})

describe('personal answers of a PostgreSQL server', () => {
  it('past their time are replaced by the job of the night, and what is kept agrees with the entries', async () => {
    const admin = (await signedInAtBoth(two, 'admin', 1))[0]!
    const { body } = await admin.get<RegisterFile>('/api/registers/measles_cases')
    const keeping = { ...body.draft.keeping!, years: 1 }
    await admin.send('PUT', '/api/registers/measles_cases', {
      version: body.version,
      draft: { ...body.draft, keeping },
    })
    expect(
      (await admin.post('/api/registers/measles_cases/publish', { version: body.version + 1 })).status,
    ).toBe(200)
    const names = `SELECT count(*)::int AS count FROM case_record
      WHERE register = 'measles_cases' AND last_on < '2025-11-09' AND known -> 'full_name' ->> 'value' NOT LIKE 'P-%'`
    expect((await rows<{ count: number }>(names))[0]!.count).toBeGreaterThan(20)
    const run = async (kind: JobKind) => {
      const { body: asked } = await admin.post<JobLine>('/api/jobs', { kind })
      return vi.waitFor(
        async () => {
          const { lines } = (await admin.get<JobList>('/api/jobs')).body
          // It may be one that waited already, which nobody asked for.
          const job = lines.find(one => one.id === asked.id)!
          expect(job.state).toBe('done')
          return job
        },
        { timeout: 90_000, interval: 500 },
      )
    }
    // What was moved above has reports judged; what is replaced has none: it counts as before.
    await run('judgeAgain')
    expect((await run('tidy')).result!.numbers.removed).toBeGreaterThan(20)
    expect((await rows<{ count: number }>(names))[0]!.count).toBe(0)
    expect(await rows('SELECT report FROM report_to_judge')).toEqual([])
    // The new edition has the cases folded anew; of new doubts the effect is computed a minute later.
    for (const kind of ['foldCases', 'effects'] as const) await run(kind)
    expect((await run('verify')).result!.details).toEqual([])
  })
})
