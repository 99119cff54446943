import { createHash } from 'node:crypto'
import canonicalize from 'canonicalize'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { logError } from '../log'
import type { Computed } from './compute'

/**
 * What a signature freezes: the figures, and the checksum of the signature before it, so that none can be
 * taken out.
 */
export interface Snapshot extends Computed {
  previous?: string | null
}

export interface SignatureRow {
  amendment: number
  signedAt: string
  by: string
  checksum: string
  snapshot: string
}

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex')

/** The canonical text (RFC 8785) of a snapshot, and the SHA-256 over it. */
export function seal(content: Snapshot): { snapshot: string; checksum: string } {
  const snapshot = canonicalize(content)
  if (snapshot === undefined) throw new Error('A snapshot must be JSON.')
  return { snapshot, checksum: sha256(snapshot) }
}

/** Is a stored snapshot the one that was signed? */
export const isSound = ({ snapshot, checksum }: Pick<SignatureRow, 'snapshot' | 'checksum'>): boolean =>
  sha256(snapshot) === checksum

/** The signatures of a district's round, the first one first. */
export const signaturesOf = (sql: Pick<Sql, 'query'>, round: string, unit: string): Promise<SignatureRow[]> =>
  sql.query<SignatureRow>(
    `SELECT s.amendment, s.signed_at AS "signedAt", p.display_name AS by, s.checksum, s.snapshot
   FROM signature s JOIN person p ON p.id = s.person WHERE s.round = $1 AND s.unit = $2 ORDER BY s.amendment`,
    [round, unit],
  )

/** How long what was shown for signing is remembered, in hours. */
const SHOWN_HOURS = 48

/** Remembers what somebody was shown who may sign, so that a later difference can be named. */
export async function noteShown(checksum: string, snapshot: string): Promise<void> {
  const sql = await database()
  await sql.query('DELETE FROM shown_figures WHERE at < $1::timestamptz - make_interval(hours => $2)', [
    nowText(),
    SHOWN_HOURS,
  ])
  await sql.query(
    'INSERT INTO shown_figures (checksum, snapshot, at) VALUES ($1, $2, $3) ON CONFLICT (checksum) DO UPDATE SET at = EXCLUDED.at',
    [checksum, snapshot, nowText()],
  )
}

/** What was shown under a checksum; undefined when that is too long ago, or never was. */
export async function shownFigures(sql: Pick<Sql, 'query'>, checksum: string): Promise<Computed | undefined> {
  const [row] = await sql.query<{ snapshot: string }>(
    'SELECT snapshot FROM shown_figures WHERE checksum = $1',
    [checksum],
  )
  return row && (JSON.parse(row.snapshot) as Computed)
}

/** How many signatures are checked in one query. */
const AT_ONCE = 50

/**
 * Checks every stored signature against its checksum, and logs those that do not match: at each start.
 * @returns how many do not match.
 */
export async function verifySignatures(): Promise<number> {
  const sql = await database()
  let damaged = 0
  for (let last = '00000000-0000-0000-0000-000000000000'; ;) {
    const rows = await sql.query<SignatureRow & { id: string; round: string; unit: string }>(
      'SELECT id, round, unit, amendment, checksum, snapshot FROM signature WHERE id > $1 ORDER BY id LIMIT $2',
      [last, AT_ONCE],
    )
    for (const row of rows) {
      if (isSound(row)) continue
      damaged++
      logError(
        `The signed report ${row.round} of ${row.unit}, signature ${row.amendment}, is not the one that was signed`,
        'Its checksum does not match.',
      )
    }
    if (rows.length < AT_ONCE) return damaged
    last = rows.at(-1)!.id
  }
}
