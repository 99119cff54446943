import { mediaTypeOf } from '#core/exchange/media-type'
import { v7 as uuid } from 'uuid'
import { LARGEST_PAGE, type PaperLine } from '#core/contract/definitions'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database } from '../database'
import { conflict, notFound, Refusal } from '../refusal'
import { mustOwn } from './owner'

type Kind = 'dataset' | 'register'
const MOST_PAGES = 20

/** The pages that were scanned of a dataset's or register's paper, in the order in which they came. */
export async function listPapers({ kind, code }: { kind: Kind; code: string }): Promise<PaperLine[]> {
  const sql = await database()
  return sql.query<PaperLine>(
    'SELECT g.id, p.display_name AS by, g.at, length(g.bytes) AS bytes FROM paper_page g JOIN person p ON p.id = g.person WHERE g.kind = $1 AND g.code = $2 ORDER BY g.id',
    [kind, code],
  )
}

/** Keeps a page. @throws Refusal 422 `paper-no-picture`, 413 `paper-large`, 409 `paper-many`. */
export async function savePaper(
  access: Access,
  { kind, code }: { kind: Kind; code: string },
  base64: string,
): Promise<string> {
  const bytes = Buffer.from(base64, 'base64')
  const type = mediaTypeOf(bytes)
  if (!type?.startsWith('image/'))
    throw new Refusal(422, 'paper-no-picture', 'This is no PNG, JPEG or WebP picture.')
  if (bytes.length > LARGEST_PAGE) throw new Refusal(413, 'paper-large', 'The picture is too large.')
  const sql = await database()
  return sql.transaction(async tx => {
    await mustOwn(tx, access, { kind, code })
    const [{ count } = { count: 0 }] = await tx.query<{ count: number }>(
      'SELECT count(*) AS count FROM paper_page WHERE kind = $1 AND code = $2',
      [kind, code],
    )
    if (count >= MOST_PAGES) throw conflict('paper-many', `At most ${MOST_PAGES} pages.`)
    const id = uuid()
    await tx.query(
      'INSERT INTO paper_page (id, kind, code, media_type, bytes, at, person) VALUES ($1, $2, $3, $4, $5, $6, $7)',
      [id, kind, code, type, bytes, nowText(), access.id],
    )
    return id
  })
}

/** One page. @throws Refusal 404 */
export async function readPaper({
  kind,
  code,
  id,
}: {
  kind: Kind
  code: string
  id: string
}): Promise<{ type: string; bytes: Uint8Array }> {
  const sql = await database()
  const [page] = await sql.query<{ type: string; bytes: Uint8Array }>(
    'SELECT media_type AS type, bytes FROM paper_page WHERE kind = $1 AND code = $2 AND id = $3',
    [kind, code, id],
  )
  if (!page) throw notFound('page')
  return page
}

/** @throws Refusal 404 */
export async function removePaper(
  access: Access,
  { kind, code, id }: { kind: Kind; code: string; id: string },
): Promise<void> {
  const sql = await database()
  await mustOwn(sql, access, { kind, code })
  if (
    !(
      await sql.query('DELETE FROM paper_page WHERE kind = $1 AND code = $2 AND id = $3 RETURNING id', [
        kind,
        code,
        id,
      ])
    ).length
  )
    throw notFound('page')
}
