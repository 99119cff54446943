import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { whenDrawn } from './whenDrawn'

/** The part of a browser that says whether a page is seen, and when it draws. */
let page: EventTarget
let draw: (() => void) | undefined
const see = (visibilityState: string) => vi.stubGlobal('document', { visibilityState })
beforeEach(() => {
  page = new EventTarget()
  draw = undefined
  vi.stubGlobal('addEventListener', page.addEventListener.bind(page))
  vi.stubGlobal('removeEventListener', page.removeEventListener.bind(page))
  vi.stubGlobal('requestAnimationFrame', (act: () => void) => (draw = act))
})
afterEach(() => vi.unstubAllGlobals())

/** Waits, and tells whether it is over. */
function waiting() {
  const state = { isOver: false }
  void whenDrawn().then(() => (state.isOver = true))
  return state
}
const aTask = () => new Promise(resolve => setTimeout(resolve, 20))

describe('work that nobody sees', () => {
  it('waits until a page that is seen is drawn', async () => {
    see('visible')
    const state = waiting()
    await aTask()
    expect(state.isOver).toBe(false)
    draw!()
    expect(state.isOver).toBe(false)
    await aTask()
    expect(state.isOver).toBe(true)
  })

  it('begins at once where the page is not seen, or there is none', async () => {
    see('hidden')
    await whenDrawn()
    expect(draw).toBeUndefined()
    vi.unstubAllGlobals()
    await whenDrawn()
  })

  it('does not wait for a frame that does not come, once the page is hidden', async () => {
    see('visible')
    const state = waiting()
    page.dispatchEvent(new Event('visibilitychange'))
    await aTask()
    expect(state.isOver).toBe(true)
  })
})
