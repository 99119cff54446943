import { v7 as uuid } from 'uuid'
import { groupBy } from '#core/group-by'
import type { JobResult } from '#core/contract/jobs'
import type { CellContent } from '#core/report/cell'
import type { Doubt } from '#core/rule/find-doubts'
import { isReceived, type ReportState } from '#core/report/state'
import { accessById, type Access } from '../access/access'
import { changeReports } from '../checks/change-report'
import { historiesOf } from '../checks/recheck'
import { database, type Database, type Sql } from '../database'
import type { JobTurn } from '../queue/turn'
import { conflict, Refusal } from '../refusal'
import { undoSends } from '../reports/move'
import { lockedPlaces, stateOf } from '../reports/place'
import { beginReports } from '../reporting/apply-changes'
import { sendAllAt } from '../reporting/send'
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
  /** The report as it was when this was read. */
  state: ReportState
}

const ORIGIN = { origin: 'file' } as const

/** What stands in the sheets was taken in, or back, in whole: a report of which a part cannot be stays as it is. */
function mustAllStand(outcomes: readonly { outcome: string; code?: string }[]): void {
  const failed = outcomes.find(({ outcome }) => outcome !== 'received' && outcome !== 'alreadyHad')
  if (failed)
    throw conflict(
      failed.code ?? 'file-changed',
      'Somebody changed this report since the file was looked at.',
    )
}

/** Takes some reports in. @returns each as it was before @throws Refusal when one of them cannot be */
async function importParts(
  tx: Sql,
  access: Access,
  file: File,
  parts: readonly Part[],
): Promise<Part['before'][]> {
  const places = await lockedPlaces(tx, access, parts)
  for (const { round } of places) mustBeOpen(round)
  const before = places.map(({ report }) => {
    const { firstReceivedAt = null, receivedAt = null } = report ?? {}
    return { state: stateOf(report), firstReceivedAt, receivedAt }
  })
  const begun = await beginReports(tx, places, access)
  const asked = begun.map((place, at) => ({
    place,
    changes: parts[at]!.changes.map(change => ({ ...change, why: file.why })),
  }))
  const unsent = begun.filter((_, at) => !isReceived(before[at]!.state))
  const histories = historiesOf(tx, unsent)
  for (const outcomes of await changeReports(tx, asked, access, ORIGIN)) mustAllStand(outcomes)
  // What the office says of the values is what it says of their doubts, until the facility says more.
  const saying = (doubts: readonly Doubt[]) => Object.fromEntries(doubts.map(({ key }) => [key, file.why]))
  if (unsent.length) await sendAllAt(tx, access, unsent, saying, histories)
  return before
}

/** The last event of a cell that a file changed, and what stood there before it. */
interface LastEvent {
  report: number
  cell: string
  id: string
  version: number
  old: CellContent
}

async function lastEvents(
  tx: Sql,
  changes: readonly { report: number; cell: string }[],
): Promise<Map<string, LastEvent>> {
  const events = await tx.query<LastEvent>(
    // By lateral: each is looked up by its index. As a plain join, a thousand are sought through the whole history.
    `SELECT w.report, w.cell, e.id, e.old, v.version
     FROM unnest($1::bigint[], $2::text[]) AS w (report, cell)
       CROSS JOIN LATERAL (SELECT c.id, c.old FROM cell_event c WHERE c.report = w.report AND c.cell = w.cell ORDER BY c.seq DESC LIMIT 1) e
       CROSS JOIN LATERAL (SELECT c.version FROM cell_value c WHERE c.report = w.report AND c.cell = w.cell LIMIT 1) v`,
    [changes.map(({ report }) => report), changes.map(({ cell }) => cell)],
  )
  return new Map(events.map(event => [`${event.report} ${event.cell}`, event]))
}

/** Takes some reports back: their values as they were, where nobody changed them since. @throws Refusal */
async function undoParts(tx: Sql, access: Access, file: File, parts: readonly Part[]): Promise<void> {
  const places = (await lockedPlaces(tx, access, parts)).map((place, at) => {
    const { report } = place
    const { before } = parts[at]!
    if (!report || !before) throw conflict('file-changed', 'This report is not as the file left it.')
    if (report.state === 'accepted' && before.state !== 'accepted')
      throw conflict('file-accepted', 'This report was accepted since.')
    return { ...place, report, before }
  })
  const eventOf = await lastEvents(
    tx,
    places.flatMap(({ report }, at) => parts[at]!.changes.map(({ cell }) => ({ cell, report: report.id }))),
  )
  const why = `Taken back: ${file.name}`
  const asked = places.map((place, at) => ({
    place,
    changes: parts[at]!.changes.map(({ id, cell }) => {
      const event = eventOf.get(`${place.report.id} ${cell}`)
      if (event?.id !== id) throw conflict('file-changed', 'Somebody changed this report since.')
      return { id: uuid(), cell, base: event.version, content: event.old, why }
    }),
  }))
  for (const outcomes of await changeReports(tx, asked, access, ORIGIN, true)) mustAllStand(outcomes)
  const unsent = places.filter(({ before }) => !isReceived(before.state))
  await undoSends(tx, unsent, access.id, why)
}

/** Notes what became of some reports. @param before each as it was, where they were taken in */
const note = (
  sql: Pick<Sql, 'query'>,
  file: File,
  parts: readonly Part[],
  state: string,
  problem: string | null = null,
  before: readonly Part['before'][] = [],
): Promise<object[]> =>
  sql.query(
    `UPDATE report_file_part p SET state = $2, problem = $3, before = coalesce(g.before::jsonb, p.before)
     FROM unnest($4::int[], $5::text[]) AS g (number, before) WHERE p.file = $1 AND p.number = g.number`,
    [
      ...[file.id, state, problem],
      parts.map(({ number }) => number),
      parts.map((_, at) => (before[at] ? JSON.stringify(before[at]) : null)),
    ],
  )

