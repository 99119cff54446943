import { v7 as uuid } from 'uuid'
import type { CellStory } from '#core/contract/reports'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound } from '../refusal'
import { reportPlace } from './place'

/** Everything that happened to one cell, newest first, and what people wrote beside it. */
export async function cellStory(
  access: Access,
  roundId: string,
  unit: string,
  cell: string,
): Promise<CellStory> {
  const sql = await database()
  const { report, ready } = await reportPlace(sql, access, roundId, unit)
  if (!ready.cellByKey.has(cell)) throw notFound('cell')
  if (!report) return { events: [], comments: [] }
  const events = await sql.query<CellStory['events'][number]>(
    `SELECT e.at, coalesce(p.display_name, '') AS by, e.origin, e.old, e.new, e.why
     FROM cell_event e LEFT JOIN person p ON p.id = e.person WHERE e.report = $1 AND e.cell = $2 ORDER BY e.seq DESC`,
    [report.id, cell],
  )
  const comments = await sql.query<CellStory['comments'][number]>(
    `SELECT c.at, p.display_name AS by, c.text FROM cell_comment c JOIN person p ON p.id = c.person
     WHERE c.report = $1 AND c.cell = $2 ORDER BY c.at DESC`,
    [report.id, cell],
  )
  return { events, comments }
}

/** Writes a comment at a cell. @throws Refusal 409 `state` on a report that nobody has begun. */
export async function commentCell(
  sql: Pick<Sql, 'query'>,
  access: Access,
  roundId: string,
  unit: string,
  cell: string,
  text: string,
): Promise<void> {
  const { report, ready } = await reportPlace(sql, access, roundId, unit)
  if (!ready.cellByKey.has(cell)) throw notFound('cell')
  if (!report) throw conflict('state', 'This report has not been begun: there is nothing to comment on yet.')
  await sql.query(
    'INSERT INTO cell_comment (id, report, cell, at, person, text) VALUES ($1, $2, $3, $4, $5, $6)',
    [uuid(), report.id, cell, nowText(), access.id, text.trim()],
  )
}
