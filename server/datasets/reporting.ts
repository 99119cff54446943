import { parseDay, printDay } from '#core/calendar/day'
import { periodOfDay } from '#core/calendar/period'
import type { DraftReporting, DraftReports, ReportsLine } from '#core/contract/drafts'
import { expectedUnits, type Assignment, type UnitGroup } from '#core/geography/expected-units'
import type { UnitTree } from '#core/geography/unit-tree'
import { must } from '#core/result'
import { mustHold, type Access } from '../access/access'
import type { Sql } from '../database'
import { Refusal } from '../refusal'
import { readGroups } from '../units/groups'
import { placeReports } from '../units/latest'
import { readTree } from '../units/tree'

interface AssignmentRow {
  branch: string | null
  level: number | null
  unit_group: string | null
  unit: string | null
  from: string
  to: string | null
}

function lineOf({ branch, level, unit_group, unit, from, to }: AssignmentRow): ReportsLine {
  if (unit_group !== null) return { by: 'group', group: unit_group, from, to }
  if (unit !== null) return { by: 'unit', unit, from, to }
  return level === null
    ? { by: 'branch', branch: branch!, from, to }
    : { by: 'level', level, branch, from, to }
}

/** Who reports some datasets by what is published, in the order in which it was written. By dataset. */
export async function assignmentsByDataset(
  sql: Pick<Sql, 'query'>,
  datasets: readonly string[],
): Promise<Map<string, DraftReports>> {
  const rows = await sql.query<AssignmentRow & { dataset: string }>(
    `SELECT dataset, branch, level, unit_group, unit, from_day AS "from", to_day AS "to" FROM assignment
     WHERE dataset = ANY($1::text[]) ORDER BY from_day, seq`,
    [datasets],
  )
  const lines = new Map<string, DraftReports>(datasets.map(dataset => [dataset, []]))
  for (const row of rows) lines.get(row.dataset)!.push(lineOf(row))
  return lines
}

/** Who reports one dataset by what is published. */
export const assignmentsOf = async (sql: Pick<Sql, 'query'>, dataset: string): Promise<DraftReports> =>
  (await assignmentsByDataset(sql, [dataset])).get(dataset)!

/** Puts a dataset's lines in the place of those that it had. */
export async function writeAssignments(sql: Sql, dataset: string, reports: DraftReports): Promise<void> {
  await sql.query('DELETE FROM assignment WHERE dataset = $1', [dataset])
  for (const line of reports) {
    await sql.query(
      'INSERT INTO assignment (dataset, branch, level, unit_group, unit, from_day, to_day) VALUES ($1, $2, $3, $4, $5, $6, $7)',
      [
        dataset,
        'branch' in line ? line.branch : null,
        line.by === 'level' ? line.level : null,
        line.by === 'group' ? line.group : null,
        line.by === 'unit' ? line.unit : null,
        line.from,
        line.to,
      ],
    )
  }
  await placeReports(sql, 'r.dataset = $1', [dataset])
}

function assignmentOf(line: ReportsLine): Assignment {
  const days = { from: must(parseDay(line.from)), to: line.to === null ? null : must(parseDay(line.to)) }
  return line.by === 'level'
    ? { by: 'level', level: line.level, ...(line.branch !== null && { branch: line.branch }), ...days }
    : { ...line, ...days }
}

const MOST_NAMED = 200

/**
 * Who would report by a draft's lines, and who would by what is published, on a day: on `today`, or on the
 * first day of the lines when that is later.
 */
export async function reportingOf(
  sql: Pick<Sql, 'query'>,
  access: Access,
  reports: DraftReports,
  published: DraftReports,
  today: number,
  facilityLevel: number,
): Promise<DraftReporting> {
  const [tree, groups] = [await readTree(sql), await readGroups(sql)]
  const first = Math.min(...reports.map(({ from }) => must(parseDay(from))))
  const day = Number.isFinite(first) ? Math.max(today, first) : today
  const [after, before] = [unitsOn(tree, groups, reports, day), unitsOn(tree, groups, published, day)]
  const level: ReportsLine = {
    by: 'level',
    level: facilityLevel,
    branch: access.branch,
    from: printDay(day),
    to: null,
  }
  const facilities = unitsOn(tree, groups, [level], day)
  const few = (units: Map<string, string>) => ({
    count: units.size,
    units: [...units]
      .map(([code, name]) => ({ code, name }))
      .sort((one, other) => one.name.localeCompare(other.name))
      .slice(0, MOST_NAMED),
  })
  const without = (units: Map<string, string>, others: Map<string, string>) =>
    new Map([...units].filter(([code]) => !others.has(code)))
  return {
    all: few(after),
    joins: few(without(after, before)),
    leaves: few(without(before, after)),
    without: few(without(facilities, after)),
  }
}

const unitsOn = (
  tree: UnitTree,
  groups: readonly UnitGroup[],
  reports: DraftReports,
  day: number,
): Map<string, string> =>
  new Map(
    expectedUnits(tree, reports.map(assignmentOf), groups, periodOfDay('day', day)).map(({ code, name }) => [
      code,
      name,
    ]),
  )

/**
 * @throws Refusal 422 `no-unit`, `no-group`, 403 when any unit that is named, or reported before, lies
 *   outside the person's branch: of a group, any of its members.
 */
export async function mustOwnReporting(
  sql: Pick<Sql, 'query'>,
  access: Access,
  dataset: string,
  reports: DraftReports,
): Promise<void> {
  const lines = [...reports, ...(await assignmentsOf(sql, dataset))]
  const groups = new Map((await readGroups(sql)).map(group => [group.code, group]))
  const named = new Set<string>()
  for (const line of lines) {
    if (line.by === 'group') {
      const group = groups.get(line.group)
      if (!group) throw new Refusal(422, 'no-group', 'There is no such group of units.')
      group.members.forEach(({ unit }) => named.add(unit))
    } else if (line.by === 'unit') named.add(line.unit)
    else if (line.branch !== null) named.add(line.branch)
    // A level without a branch is the whole tree's.
    else if (access.branch !== null)
      throw new Refusal(403, 'outside-branch', 'This lies outside your part of the tree.')
  }
  const rows = await sql.query<{ code: string; path: string[] }>(
    'SELECT code, path FROM unit_latest WHERE code = ANY($1::text[])',
    [[...named]],
  )
  if (rows.length < named.size) throw new Refusal(422, 'no-unit', 'There is no such organisation unit.')
  rows.forEach(({ path }) => mustHold(access, path))
}

/** The same as an answer instead of a refusal. */
export const ownsReporting = (
  sql: Pick<Sql, 'query'>,
  access: Access,
  dataset: string,
  reports: DraftReports,
): Promise<boolean> =>
  mustOwnReporting(sql, access, dataset, reports).then(
    () => true,
    (error: unknown) => {
      if (error instanceof Refusal) return error.status !== 403
      throw error
    },
  )
