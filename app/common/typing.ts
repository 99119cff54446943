/** So long after the last key somebody still types, in milliseconds. */
const TYPED_MS = 1_000
let typedAt = -Infinity
if ('addEventListener' in globalThis)
  addEventListener('input', () => (typedAt = performance.now()), { capture: true, passive: true })

/** Does somebody type just now? What nobody waits for makes room for the next key then. */
export const isTyping = (): boolean => performance.now() - typedAt < TYPED_MS

/** Waits for the next key, which the one after it follows only a while later; or until nobody types any more. */
export const nextKey = (): Promise<void> =>
  new Promise(resolve => {
    const done = () => {
      clearTimeout(timer)
      removeEventListener('input', done, { capture: true })
      resolve()
    }
    const timer = setTimeout(done, TYPED_MS)
    addEventListener('input', done, { capture: true, passive: true })
  })
