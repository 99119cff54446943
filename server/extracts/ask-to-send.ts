import { v7 as uuid } from 'uuid'
import { printDay } from '#core/calendar/day'
import type { ExtractDefinition } from '#core/contract/extracts'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Database, Sql } from '../database'
import { askForJob } from '../queue/job-table'
import { Refusal } from '../refusal'
import { today } from '../settings'
import { takenOut } from './files'
import { openExtract } from './open'
import { fileName, kindOfFile, MEDIA_TYPES } from './pack'
import { accessFor } from './recipients'

/** An extract that goes to a recipient. */
interface Sent {
  id: string
  name: string
  definition: ExtractDefinition
  onlyNew: boolean
  recipient: string
}

/** The files of a saved extract that went, or go, to a recipient: those in some states, the newest first. */
const filesTo = (tx: Pick<Sql, 'query'>, { id, recipient }: Sent, states: readonly string[]) =>
  tx.query<{ at: string }>(
    `SELECT at FROM extract_file WHERE recipient = $1 AND state = ANY($2::text[]) AND extracts @> ($3::jsonb -> 'of')
     ORDER BY at DESC LIMIT 1`,
    [recipient, states, { of: [{ saved: id }] }],
  )

/**
 * Has a file made for a recipient. While one of the same extract is on its way nothing is asked: the next one holds
 * what came meanwhile. With only what is new it begins where the last one began that the recipient took, so that a file
 * that never arrived leaves no gap.
 *
 * @param access of the owner
 * @throws Refusal 409 `extract-no-recipient`; 422 `extract-empty`; as `openExtract`
 */
export async function askToSend(sql: Database, access: Access, extract: Sent): Promise<void> {
  const { id, name, definition, onlyNew, recipient } = extract
  const { plan } = await openExtract(await accessFor(sql, access, recipient), definition)
  if (!plan.sheets.length)
    throw new Refusal(422, 'extract-empty', 'No column is left that this recipient may get.')
  const kind = kindOfFile([{ format: definition.format, tables: plan.sheets.length }])
  const file = fileName(name, printDay(await today()), kind)
  await sql.transaction(async tx => {
    // Two processes must not both find nothing on its way.
    await tx.query('SELECT 1 FROM extract WHERE id = $1 FOR UPDATE', [id])
    if ((await filesTo(tx, extract, ['waiting', 'sending'])).length) return
    const [last] = onlyNew ? await filesTo(tx, extract, ['sent']) : []
    const at = nowText()
    const kept = { ...takenOut(name, definition, plan), saved: id, ...(last && { since: last.at }) }
    await tx.query(
      `INSERT INTO extract_file (id, person, at, extracts, name, media_type, state, recipient, is_whole)
       VALUES ($1, $2, $3, $4::jsonb -> 'extracts', $5, $6, 'waiting', $7, $8)`,
      [uuid(), access.id, at, { extracts: [kept] }, file, MEDIA_TYPES[kind], recipient, !last],
    )
    await tx.query('UPDATE extract SET last_at = $2, problem = NULL WHERE id = $1', [id, at])
    await askForJob(tx, 'makeExtracts')
  })
}
