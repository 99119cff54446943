import { createHash } from 'node:crypto'
import type { Sharing } from '#core/contract/people'
import type { AskerRole, Permission } from '#core/contract/permission'

/**
 * The person behind a request, read from the database each time: what an administrator takes away is gone at
 * once.
 */
export interface Access {
  id: string
  userName: string
  displayName: string
  role: AskerRole
  /** Code of the unit at the top of the person's branch; null is the whole tree. */
  branch: string | null
  /** Sees only the reports that the person filled, and those that nobody has begun. */
  ownOnly: boolean
  /** What the role may do and this person may not. */
  without: readonly Permission[]
  /** What of the branch a reader or a clerk sees; null is everything. */
  sharing: Sharing | null
  /** The device at which the person signed in, where it is one. */
  device?: string
}

/** Of a secret that a device or a program shows only this is kept. A plain hash is enough: it is random and long. */
export const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex')

/** For queries: the columns of a person's row that make their access. */
export const accessColumns = (p: string): string =>
  `${p}.id, ${p}.user_name AS "userName", ${p}.display_name AS "displayName", ${p}.role, ${p}.branch,
   ${p}.own_only AS "ownOnly", ${p}.without, ${p}.sharing`
