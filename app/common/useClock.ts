import { dayAt } from '#core/calendar/deadline'
import { phoneName } from '../device/useDeskStore'
import { deviceClockOff } from '../device/useDeviceHardware'

/**
 * The one place in the browser that asks what time it is. The server's clock decides; a device clock that is
 * off is corrected by the difference seen at the last sync, which is stored for the days without one.
 */
const storageKey = () => `lantern-clock${phoneName()}`
let known: number | undefined
const offset = (): number => (known ??= Number(localStorage.getItem(storageKey()) ?? 0) || 0)

/** Now by this device's own clock, right or wrong. Changes carry this time; the server corrects it. */
export const deviceNow = (): number => Date.now() + deviceClockOff()

/** Notes the server's time as it was a moment ago. */
export function correctClock(serverNow: string): void {
  const instant = Date.parse(serverNow)
  if (!Number.isFinite(instant)) return
  known = instant - deviceNow()
  localStorage.setItem(storageKey(), String(known))
}

/** How far this device's clock is ahead of the district's, as seen at the last contact, in milliseconds. */
export const clockAhead = (): number => -offset()

/** Now by the server's clock, in milliseconds since 1970 UTC. */
export const clockNow = (): number => deviceNow() + offset()

const A_MINUTE = 60_000
let today = { timeZone: '', minute: -1, day: 0 }
/**
 * The day number of today in a time zone. It is asked for at each key, so that the calendar is asked once a
 * minute: a day begins with a whole one.
 */
export function todayIn(timeZone: string): number {
  const now = clockNow()
  const minute = Math.floor(now / A_MINUTE)
  if (today.timeZone !== timeZone || today.minute !== minute)
    today = { timeZone, minute, day: dayAt(now, timeZone) }
  return today.day
}
