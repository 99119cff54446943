import { mustHold, type Access } from '../access/access'
import type { Sql } from '../database'
import { Refusal } from '../refusal'

/** Checks that a person's branch holds a unit. @throws Refusal 404 `no-unit`, 403 `outside-branch`. */
export async function mustHoldUnit(sql: Pick<Sql, 'query'>, access: Access, unit: string): Promise<void> {
  const [row] = await sql.query<{ path: string[] }>('SELECT path FROM unit_latest WHERE code = $1', [unit])
  if (!row) throw new Refusal(404, 'no-unit', 'There is no such organisation unit.')
  mustHold(access, row.path)
}
