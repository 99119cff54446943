import type { Sql } from './database'
import { DatabaseUnusable } from './server-errors'

const OLDEST = 15

/** What a server says when it does not let us in. The address may hold a password: it is never repeated. */
const REFUSED: Record<string, string> = {
  '28P01': 'The PostgreSQL server refuses the user or the password of DATABASE_URL.',
  '28000': 'The PostgreSQL server does not let the user of DATABASE_URL in (pg_hba.conf).',
  '3D000':
    'The PostgreSQL server has no database of the name in DATABASE_URL. Make one: createdb --template=template0 --locale=C.UTF-8 --owner=lantern lantern',
  '42501': 'The user of DATABASE_URL may not make tables in this database: it must own the database.',
}

/**
 * Checks that an installation can live in a database: PostgreSQL 15 or newer, UTF-8, texts in the order of
 * their characters as on the embedded engine, and the right to make tables.
 * @throws DatabaseUnusable with what to do; what the connection throws.
 */
export async function mustBeUsable(query: Sql['query']): Promise<void> {
  const [server] = await query<{ version: number; encoding: string; order: string; mayMake: boolean }>(
    `SELECT current_setting('server_version_num')::int / 10000 AS version, pg_encoding_to_char(encoding) AS encoding,
       coalesce(datcollate, '') AS "order", has_database_privilege(datname, 'CREATE') AND has_schema_privilege(current_schema(), 'CREATE') AS "mayMake"
     FROM pg_database WHERE datname = current_database()`,
  ).catch((error: unknown) => {
    const message = REFUSED[String((error as { code?: unknown }).code)]
    throw message ? new DatabaseUnusable(message) : error
  })
  const { version, encoding, order, mayMake } = server!
  if (version < OLDEST)
    throw new DatabaseUnusable(`This is PostgreSQL ${version}. Eastward Lantern needs ${OLDEST} or newer.`)
  if (encoding !== 'UTF8' || !/^C(\.utf-?8)?$|^POSIX$/i.test(order))
    throw new DatabaseUnusable(
      `This database has the encoding ${encoding} and the order of ${order}. It must have UTF8 and C.UTF-8: createdb --template=template0 --encoding=UTF8 --locale=C.UTF-8`,
    )
  if (!mayMake) throw new DatabaseUnusable(REFUSED['42501']!)
}
