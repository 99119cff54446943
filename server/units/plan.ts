import type { UnitPreview, UnitSource } from '#core/contract/units'
import type { Access } from '../access/access'
import { database, type Sql } from '../database'
import { runHeavy } from '../threads/run-heavy'
import { readHeadingMemory } from './heading-memory'
import { planUnits, type UnitPlanned } from './plan-work'
import { basisOf, readHistories } from './tree'

/**
 * Plans the changes of a source on the tree as it stands. @throws Refusal 403 when a unit would lie, or lies,
 * outside the person's branch.
 */
export async function planSource(
  sql: Pick<Sql, 'query'>,
  access: Access,
  source: UnitSource,
  lenient = false,
): Promise<UnitPlanned> {
  return runHeavy('planUnits', planUnits, {
    histories: await readHistories(sql),
    source,
    branch: access.branch,
    memory: await readHeadingMemory(sql),
    lenient,
  })
}

/**
 * What the changes touch: reports from the day on of the units that change and of all below them, and
 * signatures of those rounds.
 */
async function touchedBy(
  sql: Pick<Sql, 'query'>,
  touched: readonly string[],
  day: string,
): Promise<UnitPreview['touched']> {
  const [row] = await sql.query<UnitPreview['touched']>(
    `SELECT (SELECT count(*) FROM report r JOIN round o ON o.id = r.round WHERE o.last_day >= $2 AND r.unit = ANY($1::text[])) AS reports,
            (SELECT count(DISTINCT (s.round, s.unit)) FROM signature s JOIN round o ON o.id = s.round JOIN report r ON r.round = o.id
             JOIN unit_span p ON p.unit = r.unit AND p.from_day <= o.last_day AND (p.to_day IS NULL OR p.to_day > o.first_day) AND s.unit = ANY(p.path)
             WHERE o.last_day >= $2 AND r.unit = ANY($1::text[])) AS signed`,
    [touched, day],
  )
  return row!
}

/** Says, line by line, what a source would do. Changes nothing. */
export async function previewUnits(access: Access, source: UnitSource): Promise<UnitPreview> {
  const sql = await database()
  const { plan, touched, passedOver, columns } = await planSource(sql, access, source, true)
  const counts: UnitPreview['counts'] = {}
  for (const { verdict } of plan.lines) counts[verdict] = (counts[verdict] ?? 0) + 1
  return {
    day: source.day,
    basis: await basisOf(sql),
    counts,
    lines: plan.lines,
    touched: await touchedBy(sql, touched, source.day),
    passedOver,
    columns,
  }
}
