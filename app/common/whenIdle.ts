import { isTyping } from './typing'

/** Until when nothing else happens, as the browser said last. */
let idleUntil = -Infinity

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
  const isCalm = performance.now() < idleUntil && !isTyping()
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
