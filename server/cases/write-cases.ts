import type { Sql } from '../database'
import type { FoldedCase } from './fold-known'

/** A case that an entry begins. */
export interface NewCase {
  register: string
  unit: string
  parent: string | null
}

/** A case that begins, with what is known of it from the entries that begin it. */
export interface BegunCase extends NewCase {
  folded: FoldedCase
}

/** For queries: the columns of what is known of cases, from parameters `$1` to `$8` of {@link knownColumns}. */
export const KNOWN_TABLE = `unnest($1::uuid[], $2::jsonb[], $3::int[], $4::date[], $5::timestamptz[], $6::date[], $7::boolean[], $8::text[])
  AS g (id, known, entries, last_on, received_at, next_visit, result_awaited, search_text)`

/** What is known of some cases, as the parameters of {@link KNOWN_TABLE}. */
export const knownColumns = (folded: readonly FoldedCase[]) => [
  folded.map(({ kept }) => kept.id),
  folded.map(({ kept }) => JSON.stringify(kept.known)),
  folded.map(({ kept }) => kept.entries),
  folded.map(({ kept }) => kept.lastOn),
  folded.map(({ kept }) => kept.receivedAt),
  folded.map(({ kept }) => kept.nextVisit),
  folded.map(({ kept }) => kept.resultAwaited),
  folded.map(({ kept }) => kept.searchText),
]

/** Writes new cases with what is known of them: each row once, for it stands in a dozen indexes. */
export async function writeCases(sql: Sql, begun: readonly BegunCase[]): Promise<void> {
  if (!begun.length) return
  await sql.query(
    `INSERT INTO case_record (id, register, unit, parent, known, entries, last_on, received_at, next_visit, result_awaited, search_text)
     SELECT g.id, n.register, n.unit, n.parent, g.known, g.entries, g.last_on, g.received_at, g.next_visit, g.result_awaited, g.search_text
     FROM ${KNOWN_TABLE} JOIN unnest($1::uuid[], $9::text[], $10::text[], $11::uuid[]) AS n (id, register, unit, parent) ON n.id = g.id`,
    [
      ...knownColumns(begun.map(({ folded }) => folded)),
      begun.map(({ register }) => register),
      begun.map(({ unit }) => unit),
      begun.map(({ parent }) => parent),
    ],
  )
}
