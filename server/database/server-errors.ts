/**
 * What errors of a PostgreSQL server mean for what we do next. Codes: SQLSTATE, PostgreSQL documentation,
 * appendix A.
 */

/** The server cannot be reached, or ended what was under way. What was asked for may be asked for again. */
export class DatabaseAway extends Error {
  /** @param isUnknown the connection was lost while a transaction was being committed: it may be stored. */
  constructor(
    override readonly cause: unknown,
    readonly isUnknown = false,
  ) {
    super(`The database does not answer: ${cause instanceof Error ? cause.message : String(cause)}`)
  }
}

/** The server answers, and an installation cannot live in what it offers. The message says what to do. */
export class DatabaseUnusable extends Error {}

const codeOf = (error: unknown): string => String((error as { code?: unknown } | null)?.code ?? '')

/** Another transaction was in the way: the same work done again will succeed. */
export const isRetryable = (error: unknown): boolean => ['40001', '40P01'].includes(codeOf(error))

/** Codes of Node.js for a connection that there is not, or no more. */
const NETWORK = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EHOSTUNREACH',
  'ENETUNREACH',
  'ENOENT',
  'ENOTFOUND',
  'EAI_AGAIN',
  'EPIPE',
  'ETIMEDOUT',
])

/**
 * Is an error one of the connection or of the server as a whole: down, starting, stopping, without room, or
 * with too much to do? Class 08 is the connection, 53 resources, 57P0 the operator; 55P03 and 57014 are
 * time-outs of ours; 25006 is a standby.
 */
export function isAway(error: unknown): boolean {
  const code = codeOf(error)
  if (NETWORK.has(code) || /^(08|53)/.test(code)) return true
  if (['57P01', '57P02', '57P03', '57P05', '25P03', '55P03', '57014', '25006'].includes(code)) return true
  // These come from the client itself, which gives them no code.
  return error instanceof Error && /^(Connection terminated|timeout exceeded when trying)/.test(error.message)
}
