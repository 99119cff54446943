import type { Sql } from '../database'
import { nowText } from '../clock'
import { askForJob } from '../queue/job-table'
import type { ReportRow } from '../reports/place'

/**
 * For queries: the middle day of a round `mine`. A week belongs to the period that holds its fourth day;
 * every other period lies in one.
 */
const MIDDLE = 'mine.first_day + (mine.last_day - mine.first_day) / 2'

/**
 * Reports have changed: those of the same facilities whose rules name their datasets, of their own periods and
 * later ones, are judged again by a job. Where no rule names them, nothing happens.
 */
export async function judgeOthers(sql: Sql, reports: readonly Pick<ReportRow, 'id'>[]): Promise<void> {
  const waiting = await sql.query(
    `INSERT INTO report_to_judge (report, since)
     SELECT DISTINCT p.id, $2::timestamptz FROM report own JOIN round mine ON mine.id = own.round
       JOIN edition e ON e.others @> ARRAY[mine.dataset] JOIN round r ON r.dataset = e.dataset AND r.last_day >= ${MIDDLE}
       JOIN report p ON p.round = r.id AND p.unit = own.unit AND p.edition = e.number
     WHERE own.id = ANY($1::bigint[]) AND p.first_received_at IS NOT NULL ON CONFLICT DO NOTHING RETURNING report`,
    [reports.map(({ id }) => id), nowText()],
  )
  if (waiting.length) await askForJob(sql, 'judgeAgain')
}
