import type { TSchema } from '@sinclair/typebox'
import type { Permission } from '../permission'

/** What a route needs, takes and gives. The server checks by it, the API document is made from it. */
export interface RouteContract {
  summary: string
  permission: Permission
  params?: TSchema
  query?: TSchema
  body?: TSchema
  /** The largest body that it takes, unpacked, where that is more than usual: see {@link mostBytesOf}. */
  mostBytes?: number
  /** Looks at the texts of its body by itself. */
  readsTexts?: boolean
  /** The body of a good answer; the media types, or ranges of them, of one that is a file. */
  answer: TSchema | { file: readonly string[] }
  /** Shows a whole branch at once: closed to those who see only what they filled themselves. */
  wholeBranch?: boolean
  /**
   * Open to a reader who sees only some datasets and registers: `round` names a round in its path, of a dataset
   * that must be among them; `filtered` shows nothing else by itself. Any other route is closed to them.
   */
  shared?: 'round' | 'filtered'
  /**
   * Open to programs of other systems, which show a token. What they send, as an example that a test runs on the
   * demo.
   */
  machine?: { params?: Record<string, string>; query?: Record<string, string>; body?: object }
}

/**
 * The largest body, unpacked, of a route that says nothing else, in bytes; and of one that asks for no
 * session.
 */
const LARGEST_BODY = 1_000_000
const LARGEST_OPEN_BODY = 20_000

/** How many bytes a route takes, unpacked. */
export const mostBytesOf = ({ mostBytes, permission }: RouteContract): number =>
  mostBytes ?? (permission === 'open' ? LARGEST_OPEN_BODY : LARGEST_BODY)

/** Keeps the exact type of a contract, for the types of its callers. */
export const route = <T extends RouteContract>(contract: T) => contract
