import type { JobResult } from '#core/contract/jobs'
import { editionOf } from '../datasets/editions'
import { database } from '../database'
import { lockFacilities } from '../database/locks'
import { logError } from '../log'
import { UNWATCHED, type JobTurn } from '../queue/turn'
import { computeCells } from '../reports/computed-cells'
import { REPORT_COLUMNS, type ReportRow } from '../reports/place'
import { roundFor } from '../rounds/closing'
import { roundById } from '../rounds/round'
import { expectedUnits } from '../units/expected-units'
import { recheck } from './recheck'

/**
 * Judges one waiting report, in a transaction of its own, so that others have their turn. @returns false when
 * none waits.
 */
async function judgeNext(failed: readonly number[]): Promise<boolean> {
  const sql = await database()
  let report: ReportRow | undefined
  try {
    return await sql.transaction(async tx => {
      // Another process may be at work on the same list: what it has locked is passed over.
      const [next] = await tx.query<{ report: number; unit: string }>(
        `SELECT w.report, p.unit FROM report_to_judge w JOIN report p ON p.id = w.report
         WHERE w.report <> ALL($1::bigint[]) ORDER BY w.since, w.report LIMIT 1 FOR UPDATE OF w SKIP LOCKED`,
        [failed],
      )
      if (!next) return false
      await lockFacilities(tx, [next.unit])
      ;[report] = await tx.query<ReportRow>(`SELECT ${REPORT_COLUMNS} FROM report WHERE id = $1 FOR UPDATE`, [
        next.report,
      ])
      if (!report) return false
      const round = await roundFor(tx, await roundById(tx, report.round), report.unit)
      const [unit] = (await expectedUnits(tx, round, report.unit)).filter(({ code }) => code === report!.unit)
      const ready = await editionOf(tx, round.dataset, report.edition)
      // Conditions, or how an item is computed, may be others in this edition.
      await computeCells(tx, ready, [report.id])
      if (unit) await recheck(tx, [{ round, unit, report, ready }], null)
      await tx.query('DELETE FROM report_to_judge WHERE report = $1', [report.id])
      return true
    })
  } catch (error) {
    if (!report) throw error
    throw new JudgingFailed(report.id, error)
  }
}

class JudgingFailed extends Error {
  constructor(
    readonly report: number,
    override readonly cause: unknown,
  ) {
    super(`Report ${report} could not be judged again`)
  }
}

/**
 * Judges every report that waits for it. One that cannot be judged is logged, and tried again by the next job;
 * the others go on.
 */
export async function judgeAgain({ signal, progress }: JobTurn = UNWATCHED): Promise<JobResult> {
  const sql = await database()
  const [waiting] = await sql.query<{ count: number }>('SELECT count(*) AS count FROM report_to_judge')
  const failed: number[] = []
  for (let judged = 0; ; judged++) {
    signal.throwIfAborted()
    // Reports may have been added since the job began.
    progress(judged, Math.max(judged, waiting!.count))
    try {
      if (!(await judgeNext(failed)))
        return {
          numbers: { judged, failed: failed.length },
          details: failed.slice(0, 100).map(report => `Report ${report}`),
        }
    } catch (error) {
      if (!(error instanceof JudgingFailed)) throw error
      logError(error.message, error.cause)
      failed.push(error.report)
    }
  }
}

/** Does a report wait to be judged again? */
export async function isToJudge(): Promise<boolean> {
  const sql = await database()
  return (await sql.query('SELECT 1 FROM report_to_judge LIMIT 1')).length > 0
}
