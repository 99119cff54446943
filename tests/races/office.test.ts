import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DistrictReport } from '#core/contract/district-reports'
import { OCTOBER, type Client } from '../support/client'
import { draftsOf } from '../support/things'
import { atOnce, signedInAtBoth, startTwo, type TwoServers } from '../support/two-servers'

const EIGHT = 8
/** One of eight succeeds; the others hear that somebody was quicker. */
const ONE = { 200: 1, 409: EIGHT - 1 }

let two: TwoServers
let officers: Client[]
let admins: Client[]
beforeAll(async () => {
  two = await startTwo()
  officers = await signedInAtBoth(two, 'officer.ashmere', EIGHT)
  admins = await signedInAtBoth(two, 'admin', EIGHT)
})
afterAll(() => two?.stop())

type Lines = { lines: { id: string; state: string; strength: string }[] }
const openDoubts = async () =>
  (await officers[0]!.get<Lines>(`/api/discrepancies?round=${OCTOBER}`)).body.lines.filter(
    ({ state, strength }) => state === 'open' && strength === 'explain',
  )

describe('of eight at once, over two processes', () => {
  it('one saves a draft that all of them read', async () => {
    const { dataset } = draftsOf('raced')
    for (const version of [0, 1, 2]) {
      const { statuses } = await atOnce(officers, (client, at) =>
        client.send('PUT', '/api/drafts/raced', {
          version,
          draft: { ...dataset, name: { en: `Raced ${at}`, fr: `Couru ${at}` } },
          reports: [],
        }),
      )
      expect(statuses).toEqual(ONE)
    }
    const { body } = await officers[0]!.get<{ version: number }>('/api/drafts/raced')
    expect(body.version).toBe(3)
  })

  it('one saves a list of choices, and a register', async () => {
    const { list, register } = draftsOf('raced_too')
    for (const [path, body] of [
      ['/api/choice-lists/raced_too', { version: 0, list }],
      ['/api/registers/raced_too', { version: 0, draft: register }],
    ] as const) {
      const { statuses } = await atOnce(officers, client => client.send('PUT', path, body))
      expect(Object.keys(statuses).sort()).toEqual(['200', '409'])
      expect(statuses[200]).toBe(1)
    }
  })

  it('one settles a discrepancy', async () => {
    for (const { id } of (await openDoubts()).slice(0, 4)) {
      const { statuses } = await atOnce(officers, client =>
        client.post(`/api/discrepancies/${id}/settle`, {
          outcome: 'explained',
          text: 'Confirmed by telephone.',
          corrections: [],
        }),
      )
      expect(statuses).toEqual(ONE)
      const { body } = await officers[0]!.get<{ thread: { act: string }[] }>(`/api/discrepancies/${id}`)
      expect(body.thread.filter(({ act }) => act === 'settled')).toHaveLength(1)
      const reopened = await atOnce(officers, client =>
        client.post(`/api/discrepancies/${id}/reopen`, { text: 'One more look.' }),
      )
      expect(reopened.statuses).toEqual(ONE)
    }
  })

  it('one signs', async () => {
    const path = '/api/district-reports/monthly_summary~2026-07'
    const { body } = await officers[0]!.get<DistrictReport>(path)
    const { statuses } = await atOnce(officers, client =>
      client.post(`${path}/sign`, { checksum: body.toSign }),
    )
    expect(statuses).toEqual(ONE)
    expect((await officers[0]!.get<DistrictReport>(path)).body.signatures).toHaveLength(1)
  })

  it('one changes the units that all of them looked at', async () => {
    const day = '2026-11-09'
    const { body: unit } = await admins[0]!.get<{
      spans: { to: string | null; parent: { code: string } }[]
    }>('/api/units/tern_row')
    const parent = unit.spans.find(({ to }) => to === null)!.parent.code
    const rows = (at: number) => [{ code: 'tern_row', name: `Tern Row ${at}`, parent }]
    const { body: preview } = await admins[0]!.post<{ basis: number }>('/api/units/preview', {
      day,
      rows: rows(0),
    })
    const { statuses, answers } = await atOnce(admins, (client, at) =>
      client.post<{ id: string }>('/api/units/changes', { day, rows: rows(at), basis: preview.basis }),
    )
    expect(statuses).toEqual(ONE)
    const { id } = answers.find(({ status }) => status === 200)!.body
    const undone = await atOnce(admins, client => client.post(`/api/units/changes/${id}/undo`, {}))
    expect(undone.statuses).toEqual(ONE)
  })

  it('one makes a person of a name', async () => {
    const { statuses } = await atOnce(admins, client =>
      client.post('/api/people', {
        userName: 'clerk.raced',
        displayName: 'New there',
        role: 'clerk',
        branch: 'tern_row',
        ownOnly: false,
      }),
    )
    expect(statuses).toEqual(ONE)
  })

  it('all accept what is left, and no report is accepted twice', async () => {
    const { statuses, answers } = await atOnce(officers, client =>
      client.post<{ accepted: { code: string }[] }>(`/api/rounds/${OCTOBER}/accept`, {}),
    )
    expect(Object.keys(statuses)).toEqual(['200'])
    const accepted = answers.flatMap(({ body }) => body.accepted.map(({ code }) => code))
    expect(accepted.length).toBeGreaterThan(0)
    expect(new Set(accepted).size).toBe(accepted.length)
  })
})
