import { v7 as uuid } from 'uuid'
import { civilDate, dayNumber, daysInMonth } from '#core/calendar/conversions'
import { printDay } from '#core/calendar/day'
import type { ExtractDefinition, ExtractRepeats } from '#core/contract/extracts'
import type { JobResult } from '#core/contract/jobs'
import { now, nowText } from '../clock'
import { database, type Database, type Sql } from '../database'
import { logError } from '../log'
import type { JobTurn } from '../queue/turn'
import { Refusal } from '../refusal'
import { today } from '../settings'
import { takenOut } from './files'
import { askToSend } from './ask-to-send'
import { extractFolder, hasFolder, writeIntoFolder } from './folder'
import { openExtract } from './open'
import { ownerAccess } from './owner'
import { fileName, kindOfFile, MEDIA_TYPES, packBytes } from './pack'

const DAY_MS = 86_400_000

/**
 * When an extract is written next after an instant. A month later is the same day of the next month, or its last.
 * @example nextTime('month', Date.parse('2026-01-31T05:00:00Z')) // 2026-02-28T05:00:00Z
 */
export function nextTime(repeats: ExtractRepeats, after: number): number {
  if (repeats !== 'month') return after + (repeats === 'day' ? 1 : 7) * DAY_MS
  const { year, month, day } = civilDate(Math.floor(after / DAY_MS))
  const next = month === 12 ? { year: year + 1, month: 1 } : { year, month: month + 1 }
  const last = daysInMonth(next.year, next.month)
  return dayNumber({ ...next, day: Math.min(day, last) }) * DAY_MS + (after % DAY_MS)
}

interface Due {
  id: string
  person: string
  name: string
  definition: ExtractDefinition
  repeats: ExtractRepeats
  onlyNew: boolean
  lastAt: string | null
  nextAt: string
  /** Where it goes; null: into the folder. */
  recipient: string | null
}

/** From time to time at the same hour; after a long stop, from now on. */
function timeAfter({ repeats, nextAt }: Pick<Due, 'repeats' | 'nextAt'>): string {
  const planned = nextTime(repeats, Date.parse(nextAt))
  return new Date(planned > now() ? planned : nextTime(repeats, now())).toISOString()
}

/** For queries: has the time of an extract come at `$1`, and is there a place for it? `$2`: there is a folder. */
const IS_DUE = 'repeats IS NOT NULL AND next_at <= $1 AND (recipient IS NOT NULL OR $2)'

/** An extract whose time has come, and whose next time is set at once: one that fails holds up no other. */
async function takeDue(sql: Database): Promise<Due | null> {
  return sql.transaction(async tx => {
    const [due] = await tx.query<Due>(
      `SELECT id, person, name, definition, repeats, only_new AS "onlyNew", last_at AS "lastAt", next_at AS "nextAt", recipient
       FROM extract WHERE ${IS_DUE} ORDER BY next_at, id LIMIT 1 FOR UPDATE`,
      [nowText(), hasFolder()],
    )
    if (!due) return null
    await tx.query('UPDATE extract SET next_at = $2 WHERE id = $1', [due.id, timeAfter(due)])
    return due
  })
}

/** Writes one extract into the folder, with what its owner may see now. @returns how many rows */
async function write(sql: Pick<Sql, 'query'>, due: Due, folder: string, turn: JobTurn): Promise<number> {
  const access = await ownerAccess(due.person)
  // Before it is read: what comes meanwhile is in the next one, too.
  const at = nowText()
  const open = await openExtract(access, due.definition, due.onlyNew ? due.lastAt : null)
  const kind = kindOfFile([{ format: due.definition.format, tables: open.plan.sheets.length }])
  // Two extracts of one name must not write over each other.
  const name = fileName(due.name, `${printDay(await today())} ${due.id.slice(-6)}`, kind)
  let rows = 0
  const note = (more: number) => {
    turn.signal.throwIfAborted()
    turn.progress((rows += more))
  }
  const bytes = await writeIntoFolder(
    folder,
    name,
    packBytes([{ name: due.name, definition: due.definition, open }], note),
  )
  const kept = takenOut(due.name, due.definition, open.plan)
  await sql.query(
    `INSERT INTO extract_file (id, person, at, extracts, name, media_type, state, rows, bytes)
     VALUES ($1, $2, $3, $4::jsonb -> 'extracts', $5, $6, 'written', $7, $8)`,
    [uuid(), due.person, at, { extracts: [kept] }, name, MEDIA_TYPES[kind], rows, bytes],
  )
  await sql.query('UPDATE extract SET last_at = $2, problem = NULL WHERE id = $1', [due.id, at])
  return rows
}

/** What a person is told of a failure: the code of a refusal or of the disk. */
const problemOf = (error: unknown): string => {
  if (error instanceof Refusal) return error.code
  const code = (error as { code?: unknown }).code
  return code === 'ENOSPC' ? 'disk-full' : 'server'
}

/** Writes the extracts whose time has come into the folder of the installation, or has them made for their recipients. */
export async function writeDueExtracts(turn: JobTurn): Promise<JobResult> {
  const sql = await database()
  const folder = extractFolder()
  let files = 0
  for (let due = await takeDue(sql); due; due = await takeDue(sql)) {
    turn.signal.throwIfAborted()
    try {
      if (due.recipient)
        await askToSend(sql, await ownerAccess(due.person), { ...due, recipient: due.recipient })
      else await write(sql, due, folder!, turn)
      files++
    } catch (error) {
      if (turn.signal.aborted) {
        // The next turn writes it.
        await sql.query('UPDATE extract SET next_at = $2 WHERE id = $1', [due.id, nowText()])
        throw error
      }
      const problem = problemOf(error)
      if (!(error instanceof Refusal)) logError('An extract that repeats could not be written or sent', error)
      await sql.query('UPDATE extract SET problem = $2 WHERE id = $1', [due.id, problem])
    }
  }
  return { numbers: { files }, details: [] }
}

/** Has the time of an extract come? */
export async function areExtractsDue(): Promise<boolean> {
  const sql = await database()
  return (
    (await sql.query(`SELECT 1 FROM extract WHERE ${IS_DUE} LIMIT 1`, [nowText(), hasFolder()])).length > 0
  )
}
