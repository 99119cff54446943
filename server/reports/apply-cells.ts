import type { ChangeOutcome } from '#core/contract/reports'
import { BLANK, checkNumber, sameContent, type CellContent, type CellKind } from '#core/report/cell'
import { decide, type KnownChange } from '#core/sync/decide'
import type { Field } from '#core/sync/change'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { columnsOf, contentOf } from './cells'
import type { ReportPlace, ReportRow } from './place'

/** A change of a cell as a device made it. */
export interface CellAsked {
  id: string
  cell: string
  base: number
  /** The change of the same device that it was made on, while that one was not confirmed. */
  after?: string
  content: CellContent
  why?: string
  /** The conflicts that the person saw and decides with this content. */
  settles?: readonly string[]
}

interface Known extends KnownChange {
  conflict: boolean
}

/** What is known of some changes: those that wrote an event stand for themselves. */
async function knownChanges(sql: Sql, ids: readonly string[]): Promise<Map<string, Known>> {
  const rows = await sql.query<{ id: string; stands_for: string; conflict: boolean }>(
    `SELECT id, id AS stands_for, false AS conflict FROM cell_event WHERE id = ANY($1::uuid[])
     UNION ALL SELECT id, stands_for, outcome = 'conflict' FROM known_change WHERE id = ANY($1::uuid[])`,
    [ids],
  )
  return new Map(rows.map(row => [row.id, { standsFor: row.stands_for, conflict: row.conflict }]))
}

/** How long devices have to bring back what a restore lost: as long as they keep what they sent. */
const DAYS_TO_SEND_AGAIN = 35

async function wasRestoredLately(sql: Sql): Promise<boolean> {
  const rows = await sql.query(
    'SELECT 1 FROM incarnation WHERE backup IS NOT NULL AND since > $1::timestamptz - make_interval(days => $2)',
    [nowText(), DAYS_TO_SEND_AGAIN],
  )
  return rows.length > 0
}

async function fieldsOf(
  sql: Sql,
  report: number,
  cells: readonly string[],
): Promise<Map<string, Field<CellContent>>> {
  const rows = await sql.query<{
    cell: string
    kind: CellKind
    value: number | null
    reason: string | null
    version: number
    last: string
  }>(
    `SELECT v.cell, v.kind, v.value, v.reason, v.version, (SELECT e.id FROM cell_event e WHERE e.report = v.report AND e.cell = v.cell ORDER BY e.seq DESC LIMIT 1) AS last
     FROM cell_value v WHERE v.report = $1 AND v.cell = ANY($2::text[])`,
    [report, cells],
  )
  return new Map(
    rows.map(({ cell, kind, value, reason, version, last }) => [
      cell,
      { content: contentOf(kind, value, reason), version, last },
    ]),
  )
}

/**
 * Applies changes of one report's cells by core's one rule of merging (docs/decisions/0010): read once,
 * decided in
 * memory in the order in which they were made, written in a few statements. Each has its own outcome: if one
 * is rejected or in conflict, the others are still applied. A change that was applied before changes nothing
 * more.
 * @param where what the events say of where they are from.
 */
export async function applyCells(
  sql: Sql,
  place: ReportPlace,
  report: ReportRow,
  access: Access,
  changes: readonly CellAsked[],
  where: { origin: string; device?: string },
): Promise<ChangeOutcome[]> {
  const fields = await fieldsOf(sql, report.id, [...new Set(changes.map(({ cell }) => cell))])
  const known = await knownChanges(
    sql,
    changes.flatMap(({ id, after }) => (after ? [id, after] : [id])),
  )
  const restored = await wasRestoredLately(sql)
  const at = nowText()
  const events: { change: CellAsked; old: CellContent }[] = []
  const others: { change: CellAsked; standsFor: string; outcome: 'same' | 'conflict' }[] = []
  const written = new Set<string>()
  /** Changes whose content stands in the cell now: only these decide a conflict. */
  const settling = new Set<string>()
  const taken: ChangeOutcome[] = []
  for (const change of changes) {
    const { id, cell, content } = change
    const field = fields.get(cell)
    const note = (outcome: ChangeOutcome['outcome'], more: Partial<ChangeOutcome> = {}) =>
      taken.push({ id, cell, outcome, version: fields.get(cell)?.version ?? 0, ...more })
    const definition = place.ready.cellByKey.get(cell)
    if (!definition) {
      note('refused', { code: 'cell-unknown', message: `This edition has no cell ${cell}.` })
      continue
    }
    const checked = content.kind === 'value' ? checkNumber(content.value, definition.item.number) : undefined
    if (checked && !checked.ok) {
      note('refused', { code: checked.problems[0]!.code, message: checked.problems[0]!.message })
      continue
    }
    const decision = decide(change, field, one => known.get(one), sameContent, restored)
    if (decision === 'early') note('early')
    else if (decision === 'repeat') note(known.get(id)!.conflict ? 'conflict' : 'alreadyHad')
    else if (decision === 'same') {
      known.set(id, { standsFor: field!.last, conflict: false })
      others.push({ change, standsFor: field!.last, outcome: 'same' })
      settling.add(id)
      note('alreadyHad')
    } else if (decision === 'conflict') {
      known.set(id, { standsFor: id, conflict: true })
      others.push({ change, standsFor: id, outcome: 'conflict' })
      note('conflict')
    } else {
      known.set(id, { standsFor: id, conflict: false })
      events.push({ change, old: field?.content ?? BLANK })
      fields.set(cell, { content, version: (field?.version ?? 0) + 1, last: id })
      written.add(cell)
      settling.add(id)
      note('received')
    }
  }
  await writeEvents(sql, report.id, access, events, where.origin, at)
  await writeFields(
    sql,
    report.id,
    [...written].map(cell => [cell, fields.get(cell)!] as const),
  )
  await settleConflicts(
    sql,
    report.id,
    access,
    changes.filter(({ id }) => settling.has(id)),
    at,
  )
  await writeOthers(sql, report.id, access, others, fields, where.device ?? null, at)
  await nameTheirs(sql, report.id, taken, fields, at)
  return taken
}

