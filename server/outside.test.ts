import { once } from 'node:events'
import { createServer, type AddressInfo } from 'node:net'
import { promisify } from 'node:util'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { logFailure, OutsideFault } from './outside'

/** What the log says, on both its ways. */
function said(error: unknown) {
  const [lines, traces] = [vi.spyOn(process.stdout, 'write'), vi.spyOn(process.stderr, 'write')]
  lines.mockReturnValue(true)
  traces.mockReturnValue(true)
  logFailure('Sending 7 could not be delivered', error)
  return { lines: lines.mock.calls.map(([text]) => text), traces: traces.mock.calls.map(([text]) => text) }
}

afterEach(() => vi.restoreAllMocks())

describe('a failure in the log', () => {
  it('is one line where one outside does not do its part', () => {
    expect(said(new OutsideFault('The gateway answered 503.'))).toEqual({
      lines: ['Sending 7 could not be delivered: The gateway answered 503.\n'],
      traces: [],
    })
  })

  it('so also when it is too slow, or nobody listens there, with the reason of the network', async () => {
    const late = await new Promise<unknown>(resolve => {
      const signal = AbortSignal.timeout(1)
      signal.addEventListener('abort', () => resolve(signal.reason))
    })
    expect(said(late).lines[0]).toContain('due to timeout')
    vi.restoreAllMocks()
    const server = createServer().listen(0, '127.0.0.1')
    await once(server, 'listening')
    const { port } = server.address() as AddressInfo
    await promisify(server.close.bind(server))()
    const away = await fetch(`http://127.0.0.1:${port}/`).catch((error: unknown) => error)
    expect(said(away)).toEqual({
      lines: [expect.stringMatching(/: fetch failed \(connect ECONNREFUSED .+\)\n$/)],
      traces: [],
    })
  })

  it('has its place in our code where the fault is ours', () => {
    const { lines, traces } = said(new TypeError('Cannot read properties of null'))
    expect(lines).toEqual([])
    expect(traces[0]).toMatch(/could not be delivered: TypeError: Cannot read[^\n]*\n +at .*outside\.test/)
  })
})
