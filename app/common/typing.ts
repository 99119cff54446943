/** So long after the last key somebody still types, in milliseconds. */
const TYPED_MS = 1_000
let typedAt = -Infinity
if ('addEventListener' in globalThis)
  addEventListener('input', () => (typedAt = performance.now()), { capture: true, passive: true })

/** Does somebody type just now? What nobody waits for leaves room for the next key then. */
export const isTyping = (): boolean => performance.now() - typedAt < TYPED_MS
