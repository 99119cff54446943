import { parseDay } from '#core/calendar/day'
import type { GroupMember, UnitGroupLine } from '#core/contract/units'
import type { UnitGroup } from '#core/geography/expected-units'
import type { Words } from '#core/report/edition'
import { must } from '#core/result'
import { mustHold, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { lockTree } from '../database/locks'
import { Refusal } from '../refusal'
import { placeReports } from './latest'

/** All groups with their members, for finding who is expected. */
export async function readGroups(sql: Pick<Sql, 'query'>): Promise<UnitGroup[]> {
  return (await listed(sql)).map(({ code, members }) => ({
    code,
    members: members.map(({ unit, from, to }) => ({
      unit,
      from: must(parseDay(from)),
      to: to === null ? null : must(parseDay(to)),
    })),
  }))
}

async function listed(sql: Pick<Sql, 'query'>): Promise<UnitGroupLine[]> {
  const groups = await sql.query<{ code: string; name: Words }>(
    'SELECT code, name FROM unit_group ORDER BY code',
  )
  const members = await sql.query<{ unit_group: string } & GroupMember>(
    'SELECT unit_group, unit, from_day AS "from", to_day AS "to" FROM unit_group_member ORDER BY unit, from_day',
  )
  return groups.map(({ code, name }) => ({
    code,
    name,
    members: members
      .filter(member => member.unit_group === code)
      .map(({ unit, from, to }) => ({ unit, from, to })),
  }))
}

/** Groups of units; only the members that the person may see. */
export async function listGroups(access: Access): Promise<UnitGroupLine[]> {
  const sql = await database()
  const groups = await listed(sql)
  if (access.branch === null) return groups
  const seen = new Set(
    (
      await sql.query<{ code: string }>('SELECT code FROM unit_latest WHERE $1 = ANY(path)', [access.branch])
    ).map(({ code }) => code),
  )
  return groups.map(group => ({ ...group, members: group.members.filter(({ unit }) => seen.has(unit)) }))
}

/**
 * Makes a group, or writes it anew. @throws Refusal 422 `no-unit`, `group-days`, 403 when a member that comes
 * or goes lies outside the branch.
 */
export async function saveGroup(
  access: Access,
  code: string,
  { name, members }: { name: Words; members: GroupMember[] },
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await lockTree(tx)
    const before = await tx.query<{ unit: string }>(
      'SELECT unit FROM unit_group_member WHERE unit_group = $1',
      [code],
    )
    const named = [...new Set([...members, ...before].map(({ unit }) => unit))]
    const rows = await tx.query<{ path: string[] }>(
      'SELECT path FROM unit_latest WHERE code = ANY($1::text[])',
      [named],
    )
    if (rows.length < named.length) throw new Refusal(422, 'no-unit', 'There is no such organisation unit.')
    rows.forEach(({ path }) => mustHold(access, path))
    if (members.some(({ from, to }) => to !== null && to <= from))
      throw new Refusal(422, 'group-days', 'A member leaves after it came.')
    await tx.query(
      'INSERT INTO unit_group (code, name) VALUES ($1, $2) ON CONFLICT (code) DO UPDATE SET name = EXCLUDED.name',
      [code, name],
    )
    await tx.query('DELETE FROM unit_group_member WHERE unit_group = $1', [code])
    for (const { unit, from, to } of members)
      await tx.query(
        'INSERT INTO unit_group_member (unit_group, unit, from_day, to_day) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING',
        [code, unit, from, to],
      )
    await placeReports(tx, 'r.dataset IN (SELECT dataset FROM assignment WHERE unit_group = $1)', [code])
  })
}
