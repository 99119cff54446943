import { deadlines } from '#core/calendar/deadline'
import { shiftPeriod } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { DueList, DueReport } from '#core/contract/rounds'
import { itemCompleteness } from '#core/quality/item-completeness'
import { isReceived, lanternSign } from '#core/report/state'
import { must } from '#core/result'
import { filledBy, unitAsked, type Access } from '../access/access'
import { now } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { cellsOfReports } from '../reports/cells'
import { REPORT_COLUMNS, stateOf, type ReportRow } from '../reports/place'
import { settings } from '../settings'
import { expectedUnits } from '../units/expected-units'
import { openedRounds, roundRef, type Round } from './round'

/** How many sent reports the list shows. */
const SENT_SHOWN = 6

async function dueReport(sql: Pick<Sql, 'query'>, access: Access, round: Round, unit: string): Promise<DueReport | null> {
  const [expected] = (await expectedUnits(sql, round, unit)).filter(({ code }) => code === unit)
  if (!expected) return null
  const [report] = await sql.query<ReportRow>(`SELECT ${REPORT_COLUMNS} FROM report WHERE round = $1 AND unit = $2`, [round.id, unit])
  if (report && access.ownOnly && !(await sql.query(`SELECT 1 FROM report p WHERE p.id = $1 AND ${filledBy('p', '$2')}`, [report.id, access.id])).length) return null
  const { cells } = await editionOf(sql, round.dataset, report?.edition ?? round.edition)
  const map = report ? (await cellsOfReports(sql, [report.id])).get(report.id) ?? {} : {}
  const [questions] = await sql.query<{ count: number }>(
    `SELECT count(*)::int AS count FROM discrepancy WHERE report = $1 AND state = 'asked'`, [report?.id ?? null])
  const state = stateOf(report)
  return {
    round: roundRef(round), unit: { code: unit, name: expected.name }, state,
    sign: lanternSign(state, Date.parse(round.dueAt), now()),
    ...itemCompleteness(cells.map(({ key }) => key), map),
    questions: questions!.count,
    receivedAt: report?.receivedAt ?? null,
  }
}

/** What one facility has to report: due now, coming up, and sent. Nobody picks unit, dataset and period from lists. */
export async function dueList(access: Access): Promise<DueList> {
  const sql = await database()
  const unit = await unitAsked(access, undefined)
  const { timeZone } = await settings()
  const rounds = await openedRounds(sql)
  const open = rounds.filter(round => now() < Date.parse(round.closesAt))
  const all = (await Promise.all(rounds.slice(0, 18).map(round => dueReport(sql, access, round, unit.code)))).filter(report => report !== null)
  const isOpen = ({ round }: DueReport) => open.some(({ id }) => id === round.id)
  const newest = [...new Map([...rounds].reverse().map(round => [round.dataset, round])).values()]
  const coming = await Promise.all(newest.map(async (round) => {
    const { edition } = await editionOf(sql, round.dataset, round.edition)
    const next = shiftPeriod(must(parsePeriod(round.period)), 1)
    const { opensAt, dueAt } = deadlines(next, edition.timing, timeZone)
    return {
      dataset: round.dataset, name: round.name, period: printPeriod(next),
      opensAt: new Date(opensAt).toISOString(), dueAt: new Date(dueAt).toISOString(),
    }
  }))
  return {
    unit: { code: unit.code, name: unit.name },
    now: all.filter(report => !isReceived(report.state) && isOpen(report)),
    coming,
    sent: all.filter(report => isReceived(report.state)).slice(0, SENT_SHOWN),
  }
}
