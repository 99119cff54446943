import type { JobResult } from '#core/contract/jobs'
import { now, nowText } from '../clock'
import { database, type Database, type Sql } from '../database'
import { logError } from '../log'
import { askForJob } from '../queue/job-table'
import type { JobTurn } from '../queue/turn'
import { Refusal } from '../refusal'
import type { TakenOut } from './files'
import { openExtract } from './open'
import { ownerAccess } from './owner'
import { packBytes, type Packed } from './pack'
import { NoLongerWanted, PartStore } from './parts'
import { accessFor } from './recipients'

/** A file that was begun so often and never ended is given up. */
const MOST_ATTEMPTS = 3
const KEPT_MS = 7 * 24 * 3_600_000

interface Waiting {
  id: string
  person: string
  extracts: TakenOut[]
  attempt: number
  /** Where it goes; null: to who asked. */
  recipient: string | null
  isWhole: boolean
}

/** Takes the file that waits longest. What an earlier turn wrote of it is removed. */
async function takeNext(sql: Database): Promise<Waiting | null> {
  return sql.transaction(async tx => {
    const [file] = await tx.query<Waiting>(
      `UPDATE extract_file SET attempt = attempt + 1, rows = 0, bytes = 0
       WHERE id = (SELECT id FROM extract_file WHERE state = 'waiting' ORDER BY at, id LIMIT 1 FOR UPDATE)
       RETURNING id, person, extracts, attempt, recipient, is_whole AS "isWhole"`,
    )
    if (file) await tx.query('DELETE FROM extract_part WHERE file = $1', [file.id])
    return file ?? null
  })
}

/** Opens the extracts with what the person may see now. @throws Refusal */
async function openAll({ person, extracts, recipient }: Waiting): Promise<Packed[]> {
  const owner = await ownerAccess(person)
  const access = recipient ? await accessFor(await database(), owner, recipient) : owner
  const opened: Packed[] = []
  for (const { name, definition, since = null } of extracts)
    opened.push({ name, definition, open: await openExtract(access, definition, since) })
  return opened
}

const end = (
  sql: Pick<Sql, 'query'>,
  { id, attempt }: Waiting,
  state: 'ready' | 'failed',
  problem: string | null,
) =>
  sql.query(
    `UPDATE extract_file SET state = $3, problem = $4, expires_at = $5 WHERE id = $1 AND attempt = $2 AND state = 'waiting'`,
    [id, attempt, state, problem, state === 'ready' ? new Date(now() + KEPT_MS).toISOString() : null],
  )

/** A whole file goes out to its recipient. Where nothing came since the last one, nothing does. */
async function sendOut(database: Database, { id, attempt, isWhole }: Waiting, rows: number): Promise<void> {
  const own = `id = $1 AND attempt = $2 AND state = 'waiting'`
  if (!rows && !isWhole) {
    await database.query(`DELETE FROM extract_file WHERE ${own}`, [id, attempt])
    return
  }
  await database.transaction(async tx => {
    await tx.query(`UPDATE extract_file SET state = 'sending', next_at = $3 WHERE ${own}`, [
      id,
      attempt,
      nowText(),
    ])
    await askForJob(tx, 'sendOn')
  })
}

/** Makes one file. It is ready when all of it is stored: nobody gets a half. */
async function makeFile(file: Waiting, { signal, progress }: JobTurn): Promise<void> {
  const sql = await database()
  const store = new PartStore(sql, file)
  try {
    if (file.attempt > MOST_ATTEMPTS)
      throw new Refusal(500, 'extract-died', 'It was begun three times, and never ended.')
    const note = (rows: number) => {
      signal.throwIfAborted()
      store.rows += rows
      progress(store.rows)
    }
    for await (const chunk of packBytes(await openAll(file), note)) await store.add(chunk)
    await store.flush()
    await sql.query('UPDATE extract_file SET rows = $2 WHERE id = $1 AND attempt = $3', [
      file.id,
      store.rows,
      file.attempt,
    ])
    if (file.recipient) await sendOut(sql, file, store.rows)
    else await end(sql, file, 'ready', null)
  } catch (error) {
    // The turn ends, and the next one begins the file anew.
    if (signal.aborted) throw error
    if (!(error instanceof NoLongerWanted)) {
      const code = error instanceof Refusal ? error.code : 'server'
      if (code === 'server') logError('An extract could not be made', error)
      await end(sql, file, 'failed', code)
    }
    await sql.query(
      'DELETE FROM extract_part p USING extract_file f WHERE p.file = $1 AND f.id = $1 AND f.attempt = $2',
      [file.id, file.attempt],
    )
  }
}

/** Makes the files that people asked for, the oldest first. */
export async function makeExtracts(turn: JobTurn): Promise<JobResult> {
  const sql = await database()
  let files = 0
  for (let file = await takeNext(sql); file; file = await takeNext(sql)) {
    turn.signal.throwIfAborted()
    await makeFile(file, turn)
    files++
  }
  return { numbers: { files }, details: [] }
}

/** Does somebody wait for a file? */
export async function areExtractsAsked(): Promise<boolean> {
  const sql = await database()
  return (await sql.query(`SELECT 1 FROM extract_file WHERE state = 'waiting' LIMIT 1`)).length > 0
}
