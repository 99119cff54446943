import type { Today } from '#core/contract/rounds'
import { printDay } from '#core/calendar/day'
import { groupBy } from '#core/group-by'
import { districtState } from '#core/report/district-state'
import { lanternSign } from '#core/report/state'
import { branchPath } from '../access/access'
import { BLOCKS, CLEAN } from '../checks/blocking'
import { now } from '../clock'
import type { Sql } from '../database'
import { changedSinceSigning } from '../district-reports/district-report'
import { reportsOfRounds, stateOf, type ReportRow } from '../reports/place'
import { reportingOf } from '../reports/reporting-of'
import { openRoundsNow, roundRef, type Round } from '../rounds/round'
import { today } from '../settings'
import { awaitedCodesOf } from '../units/expected-units'

interface Counts {
  mustFix: number
  explain: number
  answered: number
  /** Discrepancies that stop the signing. */
  blocking: number
  /** Sent reports without a doubt left. */
  toAccept: number
}

const NONE: Counts = { mustFix: 0, explain: 0, answered: 0, blocking: 0, toAccept: 0 }

/** The unsettled doubts about the reports of a branch, and how many of the reports can be accepted, by round. */
async function countsOf(
  sql: Pick<Sql, 'query'>,
  rounds: readonly string[],
  branch: string,
): Promise<Map<string, Counts>> {
  const rows = await sql.query<Counts & { round: string }>(
    `SELECT p.round, coalesce(sum(d."mustFix"), 0)::int AS "mustFix", coalesce(sum(d.explain), 0)::int AS explain,
       coalesce(sum(d.answered), 0)::int AS answered, coalesce(sum(d.blocking), 0)::int AS blocking,
       (count(*) FILTER (WHERE ${CLEAN}))::int AS "toAccept"
     FROM report p LEFT JOIN LATERAL (
       SELECT count(*) FILTER (WHERE d.strength = 'mustFix') AS "mustFix",
         count(*) FILTER (WHERE d.strength = 'explain') AS explain,
         count(*) FILTER (WHERE d.state = 'answered') AS answered,
         count(*) FILTER (WHERE ${BLOCKS}) AS blocking
       FROM discrepancy d WHERE d.report = p.id AND d.state <> 'settled') d ON true
     WHERE p.round = ANY($1::text[]) AND p.path @> $2::text[] GROUP BY p.round`,
    [rounds, branchPath(branch)],
  )
  return new Map(rows.map(({ round, ...counts }) => [round, counts]))
}

async function signaturesBy(
  sql: Pick<Sql, 'query'>,
  rounds: readonly string[],
  unit: string,
): Promise<Map<string, number>> {
  const rows = await sql.query<{ round: string; count: number }>(
    'SELECT round, count(*)::int AS count FROM signature WHERE round = ANY($1::text[]) AND unit = $2 GROUP BY round',
    [rounds, unit],
  )
  return new Map(rows.map(({ round, count }) => [round, count]))
}

/** Rounds whose period is over and that have not closed, and what needs somebody, within a branch. */
export async function roundsToday(
  sql: Pick<Sql, 'query'>,
  unit: { code: string; name: string },
): Promise<Today['rounds']> {
  const [day, opened] = await Promise.all([today(sql), openRoundsNow(sql)])
  // A round that can be filled early is nobody's work here before its period is over.
  const open = opened.filter(({ lastDay }) => lastDay < printDay(day))
  const ids = open.map(({ id }) => id)
  const [awaited, reports, counts, signatures] = await Promise.all([
    awaitedCodesOf(sql, open, unit.code),
    reportsOfRounds(sql, ids, unit.code),
    countsOf(sql, ids, unit.code),
    signaturesBy(sql, ids, unit.code),
  ])
  const ofRound = groupBy(reports, ({ round }) => round)
  return Promise.all(
    open.map(async round => {
      const begun = ofRound.get(round.id) ?? []
      const figures = figuresOf(
        round,
        [...begun.map(report => report.unit), ...awaited.get(round.id)!],
        begun,
      )
      const doubts = counts.get(round.id) ?? NONE
      const signed = signatures.get(round.id) ?? 0
      return {
        ...figures,
        ...doubts,
        state: districtState({
          received: figures.reporting.received,
          blocking: doubts.blocking,
          signatures: signed,
        }),
        changedSince: signed ? ((await changedSinceSigning(round, unit)) ?? 0) : 0,
      }
    }),
  )
}

/** How far the reports of one round are. */
function figuresOf(round: Round, units: readonly string[], reports: readonly ReportRow[]) {
  const byUnit = new Map(reports.map(row => [row.unit, row]))
  const dueAt = Date.parse(round.dueAt)
  const signs = units.map(unit => lanternSign(stateOf(byUnit.get(unit)), dueAt, now()))
  return {
    round: roundRef(round),
    reporting: reportingOf(units, byUnit, round.dueAt),
    overdue: signs.filter(sign => sign === 'overdue').length,
    drafts: reports.filter(({ state }) => state === 'draft').length,
  }
}
