import { fold } from '#core/form/code'
import type { Sql } from '../database'

/** What a search looks in, of a person. */
export const personSearchText = ({
  displayName,
  userName,
}: {
  displayName: string
  userName: string
}): string => fold(`${displayName} ${userName}`)

/** Writes the search texts of people that a migration could not: folding accents is ours, not the database's. */
export async function completePeople(sql: Pick<Sql, 'query'>): Promise<void> {
  const rows = await sql.query<{ id: string; displayName: string; userName: string }>(
    `SELECT id, display_name AS "displayName", user_name AS "userName" FROM person WHERE search_text = ''`,
  )
  if (!rows.length) return
  await sql.query(
    'UPDATE person p SET search_text = g.text FROM unnest($1::uuid[], $2::text[]) AS g (id, text) WHERE p.id = g.id',
    [rows.map(({ id }) => id), rows.map(personSearchText)],
  )
}
