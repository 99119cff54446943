import type { RecipientChoice } from '#core/contract/extracts'
import { MOST_RECIPIENTS, type RecipientExtracts } from '#core/contract/sending'
import type { Access } from '../access/access'
import type { Sql } from '../database'
import { conflict } from '../refusal'

type Reader = Pick<Sql, 'query'>

/** The recipients to which an administrator lets extracts go, by name. */
export const extractRecipients = (sql: Reader): Promise<RecipientChoice[]> =>
  sql.query<RecipientChoice>(
    `SELECT id, name, extracts = 'personal' AS personal FROM recipient WHERE ended_at IS NULL AND extracts <> 'none' ORDER BY lower(name), id LIMIT ${MOST_RECIPIENTS}`,
  )

/**
 * What a person may have sent to a recipient: what they may take out themselves, personal answers only where the
 * recipient may get them.
 * @throws Refusal 409 `extract-no-recipient` where no extracts go there, or not any more
 */
export async function accessFor(sql: Reader, access: Access, recipient: string): Promise<Access> {
  const [row] = await sql.query<{ extracts: RecipientExtracts }>(
    'SELECT extracts FROM recipient WHERE id = $1 AND ended_at IS NULL',
    [recipient],
  )
  if (!row || row.extracts === 'none')
    throw conflict('extract-no-recipient', 'No extracts are sent to this recipient.')
  return row.extracts === 'personal' ? access : { ...access, without: [...access.without, 'extractPersonal'] }
}
