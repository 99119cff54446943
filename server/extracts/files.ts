import { Readable } from 'node:stream'
import { v7 as uuid } from 'uuid'
import {
  MOST_REFUSED_ROWS,
  type ExtractDefinition,
  type ExtractFileLine,
  type ExtractFileList,
  type ExtractFileQuery,
  type FileAsk,
} from '#core/contract/extracts'
import { may } from '#core/contract/permission'
import type { ExtractPlan } from '#core/extract/sheets'
import { branchPath, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { askForJob } from '../queue/job-table'
import { conflict, notFound, Refusal } from '../refusal'
import { today } from '../settings'
import { printDay } from '#core/calendar/day'
import { openExtract } from './open'
import { fileName, kindOfFile, MEDIA_TYPES } from './pack'
import { partsOf } from './parts'
import { notYours } from './saved'

/** How many a page has. */
const PAGE = 30

/** So many files of one person wait at once. */
const MOST_WAITING = 10

/** What is kept of each extract of a file, also when its bytes are gone: the log. */
export interface TakenOut {
  name: string
  definition: ExtractDefinition
  of: string
  /** Were personal answers among the columns, and might the person take them? */
  personal: boolean
  /** The saved extract that it was taken from. */
  saved?: string
  /** Only what was received after this instant. */
  since?: string
}

/** What is kept of an extract that a person takes out. @param plan what they may see of it */
export const takenOut = (name: string, definition: ExtractDefinition, plan: ExtractPlan): TakenOut => ({
  ...{ name: name.trim(), definition, of: definition.of },
  personal: plan.fields.some(({ isPersonal }) => isPersonal),
})

const LINE = `SELECT f.id, f.name, p.display_name AS by, f.person = $1 AS mine, f.at, f.state,
    (SELECT jsonb_agg(jsonb_build_object('name', e -> 'name', 'of', e -> 'of', 'personal', e -> 'personal') ORDER BY n)
     FROM jsonb_array_elements(f.extracts) WITH ORDINALITY AS one (e, n)) AS extracts,
    f.rows, f.bytes, f.downloads, f.expires_at AS "expiresAt", f.problem, f.receipt, f.next_at AS "nextAt",
    CASE WHEN r.id IS NULL THEN NULL ELSE jsonb_build_object('id', r.id, 'name', r.name) END AS recipient,
    jsonb_array_length(f.refused) AS "refusedCount",
    (SELECT coalesce(jsonb_agg(o.one || jsonb_build_object('case', e.case_id) ORDER BY o.n), '[]')
     FROM jsonb_array_elements(f.refused) WITH ORDINALITY AS o (one, n) LEFT JOIN case_entry e ON e.id::text = o.one ->> 'row'
     WHERE o.n <= ${MOST_REFUSED_ROWS}) AS refused
  FROM extract_file f JOIN person p ON p.id = f.person LEFT JOIN unit_latest b ON b.code = p.branch
    LEFT JOIN recipient r ON r.id = f.recipient`

/** A page of the files that a person asked for, or, for who may see it, that people of the branch did. */
export async function listExtractFiles(
  access: Access,
  { whose = 'own', after }: ExtractFileQuery,
): Promise<ExtractFileList> {
  if (whose === 'all' && !may(access, 'seeOpenings'))
    throw new Refusal(403, 'no-permission', 'Your role does not allow this.')
  const sql = await database()
  const whoseIs =
    whose === 'own' ? 'f.person = $1' : `($3::text[] = '{}' OR coalesce(b.path @> $3::text[], false))`
  const rows = await sql.query<ExtractFileLine>(
    `${LINE} WHERE ${whoseIs} AND ($2::uuid IS NULL OR (f.at, f.id) < (SELECT a.at, a.id FROM extract_file a WHERE a.id = $2))
     ORDER BY f.at DESC, f.id DESC LIMIT ${PAGE + 1}`,
    [access.id, after ?? null, ...(whose === 'all' ? [branchPath(access.branch)] : [])],
  )
  return { lines: rows.slice(0, PAGE), more: rows.length > PAGE }
}

async function lineById(sql: Pick<Sql, 'query'>, access: Access, id: string): Promise<ExtractFileLine> {
  const [line] = await sql.query<ExtractFileLine>(`${LINE} WHERE f.id = $2`, [access.id, id])
  if (!line) throw notFound('file')
  if (!line.mine) throw notYours()
  return line
}

/** One file of the person who asks. @throws Refusal 404, 403 `extract-not-yours` */
export const extractFile = async (access: Access, id: string): Promise<ExtractFileLine> =>
  lineById(await database(), access, id)

/** When a person asked for the last file of a saved extract that became one; undefined where there is none. */
async function lastTaken(access: Access, saved: string): Promise<string | undefined> {
  const sql = await database()
  const [file] = await sql.query<{ at: string }>(
    `SELECT at FROM extract_file WHERE person = $1 AND state IN ('ready', 'expired') AND extracts @> ($2::jsonb -> 'of')
     ORDER BY at DESC LIMIT 1`,
    [access.id, { of: [{ saved }] }],
  )
  return file?.at
}

/**
 * Asks for a file of one or more extracts. A job makes it. What cannot be read is refused at once.
 * @throws Refusal as `openExtract`
 */
export async function askForFile(access: Access, { extracts }: FileAsk): Promise<ExtractFileLine> {
  const opened = []
  for (const { name, definition, saved, onlyNew } of extracts) {
    const { plan } = await openExtract(access, definition)
    if (!plan.sheets.length)
      throw new Refusal(422, 'extract-empty', `Of ${name} no column is left that you may take out.`)
    const since = saved && onlyNew ? await lastTaken(access, saved) : undefined
    opened.push({ name, definition, plan, more: { ...(saved && { saved }), ...(since && { since }) } })
  }
  const kind = kindOfFile(
    opened.map(({ definition, plan }) => ({ format: definition.format, tables: plan.sheets.length })),
  )
  const kept = opened.map(({ name, definition, plan, more }) => ({
    ...takenOut(name, definition, plan),
    ...more,
  }))
  const sql = await database()
  const id = uuid()
  const name = fileName(kept.length === 1 ? kept[0]!.name : 'extracts', printDay(await today()), kind)
  await sql.transaction(async tx => {
    // One person at a time: two requests must not both find room.
    await tx.query('SELECT 1 FROM person WHERE id = $1 FOR UPDATE', [access.id])
    const waiting = await tx.query(`SELECT 1 FROM extract_file WHERE person = $1 AND state = 'waiting'`, [
      access.id,
    ])
    if (waiting.length >= MOST_WAITING)
      throw conflict(
        'extract-many',
        `${MOST_WAITING} files of yours are not ready yet. Wait for them, or stop one.`,
      )
    await tx.query(
      `INSERT INTO extract_file (id, person, at, extracts, name, media_type, state) VALUES ($1, $2, $3, $4::jsonb -> 'extracts', $5, $6, 'waiting')`,
      [id, access.id, nowText(), { extracts: kept }, name, MEDIA_TYPES[kind]],
    )
    await askForJob(tx, 'makeExtracts')
  })
  return lineById(sql, access, id)
}

/** Stops a file that is not ready, or that did not reach its recipient. @throws Refusal 404, 409 `file-state` */
export async function stopFile(access: Access, id: string): Promise<ExtractFileLine> {
  const sql = await database()
  await lineById(sql, access, id)
  const stopped = await sql.query(
    `UPDATE extract_file SET state = 'stopped', next_at = NULL WHERE id = $1 AND person = $2 AND state IN ('waiting', 'sending') RETURNING id`,
    [id, access.id],
  )
  const line = await lineById(sql, access, id)
  if (!stopped.length) throw conflict('file-state', `This cannot be done with a file that is ${line.state}.`)
  await sql.query('DELETE FROM extract_part WHERE file = $1', [id])
  return line
}

/** A file to be given to the person who asked for it. */
export interface Download {
  name: string
  type: string
  bytes: number
  stream: Readable
}

/**
 * Opens a file for who asked for it; each time is counted.
 * @throws Refusal 404; 403 `extract-not-yours`; 410 `extract-expired`; 409 `file-state`
 */
export async function downloadFile(access: Access, id: string): Promise<Download> {
  const sql = await database()
  const line = await lineById(sql, access, id)
  const isOver = line.expiresAt !== null && line.expiresAt <= nowText()
  if (line.state === 'expired' || (line.state === 'ready' && isOver))
    throw new Refusal(
      410,
      'extract-expired',
      'This file was kept for a week, which is over. Ask for it again.',
    )
  if (line.state !== 'ready')
    throw conflict('file-state', `This cannot be done with a file that is ${line.state}.`)
  const [row] = await sql.query<{ type: string }>(
    'UPDATE extract_file SET downloads = downloads + 1 WHERE id = $1 RETURNING media_type AS type',
    [id],
  )
  return { name: line.name, type: row!.type, bytes: line.bytes, stream: Readable.from(partsOf(sql, id)) }
}

/** Files whose time is over lose their bytes; that they were taken out stays known. @returns how many */
export async function forgetOldExtracts(sql: Pick<Sql, 'query'>): Promise<number> {
  const gone = await sql.query<{ id: string }>(
    `UPDATE extract_file SET state = 'expired' WHERE state = 'ready' AND expires_at <= $1 RETURNING id`,
    [nowText()],
  )
  await sql.query('DELETE FROM extract_part WHERE file = ANY($1::uuid[])', [gone.map(({ id }) => id)])
  return gone.length
}
