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
    const first = watched(whenIdle())
    await vi.advanceTimersByTimeAsync(500)
    expect([first.isOver, asked.length]).toEqual([false, 1])
    asked[0]!({ timeRemaining: () => 40 })
    await vi.advanceTimersByTimeAsync(10)
    expect(first.isOver).toBe(true)
    // Thirty milliseconds of it are left.
    const second = watched(whenIdle())
    await vi.advanceTimersByTimeAsync(1)
    expect([second.isOver, asked.length]).toEqual([true, 1])
    await vi.advanceTimersByTimeAsync(40)
    void whenIdle()
    expect(asked.length).toBe(2)
  })

  it('has one stretch in each idle time while somebody types', async () => {
    const { whenIdle } = await fresh()
    type()
    for (let stretch = 1; stretch <= 3; stretch++) {
      const waiting = watched(whenIdle())
      await vi.advanceTimersByTimeAsync(5)
      expect([waiting.isOver, asked.length]).toEqual([false, stretch])
      asked.at(-1)!({ timeRemaining: () => 40 })
      await vi.advanceTimersByTimeAsync(0)
      expect(waiting.isOver).toBe(true)
    }
    await vi.advanceTimersByTimeAsync(1_000)
    void whenIdle()
    asked.at(-1)!({ timeRemaining: () => 40 })
    void whenIdle()
    expect(asked.length).toBe(4)
  })
})
