import { dayAt, startOfDay } from '../calendar/deadline'

/** From which minute of the day to which no reminder is sent; the same twice means that there are none. */
export interface QuietHours {
  /** Minutes after midnight, 0 to 1439. */
  from: number
  to: number
}

const MINUTE = 60_000

/**
 * The first moment from an instant on at which reminders are sent: the instant itself, or the end of the quiet
 * hours that it lies in. They may go over midnight.
 *
 * @param instant milliseconds since 1970 UTC
 * @param timeZone IANA name, in which the hours are meant
 * @example
 *   // 22:15 on 8 November with quiet hours from 20:00 to 07:00: 07:00 on 9 November
 *   afterQuiet(Date.parse('2026-11-08T22:15Z'), { from: 1200, to: 420 }, 'UTC')
 */
export function afterQuiet(instant: number, { from, to }: QuietHours, timeZone: string): number {
  const today = dayAt(instant, timeZone)
  // Quiet hours that began yesterday may still hold.
  for (const day of [today - 1, today]) {
    const begins = startOfDay(day, timeZone) + from * MINUTE
    const ends = startOfDay(to < from ? day + 1 : day, timeZone) + to * MINUTE
    if (begins <= instant && instant < ends) return ends
  }
  return instant
}
