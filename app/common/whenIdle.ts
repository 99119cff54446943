/** So long after the last key somebody still types, in milliseconds. */
const TYPED_MS = 1_000
let typedAt = -Infinity
/** Until when nothing else happens, as the browser said last. */
let idleUntil = -Infinity
if ('addEventListener' in globalThis)
  addEventListener('input', () => (typedAt = performance.now()), { capture: true, passive: true })

/** Lets everything that waits have its turn. */
export const nextTurn = (): Promise<void> =>
  new Promise(resolve => {
    setTimeout(resolve)
  })

/**
 * Waits until nothing else happens, for work that nobody waits for. A browser tells the same idle time only once,
 * and it has room for several stretches of work; where somebody types there is one in each, so that the next key
 * does not find another.
 */
export async function whenIdle(): Promise<void> {
  const now = performance.now()
  const isCalm = now < idleUntil && now - typedAt >= TYPED_MS
  if (isCalm || !('requestIdleCallback' in globalThis)) return nextTurn()
  await new Promise<void>(resolve => {
    requestIdleCallback(
      deadline => {
        idleUntil = performance.now() + deadline.timeRemaining()
        resolve()
      },
      { timeout: 2_000 },
    )
  })
}
