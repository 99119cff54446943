import { v7 as uuid } from 'uuid'
import {
  MOST_RECIPIENTS,
  RECIPIENT_EXTRACTS,
  type RecipientChange,
  type RecipientExtracts,
  type RecipientLine,
  type RecipientList,
  type RecipientNew,
} from '#core/contract/sending'
import { mustHoldAll, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound } from '../refusal'

/** For queries: a recipient takes a dataset when it has a code for it. Both are columns, or a parameter. */
export const takes = (recipient: string, dataset: string): string =>
  `(SELECT c.state FROM recipient_code c WHERE c.recipient = ${recipient} AND c.kind = 'dataset' AND c.of = ''
    AND c.ours = ${dataset} ORDER BY c.seq DESC LIMIT 1) = 'code'`

const LINES = `SELECT r.id, r.name, r.format, r.extracts, r.address, r.key IS NOT NULL AS "hasKey", r.version,
    p.display_name AS "madeBy", r.made_at AS "madeAt",
    (SELECT max(s.answered_at) FROM sending s WHERE s.recipient = r.id) AS "lastAnsweredAt",
    coalesce((SELECT jsonb_agg(jsonb_build_object('code', d.code, 'name', d.name) ORDER BY d.code)
      FROM dataset d WHERE ${takes('r.id', 'd.code')}), '[]') AS datasets
  FROM recipient r JOIN person p ON p.id = r.made_by`

async function lineById(sql: Pick<Sql, 'query'>, id: string): Promise<RecipientLine> {
  const [line] = await sql.query<RecipientLine>(`${LINES} WHERE r.id = $1`, [id])
  if (!line) throw notFound('recipient')
  return line
}

/** The recipients to which something can be sent, by name. @throws Refusal 403 */
export async function listRecipients(access: Access): Promise<RecipientList> {
  mustHoldAll(access)
  const sql = await database()
  const lines = await sql.query<RecipientLine>(
    `${LINES} WHERE r.ended_at IS NULL ORDER BY lower(r.name), r.id LIMIT ${MOST_RECIPIENTS}`,
  )
  return { lines }
}

/** @throws Refusal 409 `recipient-name` where another has the name */
async function mustBeNew(tx: Sql, name: string, but: string | null): Promise<void> {
  const [other] = await tx.query(
    'SELECT 1 FROM recipient WHERE lower(name) = lower($1) AND ended_at IS NULL AND id IS DISTINCT FROM $2::uuid',
    [name, but],
  )
  if (other)
    throw conflict('recipient-name', 'Another recipient has this name.', [
      { code: 'recipient-name', message: '', at: 'body/name' },
    ])
}

/** Adds a recipient. Its codes come after. @throws Refusal 403; 409 `recipient-name`, `recipients-many` */
export async function addRecipient(
  access: Access,
  { name, format, extracts, address, key = null }: RecipientNew,
): Promise<RecipientLine> {
  mustHoldAll(access)
  const sql = await database()
  const id = uuid()
  await sql.transaction(async tx => {
    await tx.query('LOCK TABLE recipient IN SHARE ROW EXCLUSIVE MODE')
    const [all] = await tx.query<{ count: number }>(
      'SELECT count(*)::int AS count FROM recipient WHERE ended_at IS NULL',
    )
    if (all!.count >= MOST_RECIPIENTS)
      throw conflict('recipients-many', `There are ${MOST_RECIPIENTS} recipients already.`)
    await mustBeNew(tx, name.trim(), null)
    await tx.query(
      `INSERT INTO recipient (id, name, format, extracts, address, key, version, made_at, made_by) VALUES ($1, $2, $3, $4, $5, $6, 1, $7, $8)`,
      [id, name.trim(), format, extracts, address, key, nowText(), access.id],
    )
  })
  return lineById(sql, id)
}

/** Holds a recipient to the end of the transaction. @throws Refusal 404 when there is none, or it was ended */
export async function holdRecipient(
  tx: Sql,
  id: string,
): Promise<{ version: number; extracts: RecipientExtracts }> {
  const [row] = await tx.query<{ version: number; extracts: RecipientExtracts }>(
    'SELECT version, extracts FROM recipient WHERE id = $1 AND ended_at IS NULL FOR UPDATE',
    [id],
  )
  if (!row) throw notFound('recipient')
  return row
}

/**
 * Changes a recipient. What is on its way already goes to the new address; files of extracts stop where it may get
 * less than before.
 * @throws Refusal 403, 404; 409 `changed` when somebody changed it meanwhile, `recipient-name`
 */
export async function changeRecipient(
  access: Access,
  id: string,
  { version, recipient: { name, format, extracts, address, key } }: RecipientChange,
): Promise<RecipientLine> {
  mustHoldAll(access)
  const sql = await database()
  await sql.transaction(async tx => {
    const held = await holdRecipient(tx, id)
    if (held.version !== version)
      throw conflict('recipient-changed', 'Somebody changed this recipient meanwhile.')
    await mustBeNew(tx, name.trim(), id)
    await tx.query(
      `UPDATE recipient SET name = $2, format = $3, address = $4, key = CASE WHEN $5 THEN $6 ELSE key END, version = version + 1,
         extracts = $7 WHERE id = $1`,
      [id, name.trim(), format, address, key !== undefined, key ?? null, extracts],
    )
    if (RECIPIENT_EXTRACTS.indexOf(extracts) < RECIPIENT_EXTRACTS.indexOf(held.extracts))
      await stopFiles(tx, id)
  })
  return lineById(sql, id)
}

/** Files of extracts on their way to a recipient go no further, and their bytes are not kept. */
async function stopFiles(tx: Sql, recipient: string): Promise<void> {
  await tx.query(
    `WITH stopped AS (
       UPDATE extract_file SET state = 'stopped', next_at = NULL WHERE recipient = $1 AND state IN ('waiting', 'sending') RETURNING id)
     DELETE FROM extract_part WHERE file IN (SELECT id FROM stopped)`,
    [recipient],
  )
}

/** Ends a recipient: nothing more goes there, and what waits is stopped. @throws Refusal 403, 404 */
export async function endRecipient(access: Access, id: string): Promise<void> {
  mustHoldAll(access)
  const sql = await database()
  await sql.transaction(async tx => {
    await holdRecipient(tx, id)
    await tx.query('UPDATE recipient SET ended_at = $2, ended_by = $3 WHERE id = $1', [
      id,
      nowText(),
      access.id,
    ])
    await tx.query(
      `UPDATE sending SET state = 'stopped', next_at = NULL WHERE recipient = $1 AND next_at IS NOT NULL`,
      [id],
    )
    await stopFiles(tx, id)
  })
}
