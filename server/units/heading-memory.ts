import type { HeadingMemory } from '#core/exchange/unit-columns'
import type { Sql } from '../database'

const KEY = 'unitHeadings'
/** More headings than any list of facilities has. */
const MOST = 500

/** What was decided about the headings of earlier files. */
export async function readHeadingMemory(sql: Pick<Sql, 'query'>): Promise<HeadingMemory> {
  const [row] = await sql.query<{ value: HeadingMemory }>('SELECT value FROM setting WHERE key = $1', [KEY])
  return row?.value ?? {}
}

/**
 * Remembers headings for the next file. What was decided last about a heading counts; the oldest are
 * forgotten beyond 500.
 */
export async function saveHeadingMemory(tx: Pick<Sql, 'query'>, memory: HeadingMemory): Promise<void> {
  const known = Object.entries(await readHeadingMemory(tx)).filter(([heading]) => !(heading in memory))
  await tx.query(
    'INSERT INTO setting (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = EXCLUDED.value',
    [KEY, Object.fromEntries([...known, ...Object.entries(memory)].slice(-MOST))],
  )
}
