import { v7 as uuid } from 'uuid'
import { beforeAll, describe, expect, inject, it } from 'vitest'
import { Client, OCTOBER } from '../support/client'
import { TestDevice } from '../support/test-device'

const address = inject('address')
const SEND = '/api/desk/send'
let device: TestDevice
let clerk: Client
const change = (content: unknown, more: object = {}) => ({
  kind: 'cell',
  id: uuid(),
  madeAt: '2026-11-09T10:00:00Z',
  round: OCTOBER,
  unit: 'old_quay',
  cell: 'injuries.f',
  base: 1,
  content,
  ...more,
})

beforeAll(async () => {
  device = await TestDevice.at(address, 'old_quay')
  clerk = device.person
})

const cellNow = async () => {
  const { body } = await clerk.get<{
    cells: { cell: string; content: { value: number }; version: number }[]
  }>(`/api/reports/${OCTOBER}/old_quay`)
  return body.cells.find(({ cell }) => cell === 'injuries.f')!
}

describe('a change', () => {
  const without = (key: string) =>
    Object.fromEntries(Object.entries(change({ kind: 'blank' })).filter(([name]) => name !== key))

  it.each([
    ['an object for a value', change({ kind: 'value', value: { many: 1 } }), 'content/value'],
    ['a negative', change({ kind: 'value', value: -1 }), 'content/value'],
    ['an unknown kind of content', change({ kind: 'perhaps' }), 'content'],
    ['an extra key', change({ kind: 'blank' }, { sneaky: 1 }), 'sneaky'],
    ['a missing key', without('cell'), 'cell'],
    ['not known without a reason', change({ kind: 'notKnown', reason: ' ' }), 'content'],
    ['no identifier', change({ kind: 'blank' }, { id: 'x' }), 'id'],
    ['a day for a moment', change({ kind: 'blank' }, { madeAt: '2026-11-09' }), 'madeAt'],
  ])('with %s is refused with the place, and the others are applied', async (_, bad, place) => {
    const before = await cellNow()
    const good = change({ kind: 'value', value: before.content.value }, { base: before.version })
    const { status, body } = await device.sendNow([bad, good])
    expect(status).toBe(200)
    expect(body.outcomes).toMatchObject([{ outcome: 'refused', code: 'schema' }, { id: good.id }])
    expect(body.outcomes[0]!.message).toContain(place)
    expect(body.outcomes[1]!.outcome).not.toBe('refused')
    expect((await cellNow()).content).toEqual(before.content)
  })

  it.each([
    ['letters', 'many', 'cell-letters'],
    ['yes', true, 'cell-letters'],
    ['decimals', 2.5, 'cell-decimals'],
    ['10^12', 1e12, 'cell-too-large'],
  ])('with %s in a count is refused for that cell alone', async (_, value, code) => {
    const { status, body } = await device.sendNow([change({ kind: 'value', value })])
    expect(status).toBe(200)
    expect(body.outcomes).toMatchObject([{ outcome: 'refused', code }])
  })

  it('with an unknown cell does not hold up the others', async () => {
    const { version } = await cellNow()
    const { body } = await device.sendNow([
      change({ kind: 'value', value: 1 }, { cell: 'moon_landings', base: 0 }),
      change({ kind: 'value', value: 17 }, { base: version }),
    ])
    expect(body.outcomes).toMatchObject([
      { outcome: 'refused', code: 'cell-unknown' },
      { outcome: 'received', version: version + 1 },
    ])
    expect((await cellNow()).content.value).toBe(17)
  })
})

describe('a body', () => {
  it.each([
    ['a missing key', { device: 'x', clock: '' }, 'body/changes'],
    ['no changes', { device: 'x', clock: '', changes: [] }, 'body/changes'],
    ['an extra key', { device: 'x', clock: '', changes: [{}], more: 1 }, 'body/more'],
  ])('with %s is refused with the place', async (_, body, place) => {
    const answer = await clerk.post<{ code: string; problems: { at: string }[] }>(SEND, body)
    expect([answer.status, answer.body.code, answer.type]).toEqual([
      400,
      'schema',
      'application/problem+json',
    ])
    expect(answer.body.problems.some(({ at }) => at.startsWith(place))).toBe(true)
  })

  it.each([
    ['empty', '', 'body-empty'],
    ['not JSON', '{"origin":', 'body-not-json'],
  ])('that is %s is refused', async (_, text, code) => {
    expect((await clerk.post(SEND, text)).body.code).toBe(code)
  })

  it('over 1 MB is refused before it is read', async () => {
    const { status, body } = await clerk.post(
      `/api/reports/${OCTOBER}/old_quay/cells/injuries.f/comments`,
      JSON.stringify({ text: 'x'.repeat(1_100_000) }),
    )
    expect([status, body.code]).toEqual([413, 'body-too-large'])
  })

  it('that is no JSON by its own word is refused', async () => {
    expect((await clerk.post(SEND, '{}', { 'content-type': 'text/plain' })).status).toBe(415)
  })
})

describe('a request', () => {
  it('from another site is refused', async () => {
    expect((await clerk.post(SEND, '{}', { origin: 'https://elsewhere.example' })).body.code).toBe('origin')
    const bare = await fetch(address + SEND, { method: 'POST', body: '{}' })
    expect(bare.status).toBe(403)
  })

  it.each([
    ['/api/nothing', 404, 'not-found'],
    ['/api/reports/nonsense/old_quay', 400, 'schema'],
    ['/api/reports/monthly_summary~2031-01/old_quay', 404, 'not-found'],
    [`/api/reports/${OCTOBER}/DROP TABLE`, 400, 'schema'],
    [`/api/reports/${OCTOBER}/no_such_unit`, 404, 'not-found'],
    ['/api/_auth/session', 404, 'not-found'],
    ['/api/search', 400, 'schema'],
    ['/api/today?unit=x&more=1', 400, 'schema'],
  ])('for %s is answered %i', async (path, status, code) => {
    const answer = await clerk.get(path)
    expect([answer.status, answer.body.code, answer.type]).toEqual([status, code, 'application/problem+json'])
  })

  it('is told strictly what a page may run', async () => {
    const { headers } = await new Client(address).get('/')
    const policy = headers.get('content-security-policy')!
    expect(policy).toContain("default-src 'self'")
    expect(policy).toMatch(/script-src 'self' 'sha256-/)
    // Only WebAssembly may be compiled: a PIN is stretched by it.
    expect(policy).not.toContain("'unsafe-eval'")
    expect(policy.match(/script-src[^;]*/)![0]).not.toContain('unsafe-inline')
    for (const [name, value] of [
      ['x-content-type-options', 'nosniff'],
      ['x-frame-options', 'SAMEORIGIN'],
      ['referrer-policy', 'same-origin'],
    ]) {
      expect(headers.get(name!)).toBe(value)
    }
  })
})
