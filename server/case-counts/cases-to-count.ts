import { parseDay, printDay } from '#core/calendar/day'
import type { CaseMove } from '#core/cases/life'
import type { Answers } from '#core/form/answer'
import type { CaseCount } from '#core/report/edition'
import { must } from '#core/result'
import { daysThatMayLieBetween, mayLieBetween } from '../cases/counting-day'
import type { Sql } from '../database'
import type { Round } from '../rounds/round'

/** A case that may count for a report. */
export interface CaseRow {
  id: string
  /** The facility that has it now. */
  unit: string
  /** The facilities that see it besides. */
  seenAt: string[]
  /** From where to where it was moved. */
  moves: CaseMove[]
  known: Answers
  receivedAt: string
  /** Where the case lives, from the top of the tree; null when that is not known. */
  home: string[] | null
}

/** Which cases are looked for. */
interface Sought {
  round: Round
  branch: string
  /** For so many reports of the branch. */
  reports: number
  /** How far from the period cases are looked for that nearly count, in days; with any, those without a day too. */
  nearDays: number
}

/** For so few reports the cases of their facilities are read, and for more those of the days of the period. */
const FEW = 20
/** So many cases are read in one statement. In the embedded engine everybody waits for its end. */
const AT_ONCE = 1_000

/** Found among the cases of the facilities. */
function idsByUnit(sql: Pick<Sql, 'query'>, count: CaseCount, { round, branch, nearDays }: Sought) {
  const from = printDay(must(parseDay(round.firstDay)) - nearDays)
  const to = printDay(must(parseDay(round.lastDay)) + nearDays)
  const mayCount = mayLieBetween("(c.known -> $3::text ->> 'value')", '$4::text', '$5::text')
  const isNear = `c.register = $1 AND c.merged_into IS NULL
    AND ${nearDays ? `coalesce(${mayCount}, true)` : mayCount}`
  const livesThere = `UNION SELECT c.id FROM here h
    JOIN case_record c ON c.known @> jsonb_build_object($6::text, jsonb_build_object('kind', 'value', 'value', h.code)) WHERE ${isNear}`
  return sql.query<{ id: string }>(
    // Each way to belong here by its own index: together in one condition, the cases of all districts were read.
    `WITH here AS MATERIALIZED (SELECT code FROM unit_latest WHERE path @> $2::text[])
     SELECT c.id FROM case_record c WHERE c.unit IN (SELECT code FROM here) AND ${isNear}
     UNION SELECT c.id FROM case_record c WHERE c.shared_with <> '{}' AND c.shared_with && ARRAY(SELECT code FROM here) AND ${isNear}
     ${count.residence ? livesThere : ''}`,
    [count.register, [branch], count.date, from, `${to}~`, ...(count.residence ? [count.residence] : [])],
  )
}

/** Found among the cases of the days: what the register holds of other times is not read. */
function idsByDay(sql: Pick<Sql, 'query'>, count: CaseCount, { round, branch }: Sought) {
  return sql.query<{ id: string }>(
    `WITH here AS MATERIALIZED (SELECT code FROM unit_latest WHERE path @> $2::text[]),
     wanted AS MATERIALIZED (
       SELECT jsonb_build_object($3::text, jsonb_build_object('value', text)) AS day FROM unnest($4::text[]) AS text),
     found AS MATERIALIZED (
       SELECT c.id, c.unit, c.shared_with, c.known -> $5::text ->> 'value' AS home
       FROM wanted JOIN case_record c ON c.known @> wanted.day
       WHERE c.register = $1 AND c.merged_into IS NULL)
     SELECT id FROM found WHERE unit IN (SELECT code FROM here) OR home IN (SELECT code FROM here)
       OR (shared_with <> '{}' AND shared_with && ARRAY(SELECT code FROM here))`,
    [
      count.register,
      [branch],
      count.date,
      daysThatMayLieBetween(round.firstDay, round.lastDay),
      count.residence ?? '',
    ],
  )
}

/**
 * Cases of a register that may count in a period for units of a branch: of a facility there, now or before, or
 * living there.
 */
export async function casesToCount(
  sql: Pick<Sql, 'query'>,
  count: CaseCount,
  sought: Sought,
): Promise<CaseRow[]> {
  const isByUnit = sought.nearDays > 0 || sought.reports <= FEW
  const ids = (await (isByUnit ? idsByUnit : idsByDay)(sql, count, sought)).map(({ id }) => id)
  const parts = Array.from({ length: Math.ceil(ids.length / AT_ONCE) }, (_, part) =>
    sql.query<CaseRow>(
      `SELECT c.id, c.unit, c.moves, c.shared_with AS "seenAt", c.known, home.path AS home,
         (SELECT min(e.received_at) FROM case_entry e WHERE e.case_id = c.id) AS "receivedAt"
       FROM case_record c LEFT JOIN unit_latest home ON home.code = c.known -> $2::text ->> 'value'
       WHERE c.id = ANY($1::uuid[])`,
      [ids.slice(part * AT_ONCE, (part + 1) * AT_ONCE), count.residence ?? ''],
    ),
  )
  return (await Promise.all(parts)).flat()
}
