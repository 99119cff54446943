import { v7 as uuid } from 'uuid'
import type { ExtractChange, ExtractList, ExtractSave, SavedExtract } from '#core/contract/extracts'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { hasFolder } from './folder'
import { accessFor, extractRecipients } from './recipients'
import { askForJob } from '../queue/job-table'
import { conflict, notFound, Refusal } from '../refusal'

/** Of an extract or a file of another person. */
export const notYours = () =>
  new Refusal(
    403,
    'extract-not-yours',
    'This is of another person, who does not share it with you, or keeps it.',
  )

/** @throws Refusal 409 `extract-no-folder`, `extract-no-recipient` where something is to repeat that has no place to go */
async function mustHavePlace(
  access: Access,
  { repeats, recipient }: Pick<ExtractSave, 'repeats' | 'recipient'>,
): Promise<void> {
  if (!repeats) return
  if (recipient) await accessFor(await database(), access, recipient)
  else if (!hasFolder())
    throw conflict('extract-no-folder', 'This installation has no folder into which extracts are written.')
}

/** How many a page has. */
const PAGE = 50

type Row = Omit<SavedExtract, 'mine'> & { person: string }

const LINE = `SELECT x.id, x.person, x.name, x.definition, x.shared, p.display_name AS by, x.version, x.changed_at AS "changedAt",
    x.repeats, x.only_new AS "onlyNew", x.next_at AS "nextAt", x.last_at AS "lastAt", x.problem,
    x.recipient, r.name AS "recipientName"
  FROM extract x JOIN person p ON p.id = x.person LEFT JOIN recipient r ON r.id = x.recipient`

const lineOf = (access: Access, { person, ...line }: Row): SavedExtract => ({
  ...line,
  mine: person === access.id,
})

/** A page of the extracts that a person saved, and those that others share; the newest first. */
export async function listExtracts(access: Access, { after }: { after?: string }): Promise<ExtractList> {
  const sql = await database()
  const rows = await sql.query<Row>(
    `${LINE} WHERE (x.person = $1 OR x.shared)
       AND ($2::uuid IS NULL OR (x.changed_at, x.id) < (SELECT a.changed_at, a.id FROM extract a WHERE a.id = $2))
     ORDER BY x.changed_at DESC, x.id DESC LIMIT ${PAGE + 1}`,
    [access.id, after ?? null],
  )
  return {
    lines: rows.slice(0, PAGE).map(row => lineOf(access, row)),
    more: rows.length > PAGE,
    hasFolder: hasFolder(),
    recipients: await extractRecipients(sql),
  }
}

async function rowById(sql: Pick<Sql, 'query'>, access: Access, id: string): Promise<Row> {
  const [row] = await sql.query<Row>(`${LINE} WHERE x.id = $1`, [id])
  if (!row) throw notFound('extract')
  if (row.person !== access.id && !row.shared) throw notYours()
  return row
}

/** One extract. @throws Refusal 404; 403 `extract-not-yours` where another person does not share it */
export const extractById = async (access: Access, id: string): Promise<SavedExtract> =>
  lineOf(access, await rowById(await database(), access, id))

export async function saveExtract(
  access: Access,
  { name, definition, shared, repeats, onlyNew, recipient = null }: ExtractSave,
): Promise<SavedExtract> {
  await mustHavePlace(access, { repeats, recipient })
  const sql = await database()
  const id = uuid()
  await sql.transaction(async tx => {
    await tx.query(
      `INSERT INTO extract (id, person, name, definition, shared, repeats, only_new, next_at, changed_at, recipient)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
      [
        ...[
          id,
          access.id,
          name.trim(),
          definition,
          shared,
          repeats,
          onlyNew,
          repeats && nowText(),
          nowText(),
        ],
        repeats && recipient,
      ],
    )
    // The first one goes at once.
    if (repeats) await askForJob(tx, 'writeExtracts')
  })
  return extractById(access, id)
}

/** Others read it; its owner changes it. @throws Refusal 403, 404 */
async function mustOwn(tx: Sql, access: Access, id: string): Promise<Row> {
  await tx.query('SELECT 1 FROM extract WHERE id = $1 FOR UPDATE', [id])
  const row = await rowById(tx, access, id)
  if (row.person !== access.id) throw notYours()
  return row
}

/** Changes an extract. @throws Refusal 403, 404, 409 `extract-changed` where somebody saved it since */
export async function changeExtract(
  access: Access,
  id: string,
  { name, definition, shared, repeats, onlyNew, recipient = null, version }: ExtractChange,
): Promise<SavedExtract> {
  await mustHavePlace(access, { repeats, recipient })
  const sql = await database()
  await sql.transaction(async tx => {
    const row = await mustOwn(tx, access, id)
    if (row.version !== version)
      throw conflict('extract-changed', 'This extract was saved in another window since you opened it.')
    await tx.query(
      `UPDATE extract SET name = $2, definition = $3, shared = $4, version = version + 1, changed_at = $5, only_new = $7,
         problem = NULL, next_at = CASE WHEN $6::text IS NULL THEN NULL WHEN repeats IS DISTINCT FROM $6 OR recipient IS DISTINCT FROM $8::uuid THEN $5::timestamptz ELSE next_at END,
         repeats = $6, recipient = $8 WHERE id = $1`,
      [id, name.trim(), definition, shared, nowText(), repeats, onlyNew, repeats && recipient],
    )
    if (repeats) await askForJob(tx, 'writeExtracts')
  })
  return extractById(access, id)
}

/** Removes an extract; the files that were made of it stay. @throws Refusal 403, 404 */
export async function removeExtract(access: Access, id: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await mustOwn(tx, access, id)
    await tx.query('DELETE FROM extract WHERE id = $1', [id])
  })
}
