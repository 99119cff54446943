import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'
import { giveGlobals } from '../../tests/support/nuxt-globals'

/** The part of a browser that tells that somebody types. */
let page: EventTarget
let begin: () => void
beforeEach(() => {
  vi.resetModules()
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance'] })
  giveGlobals()
  page = new EventTarget()
  vi.stubGlobal('addEventListener', page.addEventListener.bind(page))
  vi.stubGlobal('removeEventListener', page.removeEventListener.bind(page))
  vi.stubGlobal('onMounted', (act: () => void) => (begin = act))
  vi.stubGlobal('onUnmounted', () => {})
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

const type = () => page.dispatchEvent(new Event('input'))
/** A few rounds of messages, which a step of a page that draws nothing waits for. */
async function steps() {
  for (let turn = 0; turn < 20; turn++) await new Promise(resolve => setImmediate(resolve))
}
async function rows(all: number, needed = ref(0), isNear = ref(true)) {
  const { useGradually } = await import('./useGradually')
  return effectScope().run(() =>
    useGradually({ all: () => all, needed: () => needed.value, isNear: () => isNear.value }),
  )!
}

describe('a long list', () => {
  it('is at once as long as a screen, and then grows by itself to its end', async () => {
    const made = await rows(100)
    expect(made.value).toBe(10)
    begin()
    await steps()
    expect(made.value).toBe(100)
  })

  it('leaves room for the keys while somebody types, but for the rows that come next', async () => {
    const needed = ref(0)
    const made = await rows(200, needed)
    type()
    begin()
    await vi.advanceTimersByTimeAsync(900)
    expect(made.value).toBe(10)
    type()
    needed.value = 50
    for (let turn = 0; turn < 3; turn++) {
      await vi.advanceTimersByTimeAsync(300)
      await steps()
    }
    expect(made.value).toBe(70)
    for (let turn = 0; turn < 2; turn++) {
      await vi.advanceTimersByTimeAsync(300)
      await steps()
    }
    expect(made.value).toBeGreaterThanOrEqual(200)
  })

  it('grows where somebody looks, and to what is needed, where nobody comes near its end', async () => {
    const [needed, isNear] = [ref(0), ref(false)]
    const made = await rows(200, needed, isNear)
    begin()
    await steps()
    expect(made.value).toBe(10)
    needed.value = 60
    await steps()
    expect(made.value).toBe(70)
    isNear.value = true
    await steps()
    expect(made.value).toBeGreaterThanOrEqual(200)
  })
})
