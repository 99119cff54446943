import {
  MOST_FILE_LINES,
  type FilePart,
  type ReportFileLine,
  type ReportFileList,
  type ReportFileView,
} from '#core/contract/report-files'
import type { Access } from '../access/access'
import { database } from '../database'
import { notFound, outsideBranch } from '../refusal'
import { roundRef, roundsById } from '../rounds/round'

/** How many a page has. */
const PAGE = 30

/** For queries: the files `f` that a person may see: of their own branch, and all for who sees everything. */
const SEEN = '($1::text IS NULL OR f.branch = $1)'

/** @throws Refusal 404 where there is no such file, 403 for the file of another branch */
export function mustSeeFile<File extends { branch: string | null }>(
  access: Access,
  file: File | undefined,
): File {
  if (!file) throw notFound('file')
  if (access.branch !== null && file.branch !== access.branch) throw outsideBranch()
  return file
}

const LINE = `SELECT f.branch, f.id, f.dataset, f.name, f.at, p.display_name AS by, f.state, c.counts, f.notes, f.why
  FROM report_file f JOIN person p ON p.id = f.person
    CROSS JOIN LATERAL (SELECT jsonb_build_object('reports', count(*), 'changes', coalesce(sum(r.changed), 0),
      'ready', count(*) FILTER (WHERE r.state = 'ready'), 'done', count(*) FILTER (WHERE r.state = 'done'),
      'refused', count(*) FILTER (WHERE r.state = 'refused'), 'undone', count(*) FILTER (WHERE r.state = 'undone'),
      'kept', count(*) FILTER (WHERE r.state = 'kept')) AS counts FROM report_file_part r WHERE r.file = f.id) c`

type Row = ReportFileLine & Pick<ReportFileView, 'notes' | 'why'> & { branch: string | null }
const lineOf = ({ notes: _notes, why: _why, branch: _branch, ...line }: Row): ReportFileLine => line

/** A page of the files that were taken in, or looked at, the newest first. */
export async function listReportFiles(
  access: Access,
  { after }: { after?: string },
): Promise<ReportFileList> {
  const sql = await database()
  const rows = await sql.query<Row>(
    `${LINE} WHERE ${SEEN} AND ($2::uuid IS NULL OR (f.at, f.id) < (SELECT a.at, a.id FROM report_file a WHERE a.id = $2))
     ORDER BY f.at DESC, f.id DESC LIMIT ${PAGE + 1}`,
    [access.branch, after ?? null],
  )
  return { lines: rows.slice(0, PAGE).map(lineOf), more: rows.length > PAGE }
}

/** One file: what it changes, what was refused, and how far it is. @throws Refusal 403, 404 */
export async function reportFileView(access: Access, id: string): Promise<ReportFileView> {
  const sql = await database()
  const [found] = await sql.query<Row>(`${LINE} WHERE f.id = $1`, [id])
  const row = mustSeeFile(access, found)
  const parts = await sql.query<
    Omit<FilePart, 'round' | 'unit'> & { round: string; code: string; unitName: string }
  >(
    `SELECT r.round, r.unit AS code, u.name AS "unitName", r.sheet, r.row, r.changed AS changes, r.state,
       r.problem, coalesce(p.state, 'awaited') AS report
     FROM report_file_part r JOIN unit_latest u ON u.code = r.unit LEFT JOIN report p ON p.round = r.round AND p.unit = r.unit
     WHERE r.file = $1 ORDER BY r.state NOT IN ('refused', 'kept'), r.number LIMIT ${MOST_FILE_LINES}`,
    [id],
  )
  const rounds = await roundsById(
    sql,
    parts.map(({ round }) => round),
  )
  return {
    line: lineOf(row),
    notes: row.notes,
    why: row.why,
    parts: parts.map(({ round, code, unitName, ...part }) => ({
      ...part,
      round: roundRef(rounds.get(round)!),
      unit: { code, name: unitName },
    })),
  }
}
