import { Cron } from 'croner'
import { logError } from './log'

/**
 * Runs work again and again while the server runs. A run that takes longer than the time between two is not
 * joined by a second one; a run that fails is logged, and the next comes all the same.
 *
 * @param problem what to say when a run fails.
 * @param times in the format of cron: `*\/10 * * * *` is every ten minutes.
 * @param timezone in which the times are meant; the machine's when nothing is said
 * @returns tells when it runs next
 * @example schedule('The checkpoint failed', '*\/5 * * * *', () => sql.checkpoint())
 */
export function schedule(
  problem: string,
  times: string,
  work: () => void | Promise<void>,
  timezone?: string,
): () => Date | null {
  const cron = new Cron(
    times,
    { protect: true, unref: true, timezone, catch: error => logError(problem, error) },
    work,
  )
  return () => cron.nextRun()
}
