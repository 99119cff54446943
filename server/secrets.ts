import { randomBytes } from 'node:crypto'
import { database, type Sql } from './database'

/**
 * A secret of this installation, which never leaves the server. It is made when it is first needed; of
 * several processes that make it at once the first one's stands.
 * @example await secretOf(sql, 'sessionKey', () => randomBytes(32).toString('hex'))
 */
export async function secretOf<T>(
  sql: Pick<Sql, 'query'>,
  key: string,
  make: () => T | Promise<T>,
): Promise<T> {
  const read = () => sql.query<{ value: T }>('SELECT value FROM secret WHERE key = $1', [key])
  const [row] = await read()
  if (row) return row.value
  await sql.query('INSERT INTO secret (key, value) VALUES ($1, $2::jsonb) ON CONFLICT (key) DO NOTHING', [
    key,
    JSON.stringify(await make()),
  ])
  return (await read())[0]!.value
}

/**
 * Gives the process the key that seals sessions, where its environment brings none: all processes of one
 * installation must have the same.
 */
export async function ensureSessionKey(): Promise<void> {
  process.env.NUXT_SESSION_PASSWORD ||= await secretOf(await database(), 'sessionKey', () =>
    randomBytes(32).toString('hex'),
  )
}
