import 'fake-indexeddb/auto'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, reactive, type EffectScope } from 'vue'
import type { CellChange, DeskChange, DeskOutcome } from '#core/contract/desk'
import type { CellContent } from '#core/report/cell'
import { sameContent } from '#core/report/cell'
import { deskAtHand, sendings } from '../../tests/support/desk-at-hand'
import { applyBatch, emptyDistrict } from '../../tests/support/memory-sync'
import { ApiProblem } from '../common/useApi'
import { sync } from '../device/useDesk'
import { onOutcome } from '../device/useDeskSend'
import { useOutbox } from './useOutbox'

/** A district that merges by core's own rule, as the server does, and can be told to fail. */
function district() {
  let kept = emptyDistrict<CellContent>()
  const asked: CellChange[][] = []
  let held = Promise.resolve()
  let fail: 'none' | 'unreachable' | 'signedOut' | 'blocked' | 'answerLost' = 'none'
  const take = (changes: readonly Pick<CellChange, 'id' | 'cell' | 'base' | 'content'>[]) => {
    const taken = applyBatch(
      kept,
      changes.map(({ cell, ...change }) => ({ ...change, field: cell })),
      sameContent,
    )
    kept = taken.district
    return taken.answers
  }
  const call = vi.fn(async (_name: string, { body }: { body?: { changes: DeskChange[] } }) => {
    const changes = body!.changes as CellChange[]
    await held
    if (fail === 'unreachable') throw new ApiProblem(0, 'unreachable', '')
    if (fail === 'signedOut') throw new ApiProblem(401, 'signed-out', '')
    if (fail === 'blocked') throw new ApiProblem(403, 'device-blocked', '')
    asked.push(changes)
    const refused = changes.filter(({ content }) => content.kind === 'value' && Number(content.value) < 0)
    const answers = take(changes.filter(change => !refused.includes(change)))
    const outcomes = changes.map(({ id }): DeskOutcome => {
      const answer = answers.find(one => one.id === id)
      return { id, outcome: answer?.outcome ?? 'refused', version: answer?.here?.version ?? 0 }
    })
    if (fail === 'answerLost') throw new ApiProblem(0, 'unreachable', '')
    return { at: new Date().toISOString(), outcomes }
  })
  const cells = {
    get: (cell: string) => {
      const field = kept.fields.get(cell)
      return (
        field && {
          version: field.version,
          value: field.content.kind === 'value' ? field.content.value : field.content.kind,
        }
      )
    },
  }
  /** Somebody else's change. */
  const other = (cell: string, value: number, base = 0) =>
    take([{ id: `other-${cell}-${value}`, cell, base, content: number(value) }])
  /** Holds requests back until the returned function is called. */
  const hold = () => {
    let letGo = () => {}
    held = new Promise(resolve => {
      letGo = resolve
    })
    return () => letGo()
  }
  return {
    cells,
    asked,
    call,
    hold,
    other,
    set: (how: typeof fail) => {
      fail = how
    },
  }
}

const number = (value: number) => ({ kind: 'value' as const, value })
let server: ReturnType<typeof district>
let call: Awaited<ReturnType<typeof deskAtHand>>['call']
let vault: Awaited<ReturnType<typeof deskAtHand>>['vault']

const open = () => {
  const outcomes: DeskOutcome[] = []
  const outbox = page.run(() =>
    useOutbox({ round: 'r', unit: 'u', onOutcome: (_, outcome) => outcomes.push(outcome) }),
  )!
  return { outcomes, ...outbox }
}
const contents = async (box: ReturnType<typeof open>) =>
  (await box.waiting()).map(({ change }) => change.kind === 'cell' && change.content)

/** The page that the reports are on: left at the end of the test. */
let page: EffectScope

