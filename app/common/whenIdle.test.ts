import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

/** What the browser would do: it is told when the page is idle, and that somebody types. */
let asked: ((deadline: { timeRemaining: () => number }) => void)[] = []
let type = () => {}

async function fresh() {
  vi.resetModules()
  return import('./whenIdle')
}
/** Whether a wait is over by now. */
function watched(waiting: Promise<void>) {
  const state = { isOver: false }
  void waiting.then(() => (state.isOver = true))
  return state
}

beforeEach(() => {
  vi.useFakeTimers()
  asked = []
  vi.stubGlobal('addEventListener', (_kind: string, act: () => void) => (type = act))
  vi.stubGlobal('requestIdleCallback', (act: (typeof asked)[number]) => asked.push(act))
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('work in the background', () => {
  it('waits for an idle time, and uses all of it', async () => {
    const { whenIdle } = await fresh()
    const first = watched(whenIdle(() => false))
    await vi.advanceTimersByTimeAsync(500)
    expect([first.isOver, asked.length]).toEqual([false, 1])
    asked[0]!({ timeRemaining: () => 40 })
    await vi.advanceTimersByTimeAsync(10)
    expect(first.isOver).toBe(true)
    // Thirty milliseconds of it are left.
    const second = watched(whenIdle(() => false))
    await vi.advanceTimersByTimeAsync(1)
    expect([second.isOver, asked.length]).toEqual([true, 1])
    await vi.advanceTimersByTimeAsync(40)
    void whenIdle(() => false)
    await vi.advanceTimersByTimeAsync(1)
    expect(asked.length).toBe(2)
  })

  it('waits while somebody types, until it is waited for', async () => {
    const { whenIdle } = await fresh()
    let isHurried = false
    type()
    const waiting = watched(whenIdle(() => isHurried))
    for (let key = 0; key < 5; key++) {
      await vi.advanceTimersByTimeAsync(600)
      type()
    }
    expect([waiting.isOver, asked.length]).toEqual([false, 0])
    isHurried = true
    await vi.advanceTimersByTimeAsync(150)
    expect([waiting.isOver, asked.length]).toEqual([true, 0])
    isHurried = false
    const calm = watched(whenIdle(() => isHurried))
    await vi.advanceTimersByTimeAsync(1_100)
    expect(asked.length).toBe(1)
    expect(calm.isOver).toBe(false)
  })
})
