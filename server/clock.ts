/**
 * The one place on the server that asks what time it is. `LANTERN_NOW` (ISO 8601) sets the time at which the
 * process starts, for the demo and the tests; from there the clock runs on. With `LANTERN_CLOCK=stands` it does not:
 * filling the demo takes longer on one machine than on another, and what it writes must not say so.
 */
const STARTED = Date.now()

function offset(): number {
  const set = process.env.LANTERN_NOW
  if (!set) return 0
  const instant = Date.parse(set)
  if (Number.isNaN(instant)) throw new Error(`LANTERN_NOW is not an ISO 8601 time: ${set}`)
  return instant - STARTED
}

const OFFSET = offset()

const stands = process.env.LANTERN_CLOCK === 'stands'

/** Now, in milliseconds since 1970 UTC. */
export const now = (): number => (stands ? STARTED : Date.now()) + OFFSET

/** Now, as ISO 8601 text for the database and the API. */
export const nowText = (): string => new Date(now()).toISOString()

/** A time of the machine's clock as a time of ours. */
export const ofMachine = (time: Date): Date => new Date(time.getTime() + OFFSET)
