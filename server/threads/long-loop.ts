import { log } from '../log'

const EVERY_MS = 10

/**
 * Watches how long single pieces of work hold the event loop, and logs those over a limit. While one holds
 * it, nobody is answered.
 *
 * @param limit milliseconds, from `LANTERN_LOOP_LIMIT_MS`; 1,000 when nothing is set
 */
export function watchEventLoop(limit = Number(process.env.LANTERN_LOOP_LIMIT_MS ?? 1000)): void {
  let last = performance.now()
  setInterval(() => {
    const held = performance.now() - last - EVERY_MS
    last = performance.now()
    if (held > limit) log(`The event loop was held for ${Math.round(held)} ms.`)
  }, EVERY_MS).unref()
}
