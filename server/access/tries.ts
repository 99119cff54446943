import { getRequestIP, type H3Event } from 'h3'
import { RateLimiterMemory, type RateLimiterRes } from 'rate-limiter-flexible'
import { Refusal } from '../refusal'
import { waitAfter } from './password-wait'

const A_QUARTER_OF_AN_HOUR = 15 * 60
/** Wrong tries from one address: a facility's Wi-Fi has many people behind one. */
const byAddress = new RateLimiterMemory({ keyPrefix: 'address', points: 60, duration: 60 })
/** Wrong tries for one name from places that its person never came from. */
const byName = new RateLimiterMemory({ keyPrefix: 'name', points: 20, duration: A_QUARTER_OF_AN_HOUR })

/** Where a request comes from. Behind a proxy of one's own (`LANTERN_TRUST_PROXY=1`) the proxy says so. */
export const addressOf = (event: H3Event): string =>
  getRequestIP(event, { xForwardedFor: process.env.LANTERN_TRUST_PROXY === '1' }) ?? 'unknown'

export function tooManyTries(milliseconds: number): Refusal {
  const seconds = Math.max(1, Math.ceil(milliseconds / 1000))
  return new Refusal(
    429,
    'too-many-tries',
    `Too many wrong tries. Try again in ${seconds} seconds.`,
    [{ code: 'too-many-tries', message: '', values: { seconds } }],
    { 'retry-after': String(seconds) },
  )
}

interface Tries {
  wrong: number
  blockedUntil: number
}
/** More keys than this are not remembered: the oldest goes. */
const MOST_KEYS = 20_000
const tries = new Map<string, Tries>()

/**
 * Counts a try before it is looked at, so that many at once do not all slip through. Three are free; then
 * each wrong one costs a wait, doubling up to a quarter of an hour. The wait is measured by a clock that
 * nobody sets.
 *
 * @param key what is tried, from where
 * @throws Refusal 429 `too-many-tries` while the wait after the last wrong one is not over
 */
export function countTry(key: string): void {
  const before = tries.get(key) ?? { wrong: 0, blockedUntil: 0 }
  const left = before.blockedUntil - performance.now()
  if (left > 0) throw tooManyTries(left)
  const wrong = before.wrong + 1
  tries.delete(key)
  tries.set(key, { wrong, blockedUntil: performance.now() + waitAfter(wrong) })
  if (tries.size > MOST_KEYS) tries.delete(tries.keys().next().value!)
}

/** The try was right: the ones before it are forgotten. */
export const forgetTries = (key: string): void => {
  tries.delete(key)
}

/** Takes a point from a limit. @throws Refusal 429 when there is none left. */
async function take(limit: RateLimiterMemory, key: string): Promise<void> {
  await limit.consume(key).catch((found: RateLimiterRes | Error) => {
    throw found instanceof Error
      ? found
      : tooManyTries(Math.min(found.msBeforeNext, A_QUARTER_OF_AN_HOUR * 1000))
  })
}

/** A try at something that somebody may guess. */
export interface Try {
  /** What is tried: a name, a code. */
  what: string
  address: string
  /** The device at which it is tried, where it is one. */
  device?: string
  /** Has the person come from this address or device before? Others' tries then do not count. */
  known?: boolean
}

const keyOf = ({ what, address, device }: Try): string => `${what}|${device ?? address}`

/**
 * Limits tries by address, by name, and by both together. A place that is known for a person is not locked by
 * what others try elsewhere.
 *
 * @param work does the try; it throws when it was wrong
 * @throws Refusal 429 `too-many-tries`, never for longer than a quarter of an hour
 */
export async function limitTries<T>(one: Try, work: () => Promise<T>): Promise<T> {
  countTry(keyOf(one))
  await take(byAddress, one.address)
  if (!one.known) await take(byName, one.what)
  const result = await work()
  forgetTries(keyOf(one))
  await byAddress.reward(one.address)
  if (!one.known) await byName.reward(one.what)
  return result
}

/** How many passwords are compared at once, and how many wait: each costs a processor for some time. */
const AT_ONCE = 2
const MOST_WAITING = 60
let running = 0
const queue: (() => void)[] = []

/**
 * Computes or compares a password's hash when it is its turn, so that many of them do not slow everybody
 * down.
 * @throws Refusal 429 when too many wait
 */
export async function inTurn<T>(hashing: () => Promise<T>): Promise<T> {
  if (running >= AT_ONCE) {
    if (queue.length >= MOST_WAITING) throw tooManyTries(5_000)
    await new Promise<void>(resolve => {
      queue.push(resolve)
    })
  }
  running++
  try {
    return await hashing()
  } finally {
    running--
    queue.shift()?.()
  }
}
