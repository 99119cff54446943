import { branchPath } from '../access/access'
import type { Parameter, Sql } from '../database'

/** A unit that a round expects, as it was in the round's period. */
export interface ExpectedUnit {
  code: string
  name: string
  /** The path at the end of the period, or on the unit's last day in it. */
  path: string[]
  zone: string
  zoneName: string
  kind: string
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
 * For queries: the units that the rounds of `parametersOf` expect within its branch.
 * @param among a condition on the round `r` and the span `s`: of which units it is asked
 * @param looksInto what the condition looks into, as a part of WITH
 */
const expectedAmong = (among: string, looksInto = '') => `WITH asked AS (
    SELECT * FROM unnest($1::text[], $2::text[], $3::date[], $4::date[]) AS r (round, dataset, first_day, last_day)),
  ${looksInto}
  in_period AS (
    SELECT DISTINCT ON (r.round, s.unit) r.*, s.unit AS code, s.name, s.path, s.parent, s.level, s.kind
    FROM asked r
    JOIN unit_span s ON s.from_day <= r.last_day AND (s.to_day IS NULL OR s.to_day > r.first_day)
    WHERE ${among}
    ORDER BY r.round, s.unit, s.from_day DESC),
  expected AS (
    SELECT e.* FROM in_period e WHERE e.path @> $5::text[] AND EXISTS (
      SELECT 1 FROM assignment a WHERE a.dataset = e.dataset AND ${assigned('e', 'e.first_day', 'e.last_day')}))`

/** Those that were ever in the branch: the others are left out first, whatever the size of the tree. */
const IN_BRANCH = 's.unit IN (SELECT b.unit FROM unit_span b WHERE b.path @> $5::text[])'

const parametersOf = (rounds: readonly RoundSpan[], branch: string | null): Parameter[] => [
  rounds.map(({ id }) => id),
  rounds.map(({ dataset }) => dataset),
  rounds.map(({ firstDay }) => firstDay),
  rounds.map(({ lastDay }) => lastDay),
  branchPath(branch),
]

/**
 * The units that some rounds expect within a branch: those that the dataset is assigned to and that were open
 * on any day of the period. A unit that moved or closed in the period counts where it was last.
 *
 * @returns by the round's id, in the order of zones and names; a round that expects none has an empty list.
 */
export const expectedUnitsOf = (
  sql: Pick<Sql, 'query'>,
  rounds: readonly RoundSpan[],
  branch: string | null,
): Promise<Map<string, ExpectedUnit[]>> => expectedIn(sql, rounds, IN_BRANCH, parametersOf(rounds, branch))

/** Those of some units that some rounds expect, by the round's id. */
export const expectedOf = (
  sql: Pick<Sql, 'query'>,
  rounds: readonly RoundSpan[],
  units: readonly string[],
): Promise<Map<string, ExpectedUnit[]>> =>
  expectedIn(sql, rounds, 's.unit = ANY($6::text[])', [...parametersOf(rounds, null), units])

async function expectedIn(
  sql: Pick<Sql, 'query'>,
  rounds: readonly RoundSpan[],
  among: string,
  parameters: readonly Parameter[],
): Promise<Map<string, ExpectedUnit[]>> {
  const rows = await sql.query<ExpectedUnit & { round: string }>(
    `${expectedAmong(among)}
     SELECT e.round, e.code, e.name, e.path, e.kind, z.unit AS zone, z.name AS "zoneName"
     FROM expected e
     -- A unit at the top has nothing above it and stands for itself.
     JOIN LATERAL (
       SELECT unit, name FROM unit_span p
       WHERE p.unit = coalesce(e.parent, e.code) AND p.from_day <= e.last_day
       ORDER BY p.from_day DESC LIMIT 1) z ON true
     ORDER BY z.name, e.name`,
    parameters,
  )
  const expected = new Map<string, ExpectedUnit[]>(rounds.map(({ id }) => [id, []]))
  for (const { round, ...unit } of rows) expected.get(round)!.push(unit)
  return expected
}

/**
 * Just the codes of the units that some rounds expect within a branch and that have not begun a report, by the
 * round's id. A report that was begun says by itself whether its unit is expected, and where (`report.path`).
 */
export async function awaitedCodesOf(
  sql: Pick<Sql, 'query'>,
  rounds: readonly RoundSpan[],
  branch: string | null,
): Promise<Map<string, string[]>> {
  const branchUnits =
    'branch_units AS MATERIALIZED (SELECT DISTINCT unit FROM unit_span WHERE path @> $5::text[]),'
  // The lists of rounds and of units once more: else the reports of all rounds there ever were are read, or those of
  // all districts.
  const isAwaited = `s.unit IN (SELECT unit FROM branch_units) AND NOT EXISTS (
    SELECT 1 FROM report p WHERE p.round = ANY($1::text[]) AND p.unit = ANY(ARRAY(SELECT unit FROM branch_units))
      AND p.round = r.round AND p.unit = s.unit)`
  const rows = await sql.query<{ round: string; codes: string[] }>(
    `${expectedAmong(isAwaited, branchUnits)} SELECT round, array_agg(code ORDER BY code) AS codes FROM expected GROUP BY round`,
    parametersOf(rounds, branch),
  )
  const codes = new Map(rows.map(row => [row.round, row.codes]))
  return new Map(rounds.map(({ id }) => [id, codes.get(id) ?? []]))
}

/** The units that one round expects within a branch. */
export const expectedUnits = async (
  sql: Pick<Sql, 'query'>,
  round: RoundSpan,
  branch: string | null,
): Promise<ExpectedUnit[]> => (await expectedUnitsOf(sql, [round], branch)).get(round.id)!
