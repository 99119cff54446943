/** So long after the last key nobody types any more, in milliseconds. */
const TYPED_MS = 1_000
/** How often it is looked whether somebody still types. */
const LOOK_MS = 100
let typedAt = -Infinity
/** Until when nothing else happens, as the browser said last. */
let idleUntil = -Infinity
if ('addEventListener' in globalThis)
  addEventListener('input', () => (typedAt = performance.now()), { capture: true, passive: true })

/** Lets everything that waits have its turn. */
export const nextTurn = (after = 0): Promise<void> =>
  new Promise(resolve => {
    setTimeout(resolve, after)
  })

/**
 * Waits until nothing else happens, for work that nobody waits for. What is typed comes first: while somebody
 * types, a stretch of work between two keys would hold up the second.
 * @param isHurried somebody waits for it by now: it goes on at once
 */
export async function whenIdle(isHurried: () => boolean): Promise<void> {
  while (performance.now() - typedAt < TYPED_MS && !isHurried()) await nextTurn(LOOK_MS)
  // A browser tells the same idle time only once: it has room for several stretches of work.
  if (isHurried() || performance.now() < idleUntil || !('requestIdleCallback' in globalThis))
    return nextTurn()
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
