import type { ExtractMaker, ExtractMakers, ExtractMakersQuery } from '#core/contract/extracts'
import { searchWords } from '#core/form/code'
import { branchPath, type Access } from '../access/access'
import { database } from '../database'
import { standIn } from '../database/patterns'

/** So many of each are offered: who needs others types more of the name. */
const MOST = 12

/** The people and the devices of a branch by their names, or the one of an identifier. */
export async function listMakers(
  access: Access,
  { find = '', id }: ExtractMakersQuery,
): Promise<ExtractMakers> {
  const sql = await database()
  const named = (table: string, name: string, text: string) => {
    const { condition, patterns } = standIn(text, searchWords(find), 3)
    return sql.query<ExtractMaker>(
      `SELECT m.id, ${name} AS name, u.name AS unit FROM ${table}
       WHERE u.path @> $1::text[] AND ($2::uuid IS NULL OR m.id = $2) AND ${condition}
       ORDER BY ${name}, m.id LIMIT ${MOST}`,
      [branchPath(access.branch), id ?? null, ...patterns],
    )
  }
  return {
    people: await named(
      'person m JOIN unit_latest u ON u.code = m.branch',
      'm.display_name',
      `(m.search_text || ' ' || u.search_text)`,
    ),
    devices: await named(
      'device m JOIN unit_latest u ON u.code = m.unit',
      'm.name',
      `(lower(m.name) || ' ' || u.search_text)`,
    ),
  }
}
