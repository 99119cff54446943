/**
 * Waits until what changed just now is drawn, for work that nobody sees. Also for a page that nobody sees: it draws
 * nothing, and may end at any moment, so there it waits for the next task only. By a message and not by a timer, which
 * waits for a second once the page is hidden.
 */
export const whenDrawn = (): Promise<void> =>
  new Promise(resolve => {
    const { port1, port2 } = new MessageChannel()
    // What is said in a frame is heard when the frame is drawn.
    const say = () => port2.postMessage(null)
    const isSeen = 'document' in globalThis && document.visibilityState === 'visible'
    port1.onmessage = () => {
      port1.close()
      if (isSeen) removeEventListener('visibilitychange', say)
      resolve()
    }
    if (!isSeen) return say()
    addEventListener('visibilitychange', say)
    requestAnimationFrame(say)
  })
