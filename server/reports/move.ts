import { stateAfter, type ReportState } from '#core/report/state'
import { nowText } from '../clock'
import type { Sql } from '../database'
import type { ReportRow } from './place'
import { reportsChanged } from './write-cells'

/** A report that moves to a state, and why. */
export interface Move {
  report: ReportRow
  to: ReportState
  why?: string | null
}

/** Notes in the history of reports that they moved. */
const noteMoves = (sql: Sql, moves: readonly Move[], at: string, person: string): Promise<object[]> =>
  sql.query(
    `INSERT INTO report_event (report, at, person, from_state, to_state, why)
     SELECT report, $1, $2, before, after, why FROM unnest($3::bigint[], $4::text[], $5::text[], $6::text[]) AS g (report, before, after, why)`,
    [
      at,
      person,
      moves.map(({ report }) => report.id),
      moves.map(({ report }) => report.state),
      moves.map(({ to }) => to),
      moves.map(({ why }) => why ?? null),
    ],
  )

/**
 * Moves reports to a state each and notes who did it and why. Coming in for the first time fixes when one was
 * received. A report that is there already stays as it is.
 */
export async function moveReports(sql: Sql, asked: readonly Move[], person: string): Promise<void> {
  const moves = asked.filter(({ report, to }) => report.state !== to)
  if (!moves.length) return
  const at = nowText()
  const ids = moves.map(({ report }) => report.id)
  const moved = sql.query(
    `UPDATE report p SET state = g.state,
       received_at = CASE WHEN g.arrives THEN $1::timestamptz ELSE received_at END,
       first_received_at = CASE WHEN g.arrives THEN coalesce(first_received_at, $1::timestamptz) ELSE first_received_at END
     FROM unnest($2::bigint[], $3::text[], $4::boolean[]) AS g (id, state, arrives) WHERE p.id = g.id`,
    [
      at,
      ids,
      moves.map(({ to }) => to),
      moves.map(({ report, to }) => to === 'sent' && report.state !== 'accepted'),
    ],
  )
  await Promise.all([moved, noteMoves(sql, moves, at, person), reportsChanged(sql, ids)])
}

/** The same of one. */
export const moveReport = (
  sql: Sql,
  report: ReportRow,
  to: ReportState,
  person: string,
  why: string | null = null,
): Promise<void> => moveReports(sql, [{ report, to, why }], person)

/** A report that was sent by mistake, and how it was before. */
export interface SendToUndo {
  report: ReportRow
  before: Pick<ReportRow, 'firstReceivedAt' | 'receivedAt'> & { state: ReportState }
}

/**
 * Puts reports that were sent by mistake back to how they were: with their facilities, and with the days of their
 * receipt as they were. One that nobody had begun is a draft without answers.
 */
export async function undoSends(
  sql: Sql,
  sent: readonly SendToUndo[],
  person: string,
  why: string,
): Promise<void> {
  const moves = sent.flatMap(({ report, before }) => {
    const to = stateAfter(report.state, before.state === 'sentBack' ? 'sendBack' : 'undoSend')
    return to ? [{ report, before, to, why }] : []
  })
  if (!moves.length) return
  const ids = moves.map(({ report }) => report.id)
  // The figures are of the district for the last time: they are computed anew without these reports.
  await reportsChanged(sql, ids)
  await sql.query(
    `UPDATE report p SET state = g.state, first_received_at = g.first, received_at = g.last
     FROM unnest($1::bigint[], $2::text[], $3::timestamptz[], $4::timestamptz[]) AS g (id, state, first, last)
     WHERE p.id = g.id`,
    [
      ids,
      moves.map(({ to }) => to),
      moves.map(({ before }) => before.firstReceivedAt),
      moves.map(({ before }) => before.receivedAt),
    ],
  )
  await noteMoves(sql, moves, nowText(), person)
}
