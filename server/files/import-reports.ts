import { v7 as uuid } from 'uuid'
import type { JobResult } from '#core/contract/jobs'
import type { CellContent } from '#core/report/cell'
import { isReceived, type ReportState } from '#core/report/state'
import { accessById, type Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { database, type Sql } from '../database'
import type { JobTurn } from '../queue/turn'
import { conflict, Refusal } from '../refusal'
import { undoSend } from '../reports/move'
import { lockedPlace, stateOf } from '../reports/place'
import { beginReport } from '../reporting/apply-changes'
import { sendAt } from '../reporting/send'
import { mustBeOpen } from '../rounds/closing'
import type { FileChange } from './plan'

interface File {
  id: string
  name: string
  state: 'applying' | 'undoing'
  why: string
  askedBy: string
}
interface Part {
  number: number
  round: string
  unit: string
  changes: FileChange[]
  before: { state: ReportState; firstReceivedAt: string | null; receivedAt: string | null } | null
}

/** What stands in the sheets was taken in, or back, in whole: a report of which a part cannot be stays as it is. */
function mustAllStand(outcomes: readonly { outcome: string; code?: string }[]): void {
  const failed = outcomes.find(({ outcome }) => outcome !== 'received' && outcome !== 'alreadyHad')
  if (failed)
    throw conflict(
      failed.code ?? 'file-changed',
      'Somebody changed this report since the file was looked at.',
    )
}

/** Takes one report in. @throws Refusal when it cannot be */
async function importReport(
  tx: Sql,
  access: Access,
  file: File,
  { round, unit, changes }: Part,
): Promise<Part['before']> {
  const place = await lockedPlace(tx, access, round, unit)
  mustBeOpen(place.round)
  const { firstReceivedAt = null, receivedAt = null } = place.report ?? {}
  const before = { state: stateOf(place.report), firstReceivedAt, receivedAt }
  const report = await beginReport(tx, place, access)
  const asked = changes.map(change => ({ ...change, why: file.why }))
  mustAllStand(await changeReport(tx, { ...place, report }, access, asked, { origin: 'file' }))
  // What the office says of the values is what it says of their doubts, until the facility says more.
  if (!isReceived(before.state)) await sendAt(tx, access, { ...place, report }, {}, file.why)
  return before
}

/** Takes one report back: its values as they were, where nobody changed them since. @throws Refusal */
async function undoImport(
  tx: Sql,
  access: Access,
  file: File,
  { round, unit, changes, before }: Part,
): Promise<void> {
  const place = await lockedPlace(tx, access, round, unit)
  const { report } = place
  if (!report || !before) throw conflict('file-changed', 'This report is not as the file left it.')
  if (report.state === 'accepted' && before.state !== 'accepted')
    throw conflict('file-accepted', 'This report was accepted since.')
  const events = await tx.query<{ cell: string; last: string; version: number; old: CellContent | null }>(
    `SELECT DISTINCT ON (e.cell) e.cell, e.id AS last, v.version, o.old
     FROM cell_event e JOIN cell_value v ON v.report = e.report AND v.cell = e.cell
       LEFT JOIN cell_event o ON o.id = ANY($3::uuid[]) AND o.report = e.report AND o.cell = e.cell
     WHERE e.report = $1 AND e.cell = ANY($2::text[]) ORDER BY e.cell, e.seq DESC`,
    [report.id, changes.map(({ cell }) => cell), changes.map(({ id }) => id)],
  )
  const eventOf = new Map(events.map(event => [event.cell, event]))
  const why = `Taken back: ${file.name}`
  const asked = changes.map(({ id, cell }) => {
    const event = eventOf.get(cell)
    if (event?.last !== id || !event.old)
      throw conflict('file-changed', 'Somebody changed this report since.')
    return { id: uuid(), cell, base: event.version, content: event.old, why }
  })
  mustAllStand(await changeReport(tx, { ...place, report }, access, asked, { origin: 'file' }, true))
  if (!isReceived(before.state)) await undoSend(tx, report, before, access.id, why)
}

/** Does one report, in a transaction of its own: whole, or not at all. */
async function handle(file: File, part: Part): Promise<void> {
  const sql = await database()
  const isUndo = file.state === 'undoing'
  const note = (to: Pick<Sql, 'query'>, state: string, problem: string | null, before: object | null) =>
    to.query(
      'UPDATE report_file_part SET state = $3, problem = $4, before = coalesce($5, before) WHERE file = $1 AND number = $2',
      [file.id, part.number, state, problem, before],
    )
  try {
    await sql.transaction(async tx => {
      const [own] = await tx.query<{ state: string }>(
        'SELECT state FROM report_file_part WHERE file = $1 AND number = $2 FOR UPDATE',
        [file.id, part.number],
      )
      // Another turn, taken for dead, did it meanwhile.
      if (own?.state !== (isUndo ? 'done' : 'ready')) return
      // The person may have lost the branch since.
      const access = await accessById(file.askedBy, tx)
      if (isUndo) {
        await undoImport(tx, access, file, part)
        await note(tx, 'undone', null, null)
      } else await note(tx, 'done', null, await importReport(tx, access, file, part))
    })
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    await note(sql, isUndo ? 'kept' : 'refused', error.code, null)
  }
}

/** Does somebody wait for a file? */
export async function areFilesAsked(): Promise<boolean> {
  const sql = await database()
  return (
    (await sql.query(`SELECT 1 FROM report_file WHERE state IN ('applying', 'undoing') LIMIT 1`)).length > 0
  )
}

async function nextFile(sql: Pick<Sql, 'query'>): Promise<File | undefined> {
  const [file] = await sql.query<File>(
    `SELECT id, name, state, why, asked_by AS "askedBy" FROM report_file
     WHERE state IN ('applying', 'undoing') ORDER BY asked_at, id LIMIT 1`,
  )
  return file
}

/** So many reports are read at once. */
const HANDFUL = 20

/** The next reports of a file, while nobody stopped it. */
const nextParts = (sql: Pick<Sql, 'query'>, { id, state }: File) =>
  sql.query<Part>(
    `SELECT r.number, r.round, r.unit, r.changes, r.before FROM report_file_part r JOIN report_file f ON f.id = r.file AND f.state = $2
     WHERE r.file = $1 AND r.state = $3 ORDER BY r.number LIMIT ${HANDFUL}`,
    [id, state, state === 'undoing' ? 'done' : 'ready'],
  )

/**
 * Takes in, or back, the files that somebody asked for, report by report: others who write or read wait for
 * one report at the most. A turn that ends in between is gone on with by the next.
 */
export async function importReports({ signal, progress }: JobTurn): Promise<JobResult> {
  const sql = await database()
  let reports = 0
  for (let file = await nextFile(sql); file; file = await nextFile(sql)) {
    for (let parts = await nextParts(sql, file); parts.length; parts = await nextParts(sql, file))
      for (const part of parts) {
        signal.throwIfAborted()
        await handle(file, part)
        progress(++reports)
      }
    await sql.query(
      `UPDATE report_file SET state = CASE state WHEN 'applying' THEN 'applied' WHEN 'undoing' THEN 'undone' ELSE state END
       WHERE id = $1 AND state = $2`,
      [file.id, file.state],
    )
  }
  return { numbers: { reports }, details: [] }
}
