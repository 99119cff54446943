import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, nextTick, ref } from 'vue'
import { giveGlobals } from '../../tests/support/nuxt-globals'

const MINUTE = 60_000
let page: EventTarget
let scope: ReturnType<typeof effectScope>
let locked = 0

async function begin(minutes = ref(10)) {
  const { whenUntouched } = await import('./whenUntouched')
  scope.run(() =>
    whenUntouched(
      () => minutes.value,
      () => locked++,
    ),
  )
  await nextTick()
  return minutes
}

beforeEach(() => {
  // The library looks for a window when it is loaded.
  vi.resetModules()
  vi.useFakeTimers()
  page = new EventTarget()
  vi.stubGlobal('window', page)
  vi.stubGlobal('document', page)
  giveGlobals()
  scope = effectScope()
  locked = 0
})
afterEach(() => {
  scope.stop()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

describe('a page that nobody touches', () => {
  it('is locked after its minutes, counted from the last touch', async () => {
    await begin()
    await vi.advanceTimersByTimeAsync(9 * MINUTE)
    page.dispatchEvent(new Event('keydown'))
    await vi.advanceTimersByTimeAsync(9.9 * MINUTE)
    expect(locked).toBe(0)
    await vi.advanceTimersByTimeAsync(0.2 * MINUTE)
    expect(locked).toBe(1)
    // And once more after it was opened again.
    page.dispatchEvent(new Event('pointerdown'))
    await vi.advanceTimersByTimeAsync(11 * MINUTE)
    expect(locked).toBe(2)
  })

  it('has one timer, however many keys come', async () => {
    await begin()
    for (let key = 0; key < 50; key++) page.dispatchEvent(new Event('keydown'))
    expect(vi.getTimerCount()).toBe(1)
  })

  it('is locked sooner when the minutes become fewer', async () => {
    const minutes = await begin()
    await vi.advanceTimersByTimeAsync(3 * MINUTE)
    minutes.value = 5
    await vi.advanceTimersByTimeAsync(1.9 * MINUTE)
    expect(locked).toBe(0)
    await vi.advanceTimersByTimeAsync(0.2 * MINUTE)
    expect(locked).toBe(1)
  })
})
