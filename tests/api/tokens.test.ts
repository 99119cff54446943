import { beforeAll, describe, expect, inject, it } from 'vitest'
import { templatePath } from '#core/contract/openapi'
import { ROUTES, type RouteContract, type RouteName } from '#core/contract/routes'
import { ApiDocument } from '../support/api-document'
import { Client } from '../support/client'

/** What a program of another system can do with a token, and what not. */
const address = inject('address')
let admin: Client
let document: ApiDocument
/** One program that may all that programs may, for the trials that are refused. */
let everything: ReturnType<typeof programOf> | undefined

async function programOf(
  gives: string[],
  branch: string | null = null,
): Promise<{ id: string; program: Client }> {
  const asked = { name: 'Warehouse of the province', branch, gives, lastDay: '2026-12-31' }
  const { body } = await admin.post<{ id: string; token: string }>('/api/tokens', asked)
  return { id: body.id, program: new Client(address, { authorization: `Bearer ${body.token}` }) }
}

beforeAll(async () => {
  admin = await Client.signedIn(address, 'admin')
  document = await ApiDocument.of(admin)
})

const NAMES = Object.keys(ROUTES) as RouteName[]
const contractOf = (name: RouteName): RouteContract => ROUTES[name]
const OPEN = NAMES.filter(name => contractOf(name).machine)
const CLOSED = NAMES.filter(name => !contractOf(name).machine && contractOf(name).permission !== 'open')

/** The example of a route as the document gives it: the address, and the body. */
function exampleOf(name: RouteName): { method: string; path: string; body: unknown } {
  const [method, template] = templatePath(name).split(' ') as [string, string]
  const operation = document.document.paths[template]![method.toLowerCase()] as unknown as {
    parameters: { name: string; in: string; example?: string }[]
    requestBody?: { content: Record<string, { example: unknown }> }
  }
  const given = operation.parameters.filter(({ example }) => example !== undefined)
  const query = given.filter(one => one.in === 'query').map(one => [one.name, one.example!])
  const path = given
    .filter(one => one.in === 'path')
    .reduce((text, one) => text.replace(`{${one.name}}`, encodeURIComponent(one.example!)), template)
  return {
    method,
    path: query.length ? `${path}?${new URLSearchParams(query).toString()}` : path,
    body: operation.requestBody?.content['application/json']!.example,
  }
}

describe('a program with a token', () => {
  it.each(OPEN)('can do as the example of %s in the document does', async name => {
    const { program } = await programOf(['extract', 'extractPersonal', 'manageUnits'])
    const { method, path, body } = exampleOf(name)
    // The basis is what the preview answers.
    const basis =
      name === 'POST /api/units/changes'
        ? (
            await program.post<{ basis: number }>(
              '/api/units/preview',
              exampleOf('POST /api/units/preview').body,
            )
          ).body.basis
        : null
    const answer = await program.send(method, path, basis === null ? body : { ...(body as object), basis })
    expect([answer.status, answer.status === 200 ? '' : answer.text]).toEqual([200, ''])
    expect(document.mistakesIn(templatePath(name), answer)).toEqual([])
  })

  it('reads what is there: its examples are no empty answers', async () => {
    const { program } = await programOf(['extract'])
    const lists = await Promise.all(
      (['GET /api/records/reports', 'GET /api/records/cases'] as const).map(name =>
        program.get<{ records: unknown[] }>(exampleOf(name).path),
      ),
    )
    expect(lists.map(({ body }) => body.records.length > 0)).toEqual([true, true])
  })

  it.each(CLOSED)('has no way to %s', async name => {
    const { program } = await (everything ??= programOf(['extract', 'extractPersonal', 'manageUnits']))
    const [method, path] = name.split(' ') as [string, string]
    const { status, body } = await program.send(
      method,
      path.replaceAll(/:\w+/g, 'x'),
      method === 'GET' ? undefined : {},
    )
    expect([status, body.code]).toEqual([403, 'not-for-programs'])
  })

  it('changes units without a page of its own, and a page of somebody else cannot', async () => {
    const asked = { name: 'Registry', branch: null, gives: ['manageUnits'], lastDay: '2026-12-31' }
    const { body: made } = await admin.post<{ token: string }>('/api/tokens', asked)
    const preview = (headers: Record<string, string>) =>
      fetch(`${address}/api/units/preview`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', ...headers },
        body: JSON.stringify(exampleOf('POST /api/units/preview').body),
      })
    expect((await preview({ authorization: `Bearer ${made.token}` })).status).toBe(200)
    expect((await preview({})).status).toBe(403)
    const reading = await programOf(['extract'])
    const refused = await reading.program.post(
      '/api/units/preview',
      exampleOf('POST /api/units/preview').body,
    )
    expect([refused.status, refused.body.code]).toEqual([403, 'no-permission'])
  })

  it('is refused from its next request on when it is ended, and says so', async () => {
    const { id, program } = await programOf(['extract'], 'ashmere_district')
    expect((await program.get('/api/rounds')).status).toBe(200)
    await admin.post(`/api/tokens/${id}/end`)
    const { status, body } = await program.get('/api/rounds')
    expect([status, body.code]).toEqual([401, 'token-ended'])
  })

  it('follows what changes, page by page of all reports of its branch', async () => {
    const { program } = await programOf(['extract'], 'ashmere_district')
    const { body: start } = await program.get<{ next: string }>('/api/changes')
    const units = new Set<string>()
    let after = ''
    do {
      const { body } = await program.get<{ records: { unit: string }[]; next: string | null }>(
        `/api/records/reports?dataset=weekly_diseases${after && `&after=${after}`}`,
      )
      for (const { unit } of body.records) units.add(unit)
      after = body.next ?? ''
    } while (after)
    const board = await (
      await Client.signedIn(address, 'officer.ashmere')
    ).get<{ rows: { unit: { code: string } }[] }>('/api/rounds/weekly_diseases~2026-W45/board')
    const inside = new Set(board.body.rows.map(({ unit }) => unit.code))
    expect([...units].filter(unit => !inside.has(unit))).toEqual([])
    expect(units.size).toBeGreaterThan(3)
    const { body: later } = await program.get<{ changes: unknown[] }>(`/api/changes?after=${start.next}`)
    expect(later.changes).toEqual(expect.any(Array))
  })
})
