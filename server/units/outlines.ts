import type { BranchMap } from '#core/contract/map'
import { checkOutline, type Outline } from '#core/geography/outline'
import { branchPath, unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'
import { refusedBy } from '../refusal'
import { settings } from '../settings'

/**
 * The outlines and the facilities of a branch. Where the branch lies within a unit with an outline, as a zone in
 * its district, that one is there too.
 * @throws Refusal 403, 404
 */
export async function branchMap(access: Access, asked?: string): Promise<BranchMap> {
  const sql = await database()
  const unit = await unitAsked(access, asked)
  const { facilityLevel } = await settings()
  const outlines = await sql.query<{ code: string; name: string; geometry: Outline }>(
    `SELECT u.code, u.name, o.geometry FROM unit_latest u
     CROSS JOIN LATERAL (SELECT geometry FROM unit_outline WHERE unit = u.code ORDER BY seq DESC LIMIT 1) o
     WHERE (u.path @> $1::text[] OR u.code = ANY($2::text[])) AND o.geometry IS NOT NULL ORDER BY u.level, u.code`,
    [branchPath(unit.code), unit.path],
  )
  const places = await sql.query<BranchMap['places'][number]>(
    `SELECT l.code, u.latitude, u.longitude FROM unit_latest l JOIN unit u ON u.code = l.code
     WHERE l.level = $2 AND l.path @> $1::text[] AND u.latitude IS NOT NULL AND u.longitude IS NOT NULL ORDER BY l.code`,
    [branchPath(unit.code), facilityLevel],
  )
  return {
    unit: { code: unit.code, name: unit.name },
    outlines: outlines.map(({ code, name, geometry }) => ({ unit: { code, name }, geometry })),
    places,
  }
}

/** Writes the outline of a unit, or takes it away. @throws Refusal 403, 404, 422 `outline-…` */
export async function saveOutline(access: Access, code: string, geometry: unknown): Promise<void> {
  const unit = await unitAsked(access, code)
  const checked = geometry === null ? null : checkOutline(geometry)
  if (checked && !checked.ok) throw refusedBy(422, checked.problems, 'body/geometry')
  const sql = await database()
  await sql.query('INSERT INTO unit_outline (unit, geometry, at, person) VALUES ($1, $2, $3, $4)', [
    ...[unit.code, checked?.value ?? null, nowText(), access.id],
  ])
}
