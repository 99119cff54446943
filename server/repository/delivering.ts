import type { DeliveryProblem } from '#core/contract/sending'
import { now } from '../clock'
import { NotDelivered } from './not-delivered'

const MINUTE = 60_000
/** How long a recipient may take for one answer. */
const ANSWER_MS = 60_000
/** How often one is tried, and how long the first pause is; each further one is twice as long. */
const MOST_TRIES = 8
const FIRST_PAUSE_MS = 2 * MINUTE

/** What is tried the first time is tried again then, should this process die meanwhile. */
export const firstPause = (): string => new Date(now() + FIRST_PAUSE_MS).toISOString()

/** When one that was tried so often is tried again; null: it is given up. */
export const nextTry = (tries: number): string | null =>
  tries < MOST_TRIES ? new Date(now() + FIRST_PAUSE_MS * 2 ** (tries - 1)).toISOString() : null

/** What is kept of a failure; what is none of the agreed ones stands in the log. */
export const deliveryProblem = (error: unknown): string =>
  error instanceof NotDelivered ? error.code : ('no-answer' satisfies DeliveryProblem)

/** What a line carries at the least, in bytes a millisecond (0.4 Mbit/s), and how long the rest waits for one file. */
const SLOWEST_LINE = 50
const LONGEST_MS = 30 * MINUTE
/** How long giving a recipient so many bytes may take, with its answer. */
const patience = (bytes: number): number => Math.min(ANSWER_MS + Math.ceil(bytes / SLOWEST_LINE), LONGEST_MS)

/**
 * Delivers what is due, one after the other. What may have been delivered already is asked about first.
 *
 * @param takeDue marks the next one as on its way, so that the next process asks about it should this one die
 * @param bytes how many are delivered: a large file may take longer than a report
 */
export async function deliverAll<Due>(
  signal: AbortSignal,
  {
    takeDue,
    deliver,
    bytes = () => 0,
    noteFailure,
    note,
  }: {
    takeDue: () => Promise<Due | undefined>
    deliver: (due: Due, signal: AbortSignal) => Promise<void>
    bytes?: (due: Due) => number
    noteFailure: (due: Due, error: unknown) => Promise<void>
    note: () => void
  },
): Promise<{ delivered: number; unanswered: number }> {
  let delivered = 0
  let unanswered = 0
  for (let due = await takeDue(); due; due = await takeDue()) {
    signal.throwIfAborted()
    try {
      const patient = AbortSignal.timeout(patience(bytes(due)))
      await deliver(due, AbortSignal.any([signal, patient]))
      delivered++
    } catch (error) {
      signal.throwIfAborted()
      unanswered++
      await noteFailure(due, error)
    }
    note()
  }
  return { delivered, unanswered }
}
