import { dateFormat, once } from '../formats'
import { firstDay, lastDay, shiftPeriod, type Period } from './period'

const MS_A_DAY = 86_400_000

/** When a round opens, falls due and closes to facilities, each as milliseconds since 1970 UTC. */
export interface Deadlines {
  opensAt: number
  /** The end of the due day: received before this instant is on time. */
  dueAt: number
  closesAt: number
}

/** What a dataset says of its rounds' time. */
export interface Timing {
  /** How many periods before its own a round opens; 0 opens it when its period has ended. */
  opensAhead: number
  /** Days after the period's end on which a report is due. */
  dueDays: number
  /** Days after the due day on which the round closes to facilities. */
  closeDays: number
}

/** How far a time zone's clock is ahead of UTC at an instant, as the platform's calendar says it. */
function readOffset(instant: number, timeZone: string): number {
  const parts = dateFormat('en-US', {
    timeZone,
    hourCycle: 'h23',
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    hour: 'numeric',
    minute: 'numeric',
    second: 'numeric',
  }).formatToParts(instant)
  const part = (type: string) => Number(parts.find(entry => entry.type === type)?.value)
  const wall = Date.UTC(
    part('year'),
    part('month') - 1,
    part('day'),
    part('hour'),
    part('minute'),
    part('second'),
  )
  return wall - Math.floor(instant / 1000) * 1000
}

/**
 * The offset of a whole day of UTC, null where the clocks change on it. Reading the platform's calendar takes 15 µs,
 * and the thousands of entries of a district share some hundred days. No zone puts its clocks forward and back on
 * one day (common practice).
 */
const offsetOfDay = once((timeZone, day: number): { offset: number | null } => {
  const [first, last] = [day, day + 1].map(at => readOffset(at * MS_A_DAY, timeZone))
  return { offset: first === last ? first! : null }
})

/** How far a time zone's clock is ahead of UTC at an instant, in milliseconds (negative in the west). */
const offsetAt = (instant: number, timeZone: string): number =>
  offsetOfDay(timeZone, Math.floor(instant / MS_A_DAY)).offset ?? readOffset(instant, timeZone)

/**
 * The instant at which a day (a day number) begins in a time zone: the first one that its calendar shows as
 * that day. Where the clocks are put forward at midnight that is 01:00; where they are put back over it, the
 * first of two midnights.
 */
export function startOfDay(day: number, timeZone: string): number {
  const asUtc = day * MS_A_DAY
  // The offsets before and after any change near that midnight: each names one instant that may be it.
  const offsets = [-MS_A_DAY, MS_A_DAY].map(off => offsetAt(asUtc + off, timeZone))
  const begins = offsets
    .map(offset => asUtc - offset)
    .filter(instant => dayAt(instant, timeZone) === day && dayAt(instant - 1, timeZone) < day)
  if (begins.length) return Math.min(...begins)
  // No midnight: the day begins when the clocks are put forward, somewhere in between.
  let [before, from] = [asUtc - Math.max(...offsets) - 1, asUtc - Math.min(...offsets) + 1]
  while (from - before > 1) {
    const middle = Math.floor((before + from) / 2)
    if (dayAt(middle, timeZone) >= day) from = middle
    else before = middle
  }
  return from
}

/** The day number that a time zone's calendar shows at an instant. */
export const dayAt = (instant: number, timeZone: string): number =>
  Math.floor((instant + offsetAt(instant, timeZone)) / MS_A_DAY)

/**
 * The deadlines of one period under a dataset's timing. A report received in the last millisecond before
 * `dueAt` is on time.
 */
export function deadlines(period: Period, timing: Timing, timeZone: string): Deadlines {
  const opening =
    timing.opensAhead > 0 ? firstDay(shiftPeriod(period, 1 - timing.opensAhead)) : lastDay(period) + 1
  const dueDay = lastDay(period) + timing.dueDays
  return {
    opensAt: startOfDay(opening, timeZone),
    dueAt: startOfDay(dueDay + 1, timeZone),
    closesAt: startOfDay(dueDay + timing.closeDays + 1, timeZone),
  }
}
