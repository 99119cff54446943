import type { DeskEvent } from '#core/contract/desk'
import type { CaseMove, CaseOutcome } from '#core/cases/life'
import { seenBy } from '../cases/case-events'
import { KIN } from '../cases/fold-known'
import { closedOf } from '../cases/list'
import { ofRegisters } from '../cases/shared'
import type { Sql } from '../database'

type EntryEvent = Extract<DeskEvent, { kind: 'entry' }>
type CaseEvent = Extract<DeskEvent, { kind: 'case' }>

/** The columns of an entry `e` of a case `c`, as a device hears of it. */
export const ENTRY_EVENT = `e.received_at AS at, c.unit, e.id, e.case_id AS "case", c.register, e.edition, e.form, e.answers,
  e.happened_on AS "happenedOn", e.corrects, c.parent`

/**
 * What devices hear of cases to which something happened: how these, and those that are one with them, are now;
 * and where one of them has come to a facility, all its entries, because their numbers are long past.
 * @param happened `brings`: it may be new to a facility
 * @param units whose devices ask; @param person whose entries they may see, null for everybody's; @param registers
 *   whose cases they may see, null for all
 */
export async function caseNews(
  sql: Pick<Sql, 'query'>,
  happened: readonly { case: string; brings: boolean }[],
  units: readonly string[],
  person: string | null,
  registers: string[] | null,
): Promise<DeskEvent[]> {
  if (!happened.length) return []
  const rows = await sql.query<
    Omit<CaseEvent, 'kind' | 'closed'> & {
      closedOn: string | null
      outcome: CaseOutcome | null
      moves: CaseMove[]
      brings: boolean
    }
  >(
    `${KIN}
     SELECT c.id AS "case", c.unit, c.moves, c.closed_on AS "closedOn", c.outcome, c.merged_into AS "mergedInto",
       ${seenBy('$3')} AS "isHere", bool_or(given.brings) AS brings,
       (SELECT max(e.at) FROM case_event e WHERE e.case_id = ANY($1::uuid[])) AS at
     FROM unnest($1::uuid[], $2::boolean[]) AS given (id, brings) JOIN kin ON kin.start = given.id
       JOIN case_record c ON c.id = kin.id WHERE ${ofRegisters('$4')} GROUP BY c.id ORDER BY c.id`,
    [happened.map(one => one.case), happened.map(({ brings }) => brings), units, registers],
  )
  const brought = rows.filter(({ brings, isHere }) => brings && isHere).map(row => row.case)
  const entries = brought.length
    ? await sql.query<Omit<EntryEvent, 'kind'>>(
        `SELECT ${ENTRY_EVENT} FROM case_entry e JOIN case_record c ON c.id = e.case_id
         WHERE e.case_id = ANY($1::uuid[]) AND ($2::uuid IS NULL OR e.person = $2) ORDER BY e.seq`,
        [brought, person],
      )
    : []
  return [
    ...entries.map((entry): EntryEvent => ({ kind: 'entry', ...entry })),
    ...rows.map(({ closedOn, outcome, brings: _, ...row }): CaseEvent => ({
      kind: 'case',
      ...row,
      closed: closedOf({ closedOn, outcome }),
    })),
  ]
}