beforeEach(async () => {
  page = effectScope()
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
  server = district()
  ;({ call, vault } = await deskAtHand(server.call, { ApiProblem }))
})
afterEach(async () => {
  page.stop()
  await sync()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('the outbox', () => {
  it('keeps a change on the device until the district has it', async () => {
    const box = open()
    await box.save('a', () => 0, number(3))
    expect(box.state.value).toBe('saved')
    expect(await box.waiting()).toMatchObject([{ cell: 'a', base: 0, change: { content: number(3) } }])
    await box.flush()
    expect(box.state.value).toBe('received')
    expect(await box.waiting()).toEqual([])
    expect(server.cells.get('a')).toEqual({ version: 1, value: 3 })
  })

  it('sends by itself once the typing pauses, and not at each key', async () => {
    const box = open()
    await sync()
    for (const value of [1, 12]) {
      await box.save('a', () => 0, number(value))
      await vi.advanceTimersByTimeAsync(2_000)
    }
    expect(sendings(call)).toBe(0)
    await vi.advanceTimersByTimeAsync(2_000)
    await vi.waitFor(() => expect(server.cells.get('a')?.value).toBe(12))
    await sync()
  })

  it('replaces a change of the same cell that has not left: only the last is sent', async () => {
    const box = open()
    for (const value of [1, 12, 123]) await box.save('a', () => 0, number(value))
    await box.flush()
    expect(server.asked.flat()).toHaveLength(1)
    expect(server.cells.get('a')!.value).toBe(123)
  })

  it('stores what was typed last right after what is being stored, and not behind all keys in between', async () => {
    const box = open()
    const keys = [1, 12, 123, 1234, 12345]
    const saves = keys.map(value => box.save('a', () => 0, number(value)))
    const other = box.save('b', () => 0, number(7))
    await Promise.all([...saves, other])
    expect(await contents(box)).toEqual([number(12345), number(7)])
    expect(new Set(saves).size).toBeLessThan(keys.length)
    expect(box.state.value).toBe('saved')
  })

  it('never skips a value that settles a conflict', async () => {
    const box = open()
    await Promise.all([
      box.save('a', () => 0, number(1)),
      box.save('b', () => 0, number(2), { settles: ['conflict'] }),
      box.save('b', () => 0, number(3)),
    ])
    expect((await box.waiting()).map(({ settles }) => settles)).toEqual([undefined, ['conflict']])
  })

  it('keeps reactive contents as plain ones', async () => {
    const box = open()
    await box.save('a', () => 0, reactive(number(7)))
    await box.flush()
    expect(server.cells.get('a')!.value).toBe(7)
  })

  it('follows a change on its way when the next one is made', async () => {
    const box = open()
    await box.save('a', () => 0, number(1))
    const letGo = server.hold()
    const sending = box.flush()
    await vi.waitFor(() => expect(sendings(call)).toBe(1))
    await box.save('a', () => 0, number(2))
    const [first, second] = await box.waiting()
    expect([first!.after, second!.after, second!.base]).toEqual([undefined, first!.id, 0])
    letGo()
    await sending
    await box.flush()
    expect(server.cells.get('a')).toEqual({ version: 2, value: 2 })
    expect(box.outcomes.map(({ outcome }) => outcome)).toEqual(['received', 'received'])
  })

  it('made while the one before is on its way into a conflict, does not overwrite what the other has', async () => {
    server.other('a', 9)
    const box = open()
    await box.save('a', () => 0, number(1))
    const letGo = server.hold()
    const sending = box.flush()
    await vi.waitFor(() => expect(sendings(call)).toBe(1))
    // Its number would be the other's: by numbers alone this would win.
    await box.save('a', () => 0, number(2))
    letGo()
    await sending
    await box.flush()
    expect(box.outcomes.map(({ outcome }) => outcome)).toEqual(['conflict', 'conflict'])
    expect(server.cells.get('a')).toEqual({ version: 1, value: 9 })
  })

  it('knows after the page was closed what had left: it is followed, and is no conflict with itself', async () => {
    server.set('answerLost')
    const before = open()
    await before.save('a', () => 0, number(3))
    await before.flush()
    const after = open()
    await after.save('a', () => 0, number(4))
    expect(await contents(after)).toEqual([number(3), number(4)])
    server.set('none')
    await after.flush()
    expect(after.outcomes.map(({ outcome }) => outcome)).toEqual(['alreadyHad', 'received'])
    expect(server.cells.get('a')).toEqual({ version: 2, value: 4 })
  })

  it('is in no conflict with itself, at whatever moment of its sending the next key falls', async () => {
    const box = open()
    for (let ticks = 0; ticks < 60; ticks++) {
      const cell = `cell_${ticks}`
      let version = 0
      const stop = onOutcome('r|u', (change, { version: now }) => {
        if (change.cell === cell) version = now ?? 0
      })
      await box.save(cell, () => version, number(12))
      const sending = sync()
      for (let tick = 0; tick < ticks; tick++)
        await new Promise(resolve => {
          setImmediate(resolve)
        })
      await Promise.all([box.save(cell, () => version, number(120)), sending])
      await box.flush()
      stop()
      expect([cell, server.cells.get(cell)!.value]).toEqual([cell, 120])
    }
    expect(box.outcomes.filter(({ outcome }) => outcome !== 'received')).toEqual([])
  })

  it('that followed a refused change goes by itself', async () => {
    const box = open()
    await box.save('a', () => 0, number(-1))
    const letGo = server.hold()
    const sending = box.flush()
    await vi.waitFor(() => expect(sendings(call)).toBe(1))
    await box.save('a', () => 0, number(5))
    letGo()
    await sending
    await box.flush()
    expect(box.outcomes.map(({ outcome }) => outcome)).toEqual(['refused', 'received'])
    expect([await box.waiting(), server.cells.get('a')]).toEqual([[], { version: 1, value: 5 }])
  })

  it('tries again, waiting longer each time, when the district cannot be reached', async () => {
    server.set('unreachable')
    const box = open()
    await box.save('a', () => 0, number(3))
    await box.flush()
    expect(box.state.value).toBe('noNetwork')
    await vi.advanceTimersByTimeAsync(6_000)
    await vi.waitFor(() => expect(sendings(call)).toBe(2))
    await vi.advanceTimersByTimeAsync(6_000)
    expect(sendings(call)).toBe(2)
    server.set('none')
    await vi.advanceTimersByTimeAsync(6_000)
    await vi.waitFor(() => expect(server.cells.get('a')?.value).toBe(3))
    expect(await box.waiting()).toEqual([])
  })

  it('sends again what was stored when the answer was lost, and nothing is counted twice', async () => {
    server.set('answerLost')
    const box = open()
    await box.save('a', () => 0, number(3))
    await box.flush()
    expect(await box.waiting()).toHaveLength(1)
    server.set('none')
    await box.flush()
    expect(box.outcomes).toMatchObject([{ outcome: 'alreadyHad', version: 1 }])
    expect(server.cells.get('a')).toEqual({ version: 1, value: 3 })
  })

  it('says that the session has ended, keeps what waits, and goes on after a new sign-in', async () => {
    server.set('signedOut')
    const box = open()
    await box.save('a', () => 0, number(3))
    await box.flush()
    expect([box.state.value, (await box.waiting()).length]).toEqual(['signedOut', 1])
    server.set('none')
    await box.flush()
    expect(server.cells.get('a')?.value).toBe(3)
  })

  it('erases what is on it when the district shut it out', async () => {
    server.set('blocked')
    const box = open()
    await box.save('a', () => 0, number(3))
    await box.flush()
    expect(vault.erase).toHaveBeenCalledOnce()
  })

  it('tells of a conflict and does not send it for ever', async () => {
    for (const [at, value] of [5, 6, 7, 9].entries()) server.other('a', value, at)
    const box = open()
    await box.save('a', () => 0, number(3))
    await box.flush()
    expect(box.outcomes).toMatchObject([{ outcome: 'conflict', version: 4 }])
    // It is sent no more, and stays until a person has decided.
    expect(await box.waiting()).toMatchObject([{ state: 'needsYou', why: 'conflict' }])
    await box.flush()
    expect(server.asked).toHaveLength(1)
    expect(server.cells.get('a')!.value).toBe(9)
  })

  it('sends many in pieces, in the order in which they were made', async () => {
    const box = open()
    for (let at = 0; at < 450; at++) await box.save(`cell_${at}`, () => 0, number(at))
    await box.flush()
    expect(server.asked.map(piece => piece.length)).toEqual(Array.from({ length: 9 }, () => 50))
    expect(server.asked.flat().map(({ cell }) => cell)).toEqual(
      Array.from({ length: 450 }, (_, at) => `cell_${at}`),
    )
  })

  it('goes with what waits of other reports, in one act', async () => {
    const [one, other] = [
      open(),
      page.run(() => useOutbox({ round: 'r', unit: 'v', onOutcome: () => undefined }))!,
    ]
    await one.save('a', () => 0, number(1))
    await other.save('b', () => 0, number(2))
    await one.flush()
    expect(server.asked.map(piece => piece.map(({ unit, cell }) => `${unit} ${cell}`))).toEqual([
      ['u a', 'v b'],
    ])
    expect(await other.waiting()).toEqual([])
  })
})
