import type { ConflictSides, OpenConflict, Standing, Theirs } from '#core/contract/reports'
import type { CellContent } from '#core/report/cell'
import { groupBy } from '#core/group-by'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { reportPlace } from './place'

/** So many of one report are shown. */
const MOST_CONFLICTS = 500

/** What came from other devices against the values of some reports, and nobody has decided; oldest first. */
export async function openConflicts(
  sql: Pick<Sql, 'query'>,
  reports: readonly number[],
): Promise<(report: number) => OpenConflict[]> {
  const rows = await sql.query<OpenConflict & { report: number }>(
    `SELECT c.report, c.id, c.cell, c.content, p.display_name AS by, d.name AS device, c.at
     FROM unnest($1::bigint[]) AS w (report) CROSS JOIN LATERAL (SELECT * FROM field_conflict f
       WHERE f.report = w.report AND f.settled_at IS NULL ORDER BY f.at, f.id LIMIT ${MOST_CONFLICTS}) c
     JOIN person p ON p.id = c.person LEFT JOIN device d ON d.id = c.device ORDER BY c.at, c.id`,
    [reports],
  )
  const byReport = groupBy(rows, ({ report }) => report)
  return report => (byReport.get(report) ?? []).map(({ report: _, ...conflict }) => conflict)
}

/** Who put what stands in some cells of a report, on which device and when; none for a cell never answered. */
const standingIn = (sql: Pick<Sql, 'query'>, report: number, cells: readonly string[]): Promise<Standing[]> =>
  sql.query<Standing>(
    `SELECT DISTINCT ON (e.cell) e.cell, coalesce(p.display_name, '') AS by, d.name AS device, e.at
     FROM cell_event e LEFT JOIN person p ON p.id = e.person
       LEFT JOIN received_change r ON r.id = e.id LEFT JOIN device d ON d.id = r.device
     WHERE e.report = $1 AND e.cell = ANY($2::text[]) ORDER BY e.cell, e.seq DESC`,
    [report, cells],
  )

/** The open conflicts of a report beside what stands in their cells. @throws Refusal 403, 404 */
export async function conflictSides(access: Access, round: string, unit: string): Promise<ConflictSides> {
  const sql = await database()
  const { report } = await reportPlace(sql, access, round, unit)
  if (!report) return { conflicts: [], standing: [] }
  const conflicts = (await openConflicts(sql, [report.id]))(report.id)
  const cells = conflicts.map(({ cell }) => cell)
  return { conflicts, standing: await standingIn(sql, report.id, cells) }
}

/** Settles the conflicts that a person saw and decided by the content of a change. Other conflicts stay open. */
export async function settleConflicts(
  sql: Sql,
  report: number,
  access: Access,
  changes: readonly { id: string; cell: string; settles?: readonly string[] }[],
  at: string,
): Promise<void> {
  const settled = changes.flatMap(({ id, cell, settles = [] }) =>
    settles.map(conflict => ({ conflict, cell, id })),
  )
  if (!settled.length) return
  await sql.query(
    `UPDATE field_conflict c SET settled_at = $1, settled_by = $2, settled_with = g.id
     FROM unnest($3::uuid[], $4::text[], $5::uuid[]) AS g (conflict, cell, id)
     WHERE c.id = g.conflict AND c.cell = g.cell AND c.report = $6 AND c.settled_at IS NULL`,
    [
      at,
      access.id,
      settled.map(({ conflict }) => conflict),
      settled.map(({ cell }) => cell),
      settled.map(({ id }) => id),
      report,
    ],
  )
}

/** A change that wrote no event. */
export interface OtherChange {
  id: string
  cell: string
  content: CellContent
  outcome: 'same' | 'conflict'
  /** The change that stands in its place. */
  standsFor: string
  /** What stood in the cell. */
  here: CellContent
}

/** Stores what wrote no event, so that it is known when it comes again; of a conflict, both sides. */
export async function writeOthers(
  sql: Sql,
  report: number,
  access: Access,
  others: readonly OtherChange[],
  { at, device }: { at: string; device: string | null },
): Promise<void> {
  if (!others.length) return
  await sql.query(
    `INSERT INTO known_change (id, stands_for, outcome, at, device)
     SELECT id, stands_for, outcome, $1, $2 FROM unnest($3::uuid[], $4::uuid[], $5::text[]) AS g (id, stands_for, outcome)`,
    [
      at,
      device,
      others.map(({ id }) => id),
      others.map(({ standsFor }) => standsFor),
      others.map(({ outcome }) => outcome),
    ],
  )
  const conflicts = others.filter(({ outcome }) => outcome === 'conflict')
  if (!conflicts.length) return
  await sql.query(
    `INSERT INTO field_conflict (id, report, cell, content, here, person, device, at)
     SELECT id, $1, cell, content::jsonb, here::jsonb, $2, $3, $4
     FROM unnest($5::uuid[], $6::text[], $7::text[], $8::text[]) AS g (id, cell, content, here)`,
    [
      report,
      access.id,
      device,
      at,
      conflicts.map(({ id }) => id),
      conflicts.map(({ cell }) => cell),
      conflicts.map(({ content }) => JSON.stringify(content)),
      conflicts.map(({ here }) => JSON.stringify(here)),
    ],
  )
}

/** What stands in cells, and who put it: for the person whose change is in conflict. By cell. */
export async function theirsOf(
  sql: Sql,
  report: number,
  contents: ReadonlyMap<string, CellContent>,
  at: string,
): Promise<Map<string, Theirs>> {
  if (!contents.size) return new Map()
  const rows = await standingIn(sql, report, [...contents.keys()])
  const last = new Map(rows.map(row => [row.cell, row]))
  return new Map(
    [...contents].map(([cell, content]) => [
      cell,
      { content, by: last.get(cell)?.by ?? '', at: last.get(cell)?.at ?? at },
    ]),
  )
}
