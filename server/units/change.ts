import { v7 as uuid } from 'uuid'
import type { UnitChangeLine, UnitSource } from '#core/contract/units'
import { memoryOf } from '#core/exchange/unit-columns'
import type { UnitHistory } from '#core/geography/unit'
import { mustHold, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { lockTree } from '../database/locks'
import { conflict, notFound } from '../refusal'
import { saveHeadingMemory } from './heading-memory'
import { planSource } from './plan'
import { basisOf, readHistories, readTree, writeUnits } from './tree'

/**
 * Applies what was previewed, all of it in one transaction; refused lines are left out, as the preview said.
 * @throws Refusal 409 `units-changed` when the tree is no longer the one of the preview, `units-nothing` when
 *   nothing would change.
 */
export async function applyUnits(access: Access, source: UnitSource, basis: number): Promise<string> {
  const sql = await database()
  return sql.transaction(async tx => {
    await lockTree(tx)
    if ((await basisOf(tx)) !== basis)
      throw conflict('units-changed', 'Somebody changed the units meanwhile. Look at the preview again.')
    const { plan, columns } = await planSource(tx, access, source)
    if (plan.after.size === 0) throw conflict('units-nothing', 'Nothing would change.')
    await writeUnits(tx, plan.after)
    if (columns && source.file?.columns) await saveHeadingMemory(tx, memoryOf(columns))
    const counts: UnitChangeLine['counts'] = {}
    for (const { verdict } of plan.lines) counts[verdict] = (counts[verdict] ?? 0) + 1
    const id = uuid()
    await tx.query(
      'INSERT INTO unit_change (id, at, person, source, from_day, counts, before, after) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
      [
        id,
        nowText(),
        access.id,
        source.file?.format ?? 'hand',
        source.day,
        counts,
        Object.fromEntries([...plan.before].map(([code, unit]) => [code, unit ?? null])),
        Object.fromEntries(plan.after),
      ],
    )
    return id
  })
}

const FOREIGN_KEY = '23503'

/**
 * Turns the database's foreign-key error into a sentence: devices, cases and cards refer to units as well.
 */
async function withoutReferences(work: () => Promise<void>): Promise<void> {
  try {
    await work()
  } catch (error) {
    if ((error as { code?: string }).code !== FOREIGN_KEY) throw error
    throw conflict(
      'units-referred',
      'Something refers to one of these units by now: a device, a case, a card. Close the unit instead.',
    )
  }
}

type ChangeRow = {
  id: string
  before: Record<string, UnitHistory | null>
  after: Record<string, UnitHistory>
  undone_at: string | null
}

/**
 * Everything about a history that counts, in one order of keys: what is read back compares with what was
 * stored.
 */
const canonical = ({ spans, position }: UnitHistory): string =>
  JSON.stringify([
    spans.map(({ from, to, parent, name, level, kind }) => [from, to, parent, name, level, kind]),
    position?.latitude ?? null,
    position?.longitude ?? null,
  ])

const stands = (change: Pick<ChangeRow, 'after'>, now: ReadonlyMap<string, UnitHistory>): boolean =>
  Object.entries(change.after).every(
    ([code, unit]) => now.has(code) && canonical(now.get(code)!) === canonical(unit),
  )

/**
 * Takes a change back: every unit is again what it was before; one that was new is gone.
 * @throws Refusal 404, 409 `units-undone`, `units-changed-since`, `units-in-use` (a new unit has reports or
 *   people by now).
 */
export async function undoUnits(access: Access, id: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await lockTree(tx)
    const [change] = await tx.query<ChangeRow>(
      'SELECT id, before, after, undone_at FROM unit_change WHERE id = $1',
      [id],
    )
    if (!change) throw notFound('change')
    if (change.undone_at) throw conflict('units-undone', 'This change was taken back already.')
    const tree = await readTree(tx)
    const now = new Map(tree.units.map(unit => [unit.code, unit]))
    if (!stands(change, now))
      throw conflict('units-changed-since', 'A later change stands on this one. Take that one back first.')
    for (const [code, { spans }] of Object.entries(change.after))
      mustHold(access, tree.path(code, spans[0]!.from))
    const gone = Object.keys(change.before).filter(code => change.before[code] === null)
    const [used] = await tx.query<{ unit: string }>(
      `SELECT unit FROM (SELECT unit FROM report UNION SELECT branch FROM person WHERE branch IS NOT NULL UNION SELECT branch FROM assignment WHERE branch IS NOT NULL UNION SELECT unit FROM assignment WHERE unit IS NOT NULL UNION SELECT unit FROM unit_group_member UNION SELECT unit FROM not_offered UNION SELECT unit FROM signature
        UNION SELECT parent FROM unit_span WHERE parent IS NOT NULL AND NOT unit = ANY($1::text[])) AS used
       WHERE unit = ANY($1::text[]) LIMIT 1`,
      [gone],
    )
    if (used)
      throw conflict('units-in-use', `${used.unit} is in use by now. Close it instead.`, [
        { code: 'units-in-use', message: '', values: { unit: used.unit } },
      ])
    await withoutReferences(() => tx.savepoint(() => writeUnits(tx, new Map(Object.entries(change.before)))))
    await tx.query('UPDATE unit_change SET undone_at = $2, undone_by = $3 WHERE id = $1', [
      id,
      nowText(),
      access.id,
    ])
  })
}

const MOST_CHANGES = 30

/** The latest changes of the tree, newest first. */
export async function listUnitChanges(): Promise<UnitChangeLine[]> {
  const sql = await database()
  const rows = await sql.query<
    ChangeRow & {
      at: string
      by: string
      source: string
      day: string
      counts: UnitChangeLine['counts']
      undone_by: string | null
    }
  >(
    `SELECT c.id, c.at, p.display_name AS by, c.source, c.from_day AS day, c.counts, c.before, c.after, c.undone_at, u.display_name AS undone_by
     FROM unit_change c JOIN person p ON p.id = c.person LEFT JOIN person u ON u.id = c.undone_by ORDER BY c.seq DESC LIMIT ${MOST_CHANGES}`,
  )
  const now = await historiesNow(sql)
  return rows.map(({ id, at, by, source, day, counts, after, undone_at, undone_by }) => ({
    id,
    at,
    by,
    source,
    day,
    counts,
    undone: undone_at ? { at: undone_at, by: undone_by ?? '' } : null,
    undoable: !undone_at && stands({ after }, now),
  }))
}

const historiesNow = async (sql: Pick<Sql, 'query'>) =>
  new Map((await readHistories(sql)).map(unit => [unit.code, unit]))
