import type { ReportStory } from '#core/contract/paper-report'
import type { Access } from '../access/access'
import { database } from '../database'
import { reportPlace } from './place'

/** How much of each list is told: of a report that many people changed, the last. */
const MOST = 30

/** Who filled a report, when, on which device and in which edition, and what became of it. @throws 403, 404 */
export async function reportStory(access: Access, round: string, unit: string): Promise<ReportStory> {
  const sql = await database()
  const { report } = await reportPlace(sql, access, round, unit)
  if (!report) return { edition: null, filled: [], moves: [], papers: [] }
  const filled = await sql.query<ReportStory['filled'][number]>(
    `SELECT coalesce(p.display_name, '') AS by, d.name AS device, e.origin, count(DISTINCT e.cell)::int AS cells, max(e.at) AS "lastAt"
     FROM cell_event e LEFT JOIN person p ON p.id = e.person
       LEFT JOIN received_change r ON r.id = e.id LEFT JOIN device d ON d.id = r.device
     WHERE e.report = $1 GROUP BY p.display_name, d.name, e.origin ORDER BY max(e.at) DESC LIMIT ${MOST}`,
    [report.id],
  )
  const moves = await sql.query<ReportStory['moves'][number]>(
    `SELECT e.at, coalesce(p.display_name, '') AS by, e.to_state AS "to", e.why
     FROM report_event e LEFT JOIN person p ON p.id = e.person WHERE e.report = $1 ORDER BY e.seq DESC LIMIT ${MOST}`,
    [report.id],
  )
  const papers = await sql.query<ReportStory['papers'][number]>(
    `SELECT l.paper_on AS "paperOn", l.filled_by AS "filledBy", p.display_name AS by, l.at
     FROM report_paper l JOIN person p ON p.id = l.person WHERE l.report = $1 ORDER BY l.at DESC LIMIT ${MOST}`,
    [report.id],
  )
  return { edition: report.edition, filled, moves, papers }
}
