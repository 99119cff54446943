import type { EditionLine } from '#core/contract/drafts'
import type { Edition } from '#core/report/edition'
import { database } from '../database'
import { notFound } from '../refusal'
import { editionOf } from './editions'

/** The editions of a dataset, newest first. */
export async function listEditions(dataset: string): Promise<EditionLine[]> {
  const sql = await database()
  return sql.query<EditionLine>(
    'SELECT number, published_at AS "publishedAt" FROM edition WHERE dataset = $1 ORDER BY number DESC',
    [dataset],
  )
}

/** One edition, whole. @throws Refusal 404 */
export async function oneEdition(dataset: string, number: number): Promise<Edition> {
  if (!(await listEditions(dataset)).some(one => one.number === number)) throw notFound('edition')
  return (await editionOf(await database(), dataset, number)).edition
}
