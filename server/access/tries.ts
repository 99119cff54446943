import { getRequestIP, type H3Event } from 'h3'
import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible'
import { database, type Parameter, type Sql } from '../database'
import { Refusal } from '../refusal'
import { LONGEST_WAIT, waitAfter } from './password-wait'

/** All processes count in one table. What the package wants to know of an answer of `pg`. */
const storeClient = {
  async query({ text, values }: { text: string; values: Parameter[] }) {
    const sql = await database()
    const rows = await sql.query(text, values)
    return { rows, rowCount: rows.length }
  },
}
/** So many points in so many seconds, counted by all processes together. */
export const limitOf = (keyPrefix: string, points: number, duration: number) =>
  new RateLimiterPostgres({
    storeClient,
    storeType: 'pool',
    tableName: 'rate_limit',
    tableCreated: true,
    // A job of the night does that.
    clearExpiredByTimeout: false,
    keyPrefix,
    points,
    duration,
    // Who was refused once is refused from then on without asking the database.
    inMemoryBlockOnConsumed: points + 1,
  })
/** Wrong tries from one address: a facility's Wi-Fi has many people behind one. */
const byAddress = limitOf('address', 60, 60)
/** Wrong tries for one name from places that its person never came from. */
const byName = limitOf('name', 20, LONGEST_WAIT / 1000)

/** Where a request comes from. Behind a proxy of one's own (`LANTERN_TRUST_PROXY=1`) the proxy says so. */
export const addressOf = (event: H3Event): string =>
  getRequestIP(event, { xForwardedFor: process.env.LANTERN_TRUST_PROXY === '1' }) ?? 'unknown'

/** Somebody asks or tries too often, and may go on after some milliseconds. @param why a sentence */
export function tooOften(code: string, why: string, milliseconds: number): Refusal {
  const seconds = Math.max(1, Math.ceil(milliseconds / 1000))
  return new Refusal(
    429,
    code,
    `${why} Try again in ${seconds} seconds.`,
    [{ code, message: '', values: { seconds } }],
    { 'retry-after': String(seconds) },
  )
}
export const tooManyTries = (milliseconds: number): Refusal =>
  tooOften('too-many-tries', 'Too many wrong tries.', milliseconds)

/** The waits after so many wrong ones, in seconds; the last is the longest. */
const WAITS = Array.from({ length: 16 }, (_, wrong) => waitAfter(wrong + 1) / 1000)

/**
 * Counts a try before it is looked at, so that many at once do not all slip through. Three are free; then
 * each wrong one costs a wait, doubling up to a quarter of an hour. The wait is measured by the clock of the
 * database, which is one for all processes; when that is set back, nobody waits longer than the longest wait.
 *
 * @param key what is tried, from where
 * @throws Refusal 429 `too-many-tries` while the wait after the last wrong one is not over
 */
export async function countTry(key: string): Promise<void> {
  const sql = await database()
  const counted = await sql.query(
    `INSERT INTO wrong_try AS w (key, wrong, blocked_until) VALUES ($1, 1, clock_timestamp() + make_interval(secs => ($2::float8[])[1]))
     ON CONFLICT (key) DO UPDATE SET wrong = w.wrong + 1,
       blocked_until = clock_timestamp() + make_interval(secs => ($2::float8[])[least(w.wrong + 1, cardinality($2::float8[]))])
     WHERE w.blocked_until <= clock_timestamp() OR w.blocked_until > clock_timestamp() + make_interval(secs => $3)
     RETURNING w.wrong`,
    [key, WAITS, LONGEST_WAIT / 1000],
  )
  if (counted.length) return
  const [row] = await sql.query<{ left: number }>(
    'SELECT extract(epoch FROM blocked_until - clock_timestamp())::float8 AS left FROM wrong_try WHERE key = $1',
    [key],
  )
  throw tooManyTries((row?.left ?? 0) * 1000)
}

/** The try was right: the ones before it are forgotten. */
export async function forgetTries(key: string): Promise<void> {
  const sql = await database()
  await sql.query('DELETE FROM wrong_try WHERE key = $1', [key])
}

/**
 * Forgets tries of which nobody has waited for a day: no wait is longer than a quarter of an hour. @returns
 * how many
 */
export async function forgetOldTries(sql: Pick<Sql, 'query'>): Promise<number> {
  const tries = await sql.query(
    `DELETE FROM wrong_try WHERE blocked_until < clock_timestamp() - interval '1 day' RETURNING key`,
  )
  const limits = await sql.query(
    `DELETE FROM rate_limit WHERE expire < extract(epoch FROM clock_timestamp() - interval '1 day') * 1000 RETURNING key`,
  )
  return tries.length + limits.length
}

/** Takes a point from a limit. @returns null, or how many milliseconds to wait where there is none left */
export const waitOf = (limit: RateLimiterPostgres, key: string): Promise<number | null> =>
  limit.consume(key).then(
    () => null,
    (found: RateLimiterRes | Error) => {
      if (found instanceof Error) throw found
      return found.msBeforeNext
    },
  )

/** Takes a point from a limit. @throws Refusal 429 when there is none left. */
async function take(limit: RateLimiterPostgres, key: string): Promise<void> {
  const wait = await waitOf(limit, key)
  if (wait !== null) throw tooManyTries(Math.min(wait, LONGEST_WAIT))
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
  // First what is refused without asking the database: made-up names must not fill its tables.
  await take(byAddress, one.address)
  await countTry(keyOf(one))
  if (!one.known) await take(byName, one.what)
  const result = await work()
  await forgetTries(keyOf(one))
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
