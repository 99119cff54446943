import { log, logError } from './log'

/** Something outside of this installation (a recipient, a message gateway) did not answer as agreed. */
export class OutsideFault extends Error {}

/** The network names its reason in the error's cause. */
function isOutside(error: unknown): error is Error {
  if (!(error instanceof Error)) return false
  const { cause, name } = error
  return (
    error instanceof OutsideFault || name === 'TimeoutError' || (cause instanceof Error && 'code' in cause)
  )
}

/**
 * Writes a failure into the log: in one line where the reason lies outside, for one that is down, slow or says no is
 * nothing of ours; else with its place in our code. What was sent, to whom, and the key stay out of it.
 *
 * @example logFailure('Sending 7 could not be delivered', error)
 *   // “Sending 7 could not be delivered: The recipient answered 503”
 */
export function logFailure(what: string, error: unknown): void {
  if (!isOutside(error)) return logError(what, error)
  const cause = error.cause instanceof Error ? ` (${error.cause.message})` : ''
  log(`${what}: ${error.message}${cause}`)
}
