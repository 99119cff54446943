import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { addressOf, ApiProblem, callApi } from './useApi'
import { useAct } from './useAct'
import { useLoad } from './useLoad'

const ended = vi.fn()
const session = { ended, signIns: 0 }
const answer = (status: number, body: unknown, type = 'application/json') =>
  vi.fn(() =>
    Promise.resolve(
      new Response(typeof body === 'string' ? body : JSON.stringify(body), {
        status,
        headers: { 'content-type': type, 'x-lantern-district': '1' },
      }),
    ),
  )

beforeEach(() => {
  ended.mockReset()
  giveGlobals({ useSession: () => session })
})
afterEach(() => vi.unstubAllGlobals())

describe('the address of a route', () => {
  it('has its parameters and its query, encoded, without what is not there', () => {
    expect(addressOf('GET /api/reports/:round/:unit', { params: { round: 'a~b', unit: 'x/y' } })).toBe(
      '/api/reports/a~b/x%2Fy',
    )
    expect(addressOf('GET /api/search', { query: { q: 'a b&c', unit: undefined, more: null } })).toBe(
      '/api/search?q=a%20b%26c',
    )
  })
})

describe('a call', () => {
  it('gives the answer', async () => {
    vi.stubGlobal('fetch', answer(200, { needed: false }))
    expect(await callApi('GET /api/setup', {})).toEqual({ needed: false })
  })

  it('gives a problem with its code and places', async () => {
    vi.stubGlobal(
      'fetch',
      answer(
        422,
        { code: 'must-fix', detail: 'No.', problems: [{ code: 'doubt', message: 'x' }] },
        'application/problem+json',
      ),
    )
    await expect(callApi('GET /api/setup', {})).rejects.toMatchObject({
      status: 422,
      code: 'must-fix',
      message: 'No.',
      problems: [{ code: 'doubt' }],
    })
    expect(ended).not.toHaveBeenCalled()
  })

  it('tells the session when it has ended', async () => {
    vi.stubGlobal('fetch', answer(401, { code: 'signed-out' }))
    await expect(callApi('GET /api/setup', {})).rejects.toMatchObject({ status: 401 })
    expect(ended).toHaveBeenCalledOnce()
  })

  it('tells an unreachable server from one that answers nonsense', async () => {
    vi.stubGlobal(
      'fetch',
      vi.fn(() => Promise.reject(new TypeError('Failed to fetch'))),
    )
    await expect(callApi('GET /api/setup', {})).rejects.toMatchObject({
      unreachable: true,
      code: 'unreachable',
    })
    vi.stubGlobal('fetch', answer(502, '<html>', 'text/html'))
    await expect(callApi('GET /api/setup', {})).rejects.toMatchObject({
      unreachable: false,
      status: 502,
      code: 'server',
    })
  })
})

describe('doing', () => {
  it('keeps a refusal, and throws a mistake of ours on', async () => {
    const { busy, problem, run } = useAct()
    expect(await run(() => Promise.reject(new ApiProblem(409, 'state', 'No.')))).toBe(false)
    expect([busy.value, problem.value?.code]).toEqual([false, 'state'])
    expect(await run(() => Promise.resolve())).toBe(true)
    expect(problem.value).toBeNull()
    await expect(run(() => Promise.reject(new Error('ours')))).rejects.toThrow('ours')
    expect(busy.value).toBe(false)
  })
})

describe('loading', () => {
  it('drops an answer that a later request overtook', async () => {
    const waiting: ((value: string) => void)[] = []
    const load = useLoad(
      () =>
        new Promise<string>(resolve => {
          waiting.push(resolve)
        }),
    )
    const again = load.reload()
    waiting[1]!('new')
    await again
    waiting[0]!('old')
    await Promise.resolve()
    expect([load.data.value, load.loading.value]).toEqual(['new', false])
  })

  it('keeps what there was when it cannot be loaded anew', async () => {
    let fails = false
    const load = useLoad(() =>
      fails ? Promise.reject(new ApiProblem(0, 'unreachable', '')) : Promise.resolve('there'),
    )
    await vi.waitFor(() => expect(load.data.value).toBe('there'))
    fails = true
    await load.reload()
    expect([load.data.value, load.problem.value?.code]).toEqual(['there', 'unreachable'])
  })
})

describe('nothing lost, 5: an answer that is not the district’s', () => {
  const portal = (body: string, type: string, status = 200) =>
    vi.fn(() => Promise.resolve(new Response(body, { status, headers: { 'content-type': type } })))
  const unreachable = { unreachable: true, code: 'unreachable' }

  it('is no network: the page of a captive portal, whatever it calls itself', async () => {
    for (const fetch of [
      portal('<html>Enter your room number</html>', 'text/html'),
      portal('{"ok":true}', 'application/json'),
      portal('<html>', 'text/html', 401),
      portal('{}', 'application/problem+json', 403),
    ]) {
      vi.stubGlobal('fetch', fetch)
      await expect(callApi('GET /api/setup', {})).rejects.toMatchObject(unreachable)
    }
    expect(ended).not.toHaveBeenCalled()
  })

  it('is no network when it was cut off', async () => {
    vi.stubGlobal('fetch', answer(200, '{"needed": fal'))
    await expect(callApi('GET /api/setup', {})).rejects.toMatchObject(unreachable)
  })

  it('is not waited for without end', async () => {
    const fetch = vi.fn((_address: string, { signal }: { signal: AbortSignal }) =>
      Promise.resolve(
        signal.aborted
          ? null
          : new Response('{}', {
              headers: { 'content-type': 'application/json', 'x-lantern-district': '1' },
            }),
      ),
    )
    vi.stubGlobal('fetch', fetch)
    await callApi('GET /api/setup', {})
    expect(fetch.mock.calls[0]![1].signal).toBeInstanceOf(AbortSignal)
  })
})
