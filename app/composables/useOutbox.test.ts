import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { reactive } from 'vue'
import type { Change, ChangeOutcome } from '#core/contract/reports'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { ApiProblem } from './useApi'
import { useDeviceStore } from './useDeviceStore'
import { useOutbox } from './useOutbox'

/** A district that keeps cells by version, as the server does, and can be told to fail. */
function district() {
  const cells = new Map<string, { version: number; value: unknown }>()
  const had = new Set<string>()
  const asked: Change[][] = []
  let held = Promise.resolve()
  let fail: 'none' | 'unreachable' | 'signedOut' | 'answerLost' = 'none'
  const call = vi.fn(async (_name: string, { body }: { body: { changes: Change[] } }) => {
    await held
    if (fail === 'unreachable') throw new ApiProblem(0, 'unreachable', '')
    if (fail === 'signedOut') throw new ApiProblem(401, 'signed-out', '')
    asked.push(body.changes)
    const outcomes = body.changes.map(({ id, cell, base, content }): ChangeOutcome => {
      const here = cells.get(cell) ?? { version: 0, value: null }
      if (had.has(id)) return { id, cell, outcome: 'alreadyHad', version: here.version }
      if (base !== here.version) return { id, cell, outcome: 'conflict', version: here.version }
      had.add(id)
      cells.set(cell, { version: base + 1, value: content.kind === 'value' ? content.value : content.kind })
      return { id, cell, outcome: 'received', version: base + 1 }
    })
    if (fail === 'answerLost') throw new ApiProblem(0, 'unreachable', '')
    return { state: 'draft', receivedAt: '', outcomes }
  })
  /** Holds requests back until the returned function is called. */
  const hold = () => {
    let letGo = () => {}
    held = new Promise((resolve) => { letGo = resolve })
    return () => letGo()
  }
  return { cells, asked, call, hold, set: (how: typeof fail) => { fail = how } }
}

const number = (value: number) => ({ kind: 'value' as const, value })
let server: ReturnType<typeof district>
let session: { signIns: number }

const open = () => {
  const outcomes: ChangeOutcome[] = []
  const outbox = useOutbox({ person: 'p', round: 'r', unit: 'u', onOutcome: (_, outcome) => outcomes.push(outcome), onReceived: () => undefined })
  return { outcomes, ...outbox }
}

beforeEach(async () => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  server = district()
  session = reactive({ signIns: 0 })
  giveGlobals({ callApi: server.call, ApiProblem, useSession: () => session, window: globalThis })
  await useDeviceStore().changes.clear()
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the outbox', () => {
  it('keeps a change on the device until the district has it', async () => {
    const box = open()
    await box.keep('a', () => 0, number(3))
    expect(box.state.value).toBe('kept')
    expect(await box.waiting()).toMatchObject([{ cell: 'a', base: 0, content: number(3) }])
    await box.flush()
    expect(box.state.value).toBe('received')
    expect(await box.waiting()).toEqual([])
    expect(server.cells.get('a')).toEqual({ version: 1, value: 3 })
  })

  it('replaces a change of the same cell that has not left: only the last is sent', async () => {
    const box = open()
    for (const value of [1, 12, 123]) await box.keep('a', () => 0, number(value))
    await box.flush()
    expect(server.asked.flat()).toHaveLength(1)
    expect(server.cells.get('a')!.value).toBe(123)
  })

  it('keeps reactive contents as plain ones', async () => {
    const box = open()
    await box.keep('a', () => 0, reactive(number(7)))
    await box.flush()
    expect(server.cells.get('a')!.value).toBe(7)
  })

  it('counts a change on its way when the next one is made', async () => {
    const box = open()
    await box.keep('a', () => 0, number(1))
    const letGo = server.hold()
    const sending = box.flush()
    await vi.waitFor(() => expect(server.call).toHaveBeenCalledOnce())
    await box.keep('a', () => 0, number(2))
    expect((await box.waiting()).map(({ base }) => base)).toEqual([0, 1])
    letGo()
    await sending
    await box.flush()
    expect(server.cells.get('a')).toEqual({ version: 2, value: 2 })
    expect(box.outcomes.map(({ outcome }) => outcome)).toEqual(['received', 'received'])
  })

  it('tries again, waiting longer each time, when the district cannot be reached', async () => {
    server.set('unreachable')
    const box = open()
    await box.keep('a', () => 0, number(3))
    await box.flush()
    expect(box.state.value).toBe('noNetwork')
    await vi.advanceTimersByTimeAsync(2_000)
    await vi.waitFor(() => expect(server.call).toHaveBeenCalledTimes(2))
    await vi.advanceTimersByTimeAsync(2_000)
    expect(server.call).toHaveBeenCalledTimes(2)
    server.set('none')
    await vi.advanceTimersByTimeAsync(2_000)
    await vi.waitFor(() => expect(box.state.value).toBe('received'))
    expect(server.cells.get('a')!.value).toBe(3)
  })

  it('sends again what was stored when the answer was lost, and nothing is counted twice', async () => {
    server.set('answerLost')
    const box = open()
    await box.keep('a', () => 0, number(3))
    await box.flush()
    expect(await box.waiting()).toHaveLength(1)
    server.set('none')
    await box.flush()
    expect(box.outcomes).toMatchObject([{ outcome: 'alreadyHad', version: 1 }])
    expect(server.cells.get('a')).toEqual({ version: 1, value: 3 })
  })

  it('waits for a new sign-in, then goes on by itself', async () => {
    server.set('signedOut')
    const box = open()
    await box.keep('a', () => 0, number(3))
    await box.flush()
    expect(box.state.value).toBe('signedOut')
    server.set('none')
    session.signIns++
    await vi.waitFor(() => expect(server.cells.get('a')?.value).toBe(3))
  })

  it('tells of a conflict and does not send it for ever', async () => {
    server.cells.set('a', { version: 4, value: 9 })
    const box = open()
    await box.keep('a', () => 0, number(3))
    await box.flush()
    expect(box.outcomes).toMatchObject([{ outcome: 'conflict', version: 4 }])
    expect(await box.waiting()).toEqual([])
    expect(server.cells.get('a')!.value).toBe(9)
  })

  it('sends many in pieces, in the order in which they were made', async () => {
    const box = open()
    for (let at = 0; at < 450; at++) await box.keep(`cell_${at}`, () => 0, number(at))
    await box.flush()
    expect(server.asked.map(piece => piece.length)).toEqual([200, 200, 50])
    expect(server.asked.flat().map(({ cell }) => cell)).toEqual(Array.from({ length: 450 }, (_, at) => `cell_${at}`))
  })

  it('of another report, or another person, is left alone', async () => {
    const box = open()
    await useDeviceStore().changes.add({ id: 'x', place: 'q|r|u', seq: 1, cell: 'a', base: 0, content: number(1) })
    await box.flush()
    expect(server.call).not.toHaveBeenCalled()
    expect(await useDeviceStore().changes.count()).toBe(1)
  })
})
