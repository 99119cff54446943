import { printDay } from '#core/calendar/day'
import { parsePeriod } from '#core/calendar/period-text'
import { caseOfKnown } from '#core/cases/fold'
import { unitOn } from '#core/cases/life'
import type { CaseCountBoard, CaseCountFile, CountedRow } from '#core/contract/case-counts'
import type { CaseLine } from '#core/contract/cases'
import { dayIn } from '#core/form/answer'
import { groupBy } from '#core/group-by'
import { countKey } from '#core/reconcile/count-doubt'
import { compileBinding, reconcile, type CaseToCount, type Reconciliation } from '#core/reconcile/reconcile'
import type { CaseCount } from '#core/report/edition'
import { must } from '#core/result'
import { branchPath, unitAsked, type Access } from '../access/access'
import { caseLines } from '../cases/list'
import { newestRegisters, runnableRegisters } from '../cases/registers'
import { database, type Sql } from '../database'
import { editionOf } from '../datasets/editions'
import { holdingDiscrepancy } from '../doubts/save-found'
import { takingTurns } from '../give-way'
import { notFound } from '../refusal'
import { cellsOfReports } from '../reports/cells'
import { roundById, roundRef, type Round } from '../rounds/round'
import { unitNames } from '../units/latest'
import { casesToCount, type CaseRow } from './cases-to-count'

/**
 * How far from a period a case nearly counts in it, in days: a slip in a date, or a period in between. Where only
 * what counts is asked for, the cases of the period itself are enough: five times fewer in a month.
 */
const NEAR_DAYS = 62

interface ReportRow {
  id: number
  unit: string
  name: string
  state: CountedRow['state']
  sentAt: string | null
}

/** Reports of a round that are in, of a branch or of one unit. */
const reportsOf = (sql: Pick<Sql, 'query'>, round: string, branch: string): Promise<ReportRow[]> =>
  sql.query<ReportRow>(
    `SELECT id, unit, unit_name AS name, state, first_received_at AS "sentAt" FROM report
     WHERE round = $1 AND path @> $2::text[] AND first_received_at IS NOT NULL ORDER BY unit_name, unit`,
    [round, [branch]],
  )

/** A case as it counts by a date among its answers. */
const toCount = ({ id, unit, moves, seenAt, known, receivedAt }: CaseRow, date: string) =>
  ({
    unit: unitOn({ unit, moves }, dayIn(known[date])),
    seenAt: moves.length ? [unit, ...seenAt] : [],
    receivedAt: Date.parse(receivedAt),
    file: caseOfKnown(id, known),
  }) satisfies CaseToCount

interface Compared {
  report: ReportRow
  count: CaseCount
  held: Reconciliation
}

/**
 * Cases by the units for which they may count, or nearly do: those that had them, and those above where they
 * live.
 */
async function byUnit(
  cases: readonly CaseRow[],
  date: string,
  takeTurns: () => Promise<void>,
): Promise<Map<string, CaseToCount[]>> {
  const found = new Map<string, CaseToCount[]>()
  for (const row of cases) {
    await takeTurns()
    const one = toCount(row, date)
    for (const unit of new Set([one.unit, ...one.seenAt, ...(row.home ?? [])])) {
      const own = found.get(unit)
      if (own) own.push(one)
      else found.set(unit, [one])
    }
  }
  return found
}

/**
 * Holds some reports of a round against the registers that its edition names.
 * @param nearDays how far from the period cases are looked at that nearly count
 */
async function compareAll(
  sql: Pick<Sql, 'query'>,
  round: Round,
  branch: string,
  counts: readonly CaseCount[],
  reports: readonly ReportRow[],
  nearDays = 0,
): Promise<Compared[]> {
  const registers = runnableRegisters(await newestRegisters(sql))
  const cells = await cellsOfReports(
    sql,
    reports.map(({ id }) => id),
    counts.flatMap(count => count.cells),
  )
  const period = must(parsePeriod(round.period))
  const found: Compared[] = []
  const takeTurns = takingTurns()
  // Counts of one register by one day and one place differ in their condition only: their cases are read once.
  const alike = groupBy(counts, ({ register, date, residence }) => [register, date, residence].join(' '))
  for (const own of alike.values()) {
    const register = registers.get(own[0]!.register)
    if (!register) continue
    const cases = await casesToCount(sql, own[0]!, { round, branch, reports: reports.length, nearDays })
    const casesOf = await byUnit(cases, own[0]!.date, takeTurns)
    const homes = new Map(cases.flatMap(({ home }) => (home ? [[home.at(-1)!, home]] : [])))
    const within = (unit: string, of: string) => homes.get(unit)?.includes(of) ?? false
    for (const count of own) {
      const binding = compileBinding(count, register)
      // A newer edition of the register no longer asks what the condition names: nothing can be judged.
      if (!binding.ok) continue
      for (const report of reports) {
        const sentAt = report.sentAt === null ? null : Date.parse(report.sentAt)
        const held = { unit: report.unit, period, contents: cells.get(report.id) ?? {}, sentAt }
        found.push({
          report,
          count,
          held: reconcile(binding.value, register, held, casesOf.get(report.unit) ?? [], within),
        })
        await takeTurns()
      }
    }
  }
  return found
}

