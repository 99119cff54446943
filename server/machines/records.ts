import {
  RECORDS_AT_ONCE,
  type CaseRecord,
  type CaseRecords,
  type CaseRecordsQuery,
  type ReportRecord,
  type ReportRecords,
  type ReportRecordsQuery,
} from '#core/contract/tokens'
import { pseudonymOf, questionOfKey } from '#core/cases/personal'
import { UUID_PATTERN } from '#core/contract/wire'
import { may } from '#core/contract/permission'
import type { Answers } from '#core/form/answer'
import type { Access } from '../access/access'
import { CASES } from '../cases/where'
import { database } from '../database'
import { conditionsOf, REPORTS } from '../extracts/conditions'
import { sourceFields } from '../extracts/sources'
import { cellsOfReports } from '../reports/cells'
import { Refusal } from '../refusal'

const NUMBER = /^\d{1,15}$/
const UUID = new RegExp(UUID_PATTERN)

/** Where a page begins. @throws Refusal 400 `cursor` where it is of another list */
function mustBe(pattern: RegExp, after: string): void {
  if (!pattern.test(after))
    throw new Refusal(400, 'cursor', 'This is not where a page of this list ended. Begin without “after”.')
}

/**
 * Reports that the district has, in the order in which they were begun.
 * @throws Refusal 404 `no-source`; 403, 404 for a unit outside the branch; 400 `cursor`
 */
export async function reportRecords(
  access: Access,
  { dataset, unit, from, to, after }: ReportRecordsQuery,
): Promise<ReportRecords> {
  if (after !== undefined) mustBe(NUMBER, after)
  const sql = await database()
  await sourceFields(access, { of: dataset, rows: 'report' })
  const where = await conditionsOf(sql, access, {
    ...{ of: dataset, rows: 'report' },
    filters: { states: ['sent', 'sentBack', 'accepted'], unit, by: 'period', from, to },
  })
  if (after !== undefined) where.parts.push(`p.id > ${where.param(Number(after))}`)
  const rows = await sql.query<Omit<ReportRecord, 'cells'> & { id: number }>(
    `SELECT p.id, r.dataset, r.period, p.unit, p.state, p.edition, p.first_received_at AS "firstReceivedAt", p.received_at AS "receivedAt"
     FROM ${REPORTS} WHERE ${where.text} ORDER BY p.id LIMIT ${RECORDS_AT_ONCE}`,
    where.values,
  )
  const cells = await cellsOfReports(
    sql,
    rows.map(({ id }) => id),
  )
  return {
    records: rows.map(({ id, ...rest }) => ({
      ...rest,
      cells: Object.entries(cells.get(id) ?? {}).flatMap(([cell, content]) =>
        content && content.kind !== 'blank' ? [{ cell, content }] : [],
      ),
    })),
    next: rows.length === RECORDS_AT_ONCE ? String(rows.at(-1)!.id) : null,
  }
}

/**
 * Cases as they stand, without those that were merged into others. Personal answers are left out for who may not
 * take them out.
 * @throws as {@link reportRecords}
 */
export async function caseRecords(
  access: Access,
  { register, unit, case: one, after }: CaseRecordsQuery,
): Promise<CaseRecords> {
  if (after !== undefined) mustBe(UUID, after)
  const sql = await database()
  const { personal } = await sourceFields(access, { of: register, rows: 'case' })
  const closed = may(access, 'extractPersonal') ? new Set<string>() : personal
  const where = await conditionsOf(sql, access, { of: register, rows: 'case', filters: { unit } })
  if (one !== undefined) where.parts.push(`c.id = ${where.param(one)}::uuid`)
  if (after !== undefined) where.parts.push(`c.id > ${where.param(after)}::uuid`)
  const rows = await sql.query<Omit<CaseRecord, 'answers' | 'pseudonym'> & { answers: Answers }>(
    `SELECT c.id AS case, c.register, c.unit, c.parent, c.entries, c.last_on AS "lastOn", c.received_at AS "receivedAt",
       c.closed_on AS "closedOn", c.outcome, c.known AS answers
     FROM ${CASES} WHERE ${where.text} ORDER BY c.id LIMIT ${RECORDS_AT_ONCE}`,
    where.values,
  )
  return {
    records: rows.map(({ answers, ...rest }) => ({
      ...rest,
      pseudonym: pseudonymOf(rest.case),
      answers: Object.entries(answers).flatMap(([question, content]) =>
        content && !closed.has(questionOfKey(question)) ? [{ question, content }] : [],
      ),
    })),
    leftOut: [...closed].sort(),
    next: rows.length === RECORDS_AT_ONCE ? rows.at(-1)!.case : null,
  }
}
