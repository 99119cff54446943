import type { Board, BoardRow } from '#core/contract/rounds'
import { isComplete } from '#core/quality/over-time'
import { isReceived, lanternSign, type ReportState } from '#core/report/state'
import { unitAsked, type Access } from '../access/access'
import { now } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { rowsOfText, rowText } from '../database/row-text'
import { BLOCKS } from '../checks/blocking'
import { OFFERED } from '../reports/late-changes'
import { reportsOfRounds, stateOf } from '../reports/place'
import { awaitedCodesOf, expectedUnits } from '../units/expected-units'
import { reportingOf } from '../reports/reporting-of'
import { roundById, roundRef, roundsUpTo, type Round } from '../rounds/round'

const LANTERNS = 12
const MS_A_DAY = 86_400_000

/** The signs of the last rounds of some units, oldest first; none in a round that did not expect a unit. */
async function lanternsOf(
  sql: Pick<Sql, 'query'>,
  rounds: readonly Round[],
  branch: string,
): Promise<(unit: string) => BoardRow['lanterns']> {
  const [begun, awaited] = await Promise.all([
    sql.query<{ round: string; states: string }>(
      `SELECT round, ${rowText('unit', 'state')} AS states FROM report
       WHERE round = ANY($1::text[]) AND path @> $2::text[] GROUP BY round`,
      [rounds.map(({ id }) => id), [branch]],
    ),
    awaitedCodesOf(sql, rounds, branch),
  ])
  const statesOf = new Map<string, Map<string, ReportState>>(
    [...awaited].map(([round, codes]) => [round, new Map(codes.map(code => [code, 'awaited']))]),
  )
  for (const { round, states } of begun)
    for (const [unit, state] of rowsOfText(states)) statesOf.get(round)!.set(unit!, state as ReportState)
  const oldestFirst = rounds.toReversed()
  return unit =>
    oldestFirst.map(({ id, period, dueAt }) => {
      const state = statesOf.get(id)!.get(unit)
      return { round: id, period, sign: state ? lanternSign(state, Date.parse(dueAt), now()) : null }
    })
}

/** Unsettled doubts by strength, and those that block, by unit. */
async function doubtCounts(
  sql: Pick<Sql, 'query'>,
  round: string,
  branch: string,
): Promise<Map<string, Pick<BoardRow, 'mustFix' | 'explain' | 'blocking'>>> {
  const rows = await sql.query<{ unit: string } & Pick<BoardRow, 'mustFix' | 'explain' | 'blocking'>>(
    `SELECT p.unit, count(*) FILTER (WHERE d.strength = 'mustFix')::int AS "mustFix", count(*) FILTER (WHERE d.strength = 'explain')::int AS explain,
       count(*) FILTER (WHERE ${BLOCKS})::int AS blocking
     FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.round = $1 AND p.path @> $2::text[] AND d.state <> 'settled' GROUP BY p.unit`,
    [round, [branch]],
  )
  return new Map(rows.map(({ unit, ...counts }) => [unit, counts]))
}

/** Changes that arrived after the round closed, by unit. */
async function lateCounts(sql: Pick<Sql, 'query'>, round: string): Promise<Map<string, number>> {
  const rows = await sql.query<{ unit: string; count: number }>(
    `SELECT unit, count(*)::int AS count FROM late_change WHERE round = $1 AND ${OFFERED} GROUP BY unit`,
    [round],
  )
  return new Map(rows.map(({ unit, count }) => [unit, count]))
}

/** The reports of a round that were entered from paper. */
async function onPaper(sql: Pick<Sql, 'query'>, round: string): Promise<ReadonlySet<number>> {
  const rows = await sql.query<{ report: number }>(
    'SELECT DISTINCT l.report FROM report_paper l JOIN report p ON p.id = l.report WHERE p.round = $1',
    [round],
  )
  return new Set(rows.map(({ report }) => report))
}

/** A round, unit by unit, within the branch that was asked for. */
export async function board(access: Access, roundId: string, asked?: string): Promise<Board> {
  const sql = await database()
  const unit = await unitAsked(access, asked)
  const round = await roundById(sql, roundId)
  const { asked: applying, edition } = await editionOf(sql, round.dataset, round.edition)
  const [lanterns, expected, found, doubts, late, papers, signed] = await Promise.all([
    roundsUpTo(sql, round, LANTERNS).then(rounds => lanternsOf(sql, rounds, unit.code)),
    expectedUnits(sql, round, unit.code),
    reportsOfRounds(sql, [round.id], unit.code),
    doubtCounts(sql, roundId, unit.code),
    lateCounts(sql, roundId),
    onPaper(sql, roundId),
    sql.query('SELECT 1 FROM signature WHERE round = $1 AND unit = $2 LIMIT 1', [roundId, unit.code]),
  ])
  const reports = new Map(found.map(report => [report.unit, report]))
  const dueAt = Date.parse(round.dueAt)

  const rows = expected.map(({ code, name, zone, zoneName, kind }): BoardRow => {
    const report = reports.get(code)
    const state = stateOf(report)
    const applies = applying - (report?.notOffered ?? 0) - (report?.notApplying ?? 0)
    const sinceDue = report?.firstReceivedAt ? Date.parse(report.firstReceivedAt) - dueAt : -1
    return {
      unit: { code, name },
      zone: { code: zone, name: zoneName },
      kind,
      state,
      sign: lanternSign(state, dueAt, now()),
      lanterns: lanterns(code),
      receivedAt: report?.receivedAt ?? null,
      daysLate: sinceDue >= 0 ? Math.floor(sinceDue / MS_A_DAY) + 1 : 0,
      filled: applies && report ? report.answered / applies : 0,
      complete: isComplete({ received: isReceived(state), answered: report?.answered ?? 0, applies }),
      onPaper: report !== undefined && papers.has(report.id),
      ...(doubts.get(code) ?? { mustFix: 0, explain: 0, blocking: 0 }),
      late: late.get(code) ?? 0,
    }
  })
  return {
    round: roundRef(round),
    unit: { code: unit.code, name: unit.name },
    rows,
    reporting: reportingOf(
      expected.map(({ code }) => code),
      reports,
      round.dueAt,
    ),
    signed: signed.length > 0,
    heldAgainstCases: (edition.caseCounts?.length ?? 0) > 0,
  }
}
