import { beforeAll, describe, expect, inject, it } from 'vitest'
import { Client, OCTOBER } from '../support/client'

const address = inject('address')
const CHANGES = `/api/reports/${OCTOBER}/old_quay/changes`
let clerk: Client
let serial = 100
const uuid = () => `019a0000-0000-7000-8000-${String(++serial).padStart(12, '0')}`
const change = (content: unknown, more: object = {}) => ({
  origin: 'desk',
  changes: [{ id: uuid(), cell: 'injuries.f', base: 1, content, ...more }],
})

beforeAll(async () => {
  clerk = await Client.signedIn(address, 'clerk.old_quay')
})

const cellNow = async () => {
  const { body } = await clerk.get<{
    cells: { cell: string; content: { value: number }; version: number }[]
  }>(`/api/reports/${OCTOBER}/old_quay`)
  return body.cells.find(({ cell }) => cell === 'injuries.f')!
}

describe('a body', () => {
  it.each([
    ['letters in a count', change({ kind: 'value', value: 'many' }), 'body/changes/0/content/value'],
    ['a negative', change({ kind: 'value', value: -1 }), 'body/changes/0/content/value'],
    ['an unknown kind', change({ kind: 'perhaps' }), 'body/changes/0/content'],
    ['an extra key', change({ kind: 'blank' }, { sneaky: 1 }), 'body/changes/0/sneaky'],
    ['a missing key', { origin: 'desk' }, 'body/changes'],
    ['no changes', { origin: 'desk', changes: [] }, 'body/changes'],
    [
      'not known without a reason',
      change({ kind: 'notKnown', reason: ' ' }),
      'body/changes/0/content/reason',
    ],
    [
      'no identifier',
      { origin: 'desk', changes: [{ id: 'x', cell: 'injuries.f', base: 0, content: { kind: 'blank' } }] },
      'body/changes/0/id',
    ],
  ])('with %s is refused with the place', async (_, body, place) => {
    const before = await cellNow()
    const answer = await clerk.post<{ code: string; problems: { at: string }[] }>(CHANGES, body)
    expect([answer.status, answer.body.code, answer.type]).toEqual([
      400,
      'schema',
      'application/problem+json',
    ])
    expect(answer.body.problems.some(({ at }) => at.startsWith(place))).toBe(true)
    expect(await cellNow()).toEqual(before)
  })

  it.each([
    ['decimals', 2.5, 'cell-decimals'],
    ['10^12', 1e12, 'cell-too-large'],
  ])('with %s in a count is refused for that cell alone', async (_, value, code) => {
    const { status, body } = await clerk.post<{ outcomes: object[] }>(
      CHANGES,
      change({ kind: 'value', value }),
    )
    expect(status).toBe(200)
    expect(body.outcomes).toMatchObject([{ outcome: 'refused', code }])
  })

  it('with an unknown cell does not hold up the others', async () => {
    const { version } = await cellNow()
    const both = {
      origin: 'desk',
      changes: [
        { id: uuid(), cell: 'moon_landings', base: 0, content: { kind: 'value', value: 1 } },
        { id: uuid(), cell: 'injuries.f', base: version, content: { kind: 'value', value: 17 } },
      ],
    }
    const { body } = await clerk.post<{ outcomes: object[] }>(CHANGES, both)
    expect(body.outcomes).toMatchObject([
      { outcome: 'refused', code: 'cell-unknown' },
      { outcome: 'received', version: version + 1 },
    ])
    expect((await cellNow()).content.value).toBe(17)
  })

  it.each([
    ['empty', '', 'body-empty'],
    ['not JSON', '{"origin":', 'body-not-json'],
  ])('that is %s is refused', async (_, text, code) => {
    expect((await clerk.post(CHANGES, text)).body.code).toBe(code)
  })

  it('over 1 MB is refused before it is read', async () => {
    const { status, body } = await clerk.post(
      CHANGES,
      JSON.stringify({ origin: 'x'.repeat(1_100_000), changes: [] }),
    )
    expect([status, body.code]).toEqual([413, 'body-too-large'])
  })

  it('that is no JSON by its own word is refused', async () => {
    expect((await clerk.post(CHANGES, '{}', { 'content-type': 'text/plain' })).status).toBe(415)
  })
})

describe('a request', () => {
  it('from another site is refused', async () => {
    expect(
      (await clerk.post(CHANGES, change({ kind: 'blank' }), { origin: 'https://elsewhere.example' })).body
        .code,
    ).toBe('origin')
    const bare = await fetch(address + CHANGES, { method: 'POST', body: '{}' })
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
