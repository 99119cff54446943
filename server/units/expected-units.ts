import { branchPath } from '../access/access'
import type { Sql } from '../database'

/** A unit that a round expects, as it was in the round's period. */
export interface ExpectedUnit {
  code: string
  name: string
  /** The path at the end of the period, or on the unit's last day in it. */
  path: string[]
  zone: string
  zoneName: string
}

/**
 * The condition that an assignment `a` is of a unit (an alias with code, level and path) on some day from the
 * first to the last: by level, by branch, by group, or the unit itself. The same as core's `expectedUnits`,
 * for queries.
 */
export const assigned = (unit: string, first: string, last: string): string =>
  `a.from_day <= ${last} AND (a.to_day IS NULL OR a.to_day > ${first})
    AND (a.level IS NULL OR a.level = ${unit}.level)
    AND (a.branch IS NULL OR a.branch = ANY(${unit}.path))
    AND (a.unit IS NULL OR a.unit = ${unit}.code)
    AND (a.unit_group IS NULL OR EXISTS (SELECT 1 FROM unit_group_member m
      WHERE m.unit_group = a.unit_group AND m.unit = ${unit}.code AND m.from_day <= ${last} AND (m.to_day IS NULL OR m.to_day > ${first})))`

/** What of a round says which units it expects. */
export interface RoundSpan {
  id: string
  dataset: string
  firstDay: string
  lastDay: string
}

/**
 * The units that some rounds expect within a branch: those that the dataset is assigned to and that were open
 * on any day of the period. A unit that moved or closed in the period counts where it was last.
 *
 * @returns by the round's id, in the order of zones and names; a round that expects none has an empty list.
 */
export async function expectedUnitsOf(
  sql: Pick<Sql, 'query'>,
  rounds: readonly RoundSpan[],
  branch: string | null,
): Promise<Map<string, ExpectedUnit[]>> {
  const rows = await sql.query<ExpectedUnit & { round: string }>(
    `WITH asked AS (
       SELECT * FROM unnest($1::text[], $2::text[], $3::date[], $4::date[]) AS r (round, dataset, first_day, last_day)),
     in_period AS (
       SELECT DISTINCT ON (r.round, s.unit) r.*, s.unit AS code, s.name, s.path, s.parent, s.level
       FROM asked r
       JOIN unit_span s ON s.from_day <= r.last_day AND (s.to_day IS NULL OR s.to_day > r.first_day)
       ORDER BY r.round, s.unit, s.from_day DESC)
     SELECT e.round, e.code, e.name, e.path, z.unit AS zone, z.name AS "zoneName"
     FROM in_period e
     -- A unit at the top has nothing above it and stands for itself.
     JOIN LATERAL (
       SELECT unit, name FROM unit_span p
       WHERE p.unit = coalesce(e.parent, e.code) AND p.from_day <= e.last_day
       ORDER BY p.from_day DESC LIMIT 1) z ON true
     WHERE e.path @> $5::text[]
       AND EXISTS (
         SELECT 1 FROM assignment a WHERE a.dataset = e.dataset AND ${assigned('e', 'e.first_day', 'e.last_day')})
     ORDER BY z.name, e.name`,
    [
      rounds.map(({ id }) => id),
      rounds.map(({ dataset }) => dataset),
      rounds.map(({ firstDay }) => firstDay),
      rounds.map(({ lastDay }) => lastDay),
      branchPath(branch),
    ],
  )
  const expected = new Map<string, ExpectedUnit[]>(rounds.map(({ id }) => [id, []]))
  for (const { round, ...unit } of rows) expected.get(round)!.push(unit)
  return expected
}

/** The units that one round expects within a branch. */
export const expectedUnits = async (
  sql: Pick<Sql, 'query'>,
  round: RoundSpan,
  branch: string | null,
): Promise<ExpectedUnit[]> => (await expectedUnitsOf(sql, [round], branch)).get(round.id)!
