import type { ReportFileView } from '#core/contract/report-files'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { askForJob } from '../queue/job-table'
import { conflict } from '../refusal'
import { mustSeeFile, reportFileView } from './list'

type FileState = ReportFileView['line']['state']

/** Moves a file from one state to the next, by who may see it. @throws Refusal 403, 404, 409 `file-state` */
async function move(
  access: Access,
  id: string,
  from: readonly FileState[],
  to: string,
  why?: string,
): Promise<ReportFileView> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [found] = await tx.query<{ state: FileState; branch: string | null }>(
      'SELECT state, branch FROM report_file WHERE id = $1 FOR UPDATE',
      [id],
    )
    const file = mustSeeFile(access, found)
    if (!from.includes(file.state))
      throw conflict('file-state', `This cannot be done with a file that is ${file.state}.`)
    await tx.query(
      `UPDATE report_file SET state = ${to}, why = coalesce($2, why), asked_at = $3, asked_by = $4 WHERE id = $1`,
      [id, why?.trim() ?? null, nowText(), access.id],
    )
    await askForJob(tx, 'importReports')
  })
  return reportFileView(access, id)
}

/** Asks for a file to be taken in. A job does it. @param why what the office says of its values */
export const applyReportFile = (access: Access, id: string, why: string) =>
  move(access, id, ['ready'], `'applying'`, why)

/** Asks for a file to be taken back. A job does it. */
export const undoReportFile = (access: Access, id: string) => move(access, id, ['applied'], `'undoing'`)

/** Stops what is done with a file after its present report. What was done stays done. */
export const stopReportFile = (access: Access, id: string) =>
  move(access, id, ['applying', 'undoing'], `CASE state WHEN 'applying' THEN 'applied' ELSE 'undone' END`)

/** Files that were only looked at are forgotten after a week. @returns how many */
export async function forgetOldFiles(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query(
    `DELETE FROM report_file WHERE state = 'ready' AND at < $1::timestamptz - interval '7 days' RETURNING id`,
    [nowText()],
  )
  return gone.length
}
