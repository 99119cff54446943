/**
 * The one place in the browser that asks what time it is. The server's clock decides; a device clock that is off is
 * corrected by the difference seen at sign-in.
 */
let offset = 0

/** Notes the server's time as it was a moment ago. */
export function correctClock(serverNow: string): void {
  offset = Date.parse(serverNow) - Date.now()
}

/** Now by the server's clock, in milliseconds since 1970 UTC. */
export const clockNow = (): number => Date.now() + offset
