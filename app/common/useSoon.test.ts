import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { giveGlobals } from '../../tests/support/nuxt-globals'
import { soon, useSoon } from './useSoon'

beforeEach(() => {
  giveGlobals()
  vi.useFakeTimers()
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('what only follows from a key', () => {
  it('comes a moment later, all of it by one timer, with the newest value', async () => {
    const typed = ref(1)
    const scope = effectScope()
    const [double, triple] = scope.run(() => [
      useSoon(() => typed.value * 2),
      useSoon(() => typed.value * 3),
    ])!
    expect([double.value, triple.value]).toEqual([2, 3])
    typed.value = 2
    await nextTick()
    expect(vi.getTimerCount()).toBe(1)
    typed.value = 5
    await nextTick()
    expect(vi.getTimerCount()).toBe(1)
    expect([double.value, triple.value]).toEqual([2, 3])
    vi.runAllTimers()
    expect([double.value, triple.value]).toEqual([10, 15])
    typed.value = 6
    await nextTick()
    vi.runAllTimers()
    expect([double.value, triple.value]).toEqual([12, 18])
    scope.stop()
  })

  it('does not come any more where it is not shown any more', async () => {
    const typed = ref(1)
    const scope = effectScope()
    const shown = scope.run(() => useSoon(() => typed.value))!
    typed.value = 2
    await nextTick()
    scope.stop()
    vi.runAllTimers()
    expect(shown.value).toBe(1)
  })

  it('is shown in the turn in which it is computed', () => {
    const total = ref(0)
    const scope = effectScope()
    const shown = scope.run(() => useSoon(() => total.value))!
    soon(() => (total.value = 7))
    vi.advanceTimersByTime(100)
    expect(shown.value).toBe(7)
    expect(vi.getTimerCount()).toBe(0)
    scope.stop()
  })

  it('comes in the next turn where something before it failed', () => {
    const done: string[] = []
    soon(() => {
      throw new Error('It cannot be computed.')
    })
    soon(() => done.push('the other'))
    expect(() => vi.runOnlyPendingTimers()).toThrow('It cannot be computed.')
    expect(done).toEqual([])
    vi.runOnlyPendingTimers()
    expect(done).toEqual(['the other'])
  })
})
