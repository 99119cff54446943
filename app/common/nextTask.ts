/**
 * Goes on in a task of its own, so that the browser can paint what was typed a moment ago. A message, because a page
 * that is put away still gets it at once, which it does not get from a timer or a frame.
 */
export const nextTask = (): Promise<void> =>
  new Promise(resolve => {
    const { port1, port2 } = new MessageChannel()
    port1.onmessage = () => {
      port1.close()
      resolve()
    }
    port2.postMessage(null)
  })
