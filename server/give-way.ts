import { AsyncLocalStorage } from 'node:async_hooks'
import { setImmediate, setTimeout } from 'node:timers/promises'

/** So long work waits at the most before its next part: where somebody always asks for something, it still goes on. */
const LONGEST_MS = 250
/** How often it looks whether the requests are answered. */
const PAUSE_MS = 3

const inJob = new AsyncLocalStorage<true>()
const inRequest = new AsyncLocalStorage<object>()
/** Requests that this process has not answered yet. What only this process needs to know. */
let unanswered = 0

/** Does work that gives way to people who wait for an answer: a job. */
export const asJob = <T>(work: () => T): T => inJob.run(true, work)

/** Does the work of a request. Jobs of this process wait meanwhile, between two of their parts. */
export async function asRequest<T>(work: () => Promise<T>): Promise<T> {
  unanswered++
  try {
    return await inRequest.run({}, work)
  } finally {
    unanswered--
  }
}

/**
 * The request whose work this is, as an object of its own; undefined in other work, as that of a job which a
 * request has begun.
 */
export const requestNow = (): object | undefined => (inJob.getStore() ? undefined : inRequest.getStore())

/**
 * In a job: waits until no request waits for its answer, a quarter of a second at the most. The embedded engine
 * does one statement after the other, and one thread does all the rest: without this every statement of a page
 * would stand in line behind the next part of a job. Elsewhere it returns at once.
 */
export async function giveWay(): Promise<void> {
  if (!unanswered || !inJob.getStore()) return
  const until = performance.now() + LONGEST_MS
  while (unanswered && performance.now() < until) await setTimeout(PAUSE_MS)
}

/** How long a loop may hold the event loop before others get their turn. */
const TURN_MS = 20

/**
 * For a long loop within a request: lets others have their turn as soon as it has kept the thread for a while.
 * @returns to be called in each step
 * @example const takeTurns = takingTurns(); for (const one of many) { work(one); await takeTurns() }
 */
export function takingTurns(): () => Promise<void> {
  let turn = performance.now()
  return async () => {
    if (performance.now() - turn < TURN_MS) return
    await setImmediate()
    turn = performance.now()
  }
}

/** Between two parts of work that keeps the thread busy: lets others have their turn. */
export async function betweenParts(): Promise<void> {
  await setImmediate()
  await giveWay()
}