async function writeEvents(
  sql: Sql,
  report: number,
  access: Access,
  events: readonly { change: CellAsked; old: CellContent }[],
  origin: string,
  at: string,
): Promise<void> {
  if (!events.length) return
  await sql.query(
    `INSERT INTO cell_event (id, report, cell, at, person, origin, old, new, why)
     SELECT id, $1, cell, $2, $3, $4, old::jsonb, new::jsonb, why FROM unnest($5::uuid[], $6::text[], $7::text[], $8::text[], $9::text[]) AS given (id, cell, old, new, why)`,
    [
      report,
      at,
      access.id,
      origin,
      events.map(({ change }) => change.id),
      events.map(({ change }) => change.cell),
      events.map(({ old }) => JSON.stringify(old)),
      events.map(({ change }) => JSON.stringify(change.content)),
      events.map(({ change }) => change.why ?? null),
    ],
  )
}

async function writeFields(
  sql: Sql,
  report: number,
  fields: readonly (readonly [string, Field<CellContent>])[],
): Promise<void> {
  if (!fields.length) return
  const columns = fields.map(([, { content }]) => columnsOf(content))
  await sql.query(
    `INSERT INTO cell_value (report, cell, kind, value, reason, version)
     SELECT $1, cell, kind, value, reason, version FROM unnest($2::text[], $3::text[], $4::float8[], $5::text[], $6::int[]) AS given (cell, kind, value, reason, version)
     ON CONFLICT (report, cell) DO UPDATE SET kind = EXCLUDED.kind, value = EXCLUDED.value, reason = EXCLUDED.reason, version = EXCLUDED.version`,
    [
      report,
      fields.map(([cell]) => cell),
      columns.map(([kind]) => kind),
      columns.map(([, value]) => value),
      columns.map(([, , reason]) => reason),
      fields.map(([, { version }]) => version),
    ],
  )
}

/**
 * Settles the conflicts that a person saw and decided by the content of a change. Other conflicts stay open.
 */
async function settleConflicts(
  sql: Sql,
  report: number,
  access: Access,
  changes: readonly CellAsked[],
  at: string,
): Promise<void> {
  for (const { id, cell, settles } of changes) {
    if (!settles?.length) continue
    await sql.query(
      `UPDATE field_conflict SET settled_at = $4, settled_by = $5, settled_with = $6
       WHERE id = ANY($1::uuid[]) AND report = $2 AND cell = $3 AND settled_at IS NULL`,
      [settles, report, cell, at, access.id, id],
    )
  }
}

/**
 * What wrote no event is remembered, so that it is known when it comes again; both sides of a conflict are
 * kept.
 */
async function writeOthers(
  sql: Sql,
  report: number,
  access: Access,
  others: readonly { change: CellAsked; standsFor: string; outcome: 'same' | 'conflict' }[],
  fields: ReadonlyMap<string, Field<CellContent>>,
  device: string | null,
  at: string,
): Promise<void> {
  for (const { change, standsFor, outcome } of others) {
    await sql.query(
      'INSERT INTO known_change (id, stands_for, outcome, at, device) VALUES ($1, $2, $3, $4, $5)',
      [change.id, standsFor, outcome, at, device],
    )
    if (outcome === 'conflict') {
      await sql.query(
        'INSERT INTO field_conflict (id, report, cell, content, here, person, device, at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
        [
          change.id,
          report,
          change.cell,
          change.content,
          fields.get(change.cell)?.content ?? BLANK,
          access.id,
          device,
          at,
        ],
      )
    }
  }
}

/** Says of each conflict what stands there, and who put it. */
async function nameTheirs(
  sql: Sql,
  report: number,
  taken: ChangeOutcome[],
  fields: ReadonlyMap<string, Field<CellContent>>,
  at: string,
): Promise<void> {
  for (const one of taken) {
    if (one.outcome !== 'conflict') continue
    const [last] = await sql.query<{ by: string; at: string }>(
      `SELECT coalesce(p.display_name, '') AS by, e.at FROM cell_event e LEFT JOIN person p ON p.id = e.person WHERE e.report = $1 AND e.cell = $2 ORDER BY e.seq DESC LIMIT 1`,
      [report, one.cell],
    )
    one.theirs = { content: fields.get(one.cell)?.content ?? BLANK, by: last?.by ?? '', at: last?.at ?? at }
  }
}
