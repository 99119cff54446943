import type { SessionView } from '#core/contract/people'
import type { UnitRef } from '#core/contract/common'
import type { Access } from '../access/access'
import { branchPath } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { Refusal } from '../refusal'
import { settings } from '../settings'

/** What the screens need to know of the person who is signed in; programs see no screens. */
export async function sessionView(access: Access, tx?: Pick<Sql, 'query'>): Promise<SessionView> {
  const { role } = access
  if (role === 'machine') throw new Refusal(403, 'not-for-programs', 'Programs have no session.')
  const sql = tx ?? (await database())
  const { installation, timeZone, districtLevel } = await settings(sql)
  const above = await sql.query<UnitRef & { level: number }>(
    `SELECT a.code, a.name, a.level FROM unit_latest own JOIN unit_latest a ON a.code = ANY(own.path)
     WHERE own.code = $1 ORDER BY a.level`,
    [access.branch],
  )
  const own = above.at(-1)
  const districts = await sql.query<UnitRef>(
    'SELECT code, name FROM unit_latest WHERE level = $1 AND path @> $2::text[] ORDER BY name',
    [districtLevel, branchPath(access.branch)],
  )
  return {
    person: {
      ...{ id: access.id, userName: access.userName, displayName: access.displayName, role },
      ...{
        without: [...access.without] as SessionView['person']['without'],
        isLimited: access.sharing !== null,
      },
    },
    branch: own
      ? {
          unit: { code: own.code, name: own.name },
          level: own.level,
          above: above.slice(0, -1).map(({ code, name }) => ({ code, name })),
        }
      : null,
    districts,
    installation,
    timeZone,
    now: nowText(),
  }
}