const rowOf = ({ report, count, held }: Compared): CountedRow => ({
  unit: { code: report.unit, name: report.name },
  state: report.state,
  count: count.code,
  verdict: held.verdict,
  reported: held.reported,
  registered: held.counted.length,
  agreedWhenSent: held.agreedWhenSent,
})
const headOf = ({ code, name, register, cells }: CaseCount) => ({ code, name, register, cells: [...cells] })

/** How many cases of the registers count for one report, by the code of the count; sent or not. */
export async function registeredFor(
  sql: Pick<Sql, 'query'>,
  round: Round,
  counts: readonly CaseCount[],
  { id, unit, state }: Pick<ReportRow, 'id' | 'unit' | 'state'>,
): Promise<Map<string, number>> {
  const compared = await compareAll(sql, round, unit, counts, [{ id, unit, name: unit, state, sentAt: null }])
  return new Map(compared.map(({ count, held }) => [count.code, held.counted.length]))
}

/** A round of a branch: every report that is in, held against the registers of its facility. */
export async function caseCounts(
  access: Access,
  roundId: string,
  asked: { unit?: string },
): Promise<CaseCountBoard> {
  const sql = await database()
  const unit = await unitAsked(access, asked.unit)
  const round = await roundById(sql, roundId)
  const { edition } = await editionOf(sql, round.dataset, round.edition)
  const counts = edition.caseCounts ?? []
  const reports = counts.length ? await reportsOf(sql, round.id, unit.code) : []
  const compared = await compareAll(sql, round, unit.code, counts, reports)
  return {
    round: roundRef(round),
    unit: { code: unit.code, name: unit.name },
    counts: counts.map(headOf),
    rows: compared.map(rowOf),
  }
}

/** The lines of some cases. Of those of another branch (who live here) the answers are not shown. */
async function linesSeenBy(
  sql: Pick<Sql, 'query'>,
  access: Access,
  ids: readonly string[],
): Promise<Map<string, CaseLine>> {
  const lines = await caseLines(sql, ids, await newestRegisters(sql))
  const seen = await sql.query<{ id: string }>(
    `SELECT DISTINCT c.id FROM case_record c JOIN unit_latest u ON u.code = ANY(c.unit || c.shared_with)
     WHERE c.id = ANY($1::uuid[]) AND u.path @> $2::text[]`,
    [ids, branchPath(access.branch)],
  )
  const own = new Set(seen.map(({ id }) => id))
  return new Map([...lines].map(([id, line]) => [id, own.has(id) ? line : { ...line, answers: {} }]))
}

/**
 * One count of one facility, opened: the cells, the cases that count and those that nearly do, each with why.
 * @throws Refusal 403, 404
 */
export async function caseCountFile(
  access: Access,
  roundId: string,
  code: string,
  unitCode: string,
): Promise<CaseCountFile> {
  const sql = await database()
  const unit = await unitAsked(access, unitCode)
  const round = await roundById(sql, roundId)
  const { edition } = await editionOf(sql, round.dataset, round.edition)
  const count = edition.caseCounts?.find(one => one.code === code)
  if (!count) throw notFound('count')
  const [report] = (await reportsOf(sql, round.id, unit.code)).filter(one => one.unit === unit.code)
  if (!report) throw notFound('report')
  const [compared] = await compareAll(sql, round, unit.code, [count], [report], NEAR_DAYS)
  if (!compared) throw notFound('count')
  const { held } = compared
  const ids = [...held.counted, ...held.near].map(one => one.case)
  const lines = await linesSeenBy(sql, access, ids)
  const nameOf = await unitNames(
    sql,
    held.near.flatMap(one => one.unit ?? []),
  )
  return {
    round: roundRef(round),
    count: headOf(count),
    row: rowOf(compared),
    sentAt: report.sentAt,
    discrepancy: await holdingDiscrepancy(sql, report.id, countKey(count)),
    cells: held.cells,
    counted: held.counted.map(({ case: id, day, before }) => ({
      line: lines.get(id)!,
      day: printDay(day),
      before,
    })),
    near: held.near.map(({ case: id, why, unit: place, day }) => ({
      line: lines.get(id)!,
      why,
      unit: place === undefined ? null : { code: place, name: nameOf(place) },
      day: day === undefined ? null : printDay(day),
    })),
  }
}
