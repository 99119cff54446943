import { ApiProblem } from './useApi'
import { deviceNow } from './useClock'

/** Where they lie in this browser, and for how long. */
const PREFIX = 'lantern.kept.'
const LONGEST_MS = 7 * 86_400_000

interface Kept<T> {
  at: number
  answer: T
}

/** Keeps an answer of the district in this browser. Where it has no room for it, the page needs a network, and says so. */
export function keepAnswer(place: string, answer: unknown): void {
  try {
    localStorage.setItem(PREFIX + place, JSON.stringify({ at: deviceNow(), answer }))
  } catch (error) {
    console.warn(`${place} was not kept in this browser`, error)
  }
}

/** What was kept of a place in the last week; null where there is nothing. */
export function keptAnswer<T>(place: string): T | null {
  const kept = JSON.parse(localStorage.getItem(PREFIX + place) ?? 'null') as Kept<T> | null
  return kept && deviceNow() - kept.at < LONGEST_MS ? kept.answer : null
}

/** Forgets everything that was kept: another person may use this browser. */
export function forgetAnswers(): void {
  for (const key of Object.keys(localStorage)) if (key.startsWith(PREFIX)) localStorage.removeItem(key)
}

/**
 * Asks the district, and without a network takes what it answered the last time: for pages that are used on the road.
 *
 * @param place what is asked for, and for whom
 * @throws ApiProblem when it was not reached, and nothing is kept
 * @example await askedOrKept('recount elm', () => callApi('GET /api/facilities/:unit/recounts', { params }))
 */
export async function askedOrKept<T>(place: string, ask: () => Promise<T>): Promise<T> {
  try {
    const answer = await ask()
    keepAnswer(place, answer)
    return answer
  } catch (error) {
    const kept = error instanceof ApiProblem && error.unreachable ? keptAnswer<T>(place) : null
    if (kept === null) throw error
    return kept
  }
}