/** Those of some reports that still wait: another turn, taken for dead, may have done some meanwhile. */
async function stillWaiting(tx: Sql, file: File, parts: readonly Part[]): Promise<Part[]> {
  const rows = await tx.query<{ number: number }>(
    'SELECT number FROM report_file_part WHERE file = $1 AND number = ANY($2::int[]) AND state = $3 ORDER BY number FOR UPDATE',
    [file.id, parts.map(({ number }) => number), waitingState(file)],
  )
  const numbers = new Set(rows.map(({ number }) => number))
  return parts.filter(({ number }) => numbers.has(number))
}

const waitingState = ({ state }: File) => (state === 'undoing' ? 'done' : 'ready')

/** Does some reports in one transaction. Where one of them cannot be done, each is done by itself. */
async function handle(file: File, parts: readonly Part[]): Promise<void> {
  const sql = await database()
  const isUndo = file.state === 'undoing'
  try {
    await sql.transaction(async tx => {
      const waiting = await stillWaiting(tx, file, parts)
      if (!waiting.length) return
      // The person may have lost the branch since.
      const access = await accessById(file.askedBy, tx)
      if (isUndo) {
        await undoParts(tx, access, file, waiting)
        await note(tx, file, waiting, 'undone')
      } else await note(tx, file, waiting, 'done', null, await importParts(tx, access, file, waiting))
    })
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    if (parts.length === 1) await note(sql, file, parts, isUndo ? 'kept' : 'refused', error.code)
    else for (const part of parts) await handle(file, [part])
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

/** So many transactions' reports are read at once. */
const HANDFUL = 12
/**
 * So many are done in one transaction. On the embedded engine all others wait for it meanwhile; on a server only
 * those who write reports of these facilities.
 */
const AT_ONCE = { embedded: 7, server: 20 } as const

/**
 * The next reports of a file, while nobody stopped it: those of earlier rounds first, since a report is judged by
 * those before it.
 */
const nextParts = (sql: Pick<Sql, 'query'>, file: File, most: number) =>
  sql.query<Part>(
    `SELECT r.number, r.round, r.unit, r.changes, r.before, coalesce(p.state, 'awaited') AS state
     FROM report_file_part r LEFT JOIN report p ON p.round = r.round AND p.unit = r.unit
     WHERE r.file = $1 AND r.number IN (
       SELECT r.number FROM report_file_part r JOIN report_file f ON f.id = r.file AND f.state = $2
       WHERE r.file = $1 AND r.state = $3 ORDER BY r.round, r.number LIMIT $4)
     ORDER BY r.round, r.number`,
    [file.id, file.state, waitingState(file), most],
  )

/**
 * So many transactions go on side by side: on a server the reports of one are judged while those of another are
 * written. The embedded engine has one connection.
 */
const SIDE_BY_SIDE = { embedded: 1, server: 2 } as const

/**
 * Reports as they are done together: not too many, of one round, and either of those that are judged anew or of those
 * that are sent, because a transaction with both judges twice.
 * @returns lists of transactions, each list after the one before; the transactions of a list in any order
 */
const together = (parts: readonly Part[], atOnce: number): Part[][][] =>
  [...groupBy(parts, ({ round, state }) => `${round} ${isReceived(state)}`).values()].map(alike =>
    Array.from({ length: Math.ceil(alike.length / atOnce) }, (_, at) =>
      alike.slice(at * atOnce, (at + 1) * atOnce),
    ),
  )

/**
 * Does some work, so much of it side by side. Where one fails, those that run are waited for, and no other begins.
 * @throws what was thrown first
 */
async function sideBySide<T>(
  work: readonly T[],
  most: number,
  act: (one: T) => Promise<void>,
): Promise<void> {
  const left = [...work]
  const failures: unknown[] = []
  const takeTurns = async () => {
    for (let one = left.shift(); one !== undefined && !failures.length; one = left.shift())
      await act(one).catch((reason: unknown) => failures.push(reason))
  }
  await Promise.all(Array.from({ length: most }, takeTurns))
  if (failures.length) throw failures[0]
}

/**
 * Takes in, or back, the files that somebody asked for, a few reports at a time. A turn that ends in between is
 * gone on with by the next.
 * @param atOnce how many reports one transaction has at the most
 */
export async function importReports({ signal, progress }: JobTurn, atOnce?: number): Promise<JobResult> {
  const sql = await database()
  let reports = 0
  const done = (parts: number) => progress((reports += parts))
  for (let file = await nextFile(sql); file; file = await nextFile(sql)) {
    await finish(sql, file, atOnce ?? AT_ONCE[sql.engine], signal, done)
    await sql.query(
      `UPDATE report_file SET state = CASE state WHEN 'applying' THEN 'applied' WHEN 'undoing' THEN 'undone' ELSE state END
       WHERE id = $1 AND state = $2`,
      [file.id, file.state],
    )
  }
  return { numbers: { reports }, details: [] }
}

/** Does what is left of a file. @param done gets the number of reports of each transaction */
async function finish(
  sql: Pick<Database, 'query' | 'engine'>,
  file: File,
  atOnce: number,
  signal: AbortSignal,
  done: (parts: number) => void,
): Promise<void> {
  const next = () => nextParts(sql, file, HANDFUL * atOnce)
  for (let handful = await next(); handful.length; handful = await next())
    for (const alike of together(handful, atOnce))
      await sideBySide(alike, SIDE_BY_SIDE[sql.engine], async parts => {
        signal.throwIfAborted()
        await handle(file, parts)
        done(parts.length)
      })
}
