import type { WebDriver } from 'selenium-webdriver'
import type { Visitor } from '../../tests/support/browser'

/** How much slower the processor of the phone is than this machine's. */
export const SLOWER = 4
/** The line of the phone: 1.6 Mbit/s down, half of it up, and 150 ms. */
const LINE = { offline: false, latency: 150, download_throughput: 200_000, upload_throughput: 100_000 }

type Tools = WebDriver & {
  setNetworkConditions: (of: object) => Promise<void>
  sendDevToolsCommand: (name: string, params: object) => Promise<void>
}
const toolsOf = (visitor: Visitor) => visitor.driver as Tools

/**
 * Makes a visitor's browser a slow phone, as Chromium emulates one: its processor always, its line where
 * there is one.
 */
export async function slowDown(visitor: Visitor, line: boolean): Promise<void> {
  await toolsOf(visitor).sendDevToolsCommand('Emulation.setCPUThrottlingRate', { rate: SLOWER })
  if (line) await toolsOf(visitor).setNetworkConditions(LINE)
}
/** Takes the mouse of the test off the page: a phone has none, and a browser looks in each new layout what is under it. */
export const withoutMouse = (visitor: Visitor): Promise<void> =>
  toolsOf(visitor).sendDevToolsCommand('Input.dispatchMouseEvent', { type: 'mouseMoved', x: -5, y: -5 })
export const fullSpeed = (visitor: Visitor): Promise<void> =>
  toolsOf(visitor).sendDevToolsCommand('Emulation.setCPUThrottlingRate', { rate: 1 })

/**
 * Watches every page from its first moment, by the page's own clock: `seen` is when an element was painted
 * for the first time; `__after` measures from an event to the frame in which its outcome is painted.
 */
const WATCH = `
const afterFrame = act => { const { port1, port2 } = new MessageChannel(); port1.onmessage = act; port2.postMessage(0) }
// What stands when a frame begins is on the screen when it ends: a message sent in it comes after that.
const when = (there, act) => { const look = () => (there() ? afterFrame(act) : requestAnimationFrame(look)); requestAnimationFrame(look) }
window.__seen = {}
for (const css of window.__looked) when(() => document.querySelector(css), () => { window.__seen[css] = performance.now() })
window.__after = (kind, css) => {
  window.__times = []
  window.__before?.abort()
  window.__before = new AbortController()
  window.addEventListener(kind, event => when(() => !css || document.querySelector(css), () => window.__times.push(performance.now() - event.timeStamp)), { capture: true, signal: window.__before.signal })
}`

/** Sets the watch up for all pages that the visitor opens from now on. */
export async function watch(visitor: Visitor, ...looked: string[]): Promise<void> {
  await toolsOf(visitor).sendDevToolsCommand('Page.addScriptToEvaluateOnNewDocument', {
    source: `window.__looked = ${JSON.stringify(looked)};${WATCH}`,
  })
}

/** When an element was first painted, in milliseconds since the page was asked for. */
export async function seenAt(visitor: Visitor, css: string, patience = 60_000): Promise<number> {
  return (await visitor.driver.wait(
    () => visitor.run<number | null>('return window.__seen?.[arguments[0]] ?? null', css),
    patience,
    `to see ${css}`,
  ))!
}
