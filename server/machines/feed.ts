import type { ChangedThing, ChangeFeed } from '#core/contract/tokens'
import { branchPath, type Access } from '../access/access'
import { database, type Database, type Sql } from '../database'
import { lockChanges } from '../database/locks'

/** So many changes come in one answer, and so many new ones get their places at once. */
const AT_ONCE = 500
const PLACED_AT_ONCE = 500

/**
 * Gives new changes their places. One process at a time, so that nothing gets a place before one that somebody
 * has read already, however long the transaction that noted it took. Older rows of the same thing go.
 * @returns are there more?
 */
const placeSome = (sql: Sql): Promise<boolean> =>
  lockChanges(sql).then(async () => {
    const fresh = await sql.query<{ id: number }>(
      `SELECT id FROM changed_thing WHERE seq IS NULL ORDER BY id LIMIT ${PLACED_AT_ONCE}`,
    )
    if (!fresh.length) return false
    const ids = fresh.map(({ id }) => id)
    const [last] = await sql.query<{ seq: number }>('SELECT coalesce(max(seq), 0) AS seq FROM changed_thing')
    await sql.query(
      `DELETE FROM changed_thing o USING changed_thing n WHERE n.id = ANY($1::bigint[]) AND o.id < n.id
         AND o.kind = n.kind AND o.of = n.of AND o.key = n.key AND o.unit = n.unit`,
      [ids],
    )
    await sql.query(
      `UPDATE changed_thing c SET seq = $2::bigint + n.at
       FROM (SELECT id, row_number() OVER (ORDER BY id) AS at FROM changed_thing WHERE id = ANY($1::bigint[])) n WHERE n.id = c.id`,
      [ids, last!.seq],
    )
    return ids.length === PLACED_AT_ONCE
  })

/**
 * Gives all changes their places. Each night, too: who follows the changes for the first time would wait for
 * everything that ever changed.
 */
export async function placeChanges(sql: Database, signal?: AbortSignal): Promise<void> {
  while (await sql.transaction(placeSome)) signal?.throwIfAborted()
}

/**
 * What changed in a branch since a place in the list of changes: each thing once, at its latest change. Without a
 * place only the present one is answered. What is asked for afterwards is at least as new as the change.
 *
 * @param after the `next` of an earlier answer
 */
export async function readFeed(access: Access, after?: string): Promise<ChangeFeed> {
  const sql = await database()
  await placeChanges(sql)
  if (after === undefined) {
    const [last] = await sql.query<{ seq: number }>('SELECT coalesce(max(seq), 0) AS seq FROM changed_thing')
    return { changes: [], next: String(last!.seq), more: false }
  }
  const rows = await sql.query<ChangedThing & { seq: number }>(
    `SELECT c.seq, c.at, c.kind, c.of, c.key, c.unit FROM changed_thing c LEFT JOIN unit_latest u ON u.code = c.unit
     WHERE c.seq > $1::bigint AND ($3::boolean OR u.path @> $2::text[]) ORDER BY c.seq LIMIT ${AT_ONCE}`,
    [Number(after), branchPath(access.branch), access.branch === null],
  )
  return {
    changes: rows.map(({ seq: _, ...change }) => change),
    next: String(rows.at(-1)?.seq ?? after),
    more: rows.length === AT_ONCE,
  }
}
