import { Cron } from 'croner'
import { logError } from './log'

/**
 * Runs work again and again while the server runs. A run that takes longer than the time between two is not
 * joined by a second one; a run that fails is logged, and the next comes all the same.
 *
 * @param problem what to say when a run fails.
 * @param times in the format of cron: `*\/10 * * * *` is every ten minutes.
 * @example schedule('The checkpoint failed', '*\/5 * * * *', () => sql.checkpoint())
 */
export function schedule(problem: string, times: string, work: () => void | Promise<void>): void {
  new Cron(times, { protect: true, unref: true, catch: error => logError(problem, error) }, work)
}
