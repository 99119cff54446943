import { CODE_KINDS, neededCodes, type CodeBook, type NeededCode } from '#core/sending/codes'
import type { Edition } from '#core/report/edition'
import { notFound } from '../refusal'
import { editionOf } from '../datasets/editions'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { assigned } from '../units/expected-units'

type Reader = Pick<Sql, 'query'>

/** Codes of items, axes and bands belong to a dataset; those of datasets and units do not. */
export const ofDataset = (kind: string, dataset: string): string =>
  kind === 'unit' || kind === 'dataset' ? '' : dataset

/** The codes that a recipient has for a dataset, as they were said last. */
export async function codeBook(sql: Reader, recipient: string, dataset: string): Promise<CodeBook> {
  const rows = await sql.query<{ kind: keyof CodeBook; ours: string; theirs: string | null; state: string }>(
    `SELECT DISTINCT ON (kind, of, ours) kind, ours, theirs, state FROM recipient_code
     WHERE recipient = $1 AND of IN ('', $2) ORDER BY kind, of, ours, seq DESC`,
    [recipient, dataset],
  )
  const book = Object.fromEntries(
    CODE_KINDS.map(kind => [kind, new Map<string, string | null>()] as const),
  ) as Record<keyof CodeBook, Map<string, string | null>>
  for (const { kind, ours, theirs, state } of rows) if (state !== 'none') book[kind].set(ours, theirs)
  return book
}

/** The codes of a recipient that was not ended. @throws Refusal 404 */
export async function recipientCodes(sql: Reader, recipient: string, dataset: string): Promise<CodeBook> {
  const [row] = await sql.query('SELECT 1 FROM recipient WHERE id = $1 AND ended_at IS NULL', [recipient])
  if (!row) throw notFound('recipient')
  return codeBook(sql, recipient, dataset)
}

/** The newest edition of a dataset. @throws Refusal 404 */
export async function newestEdition(sql: Reader, dataset: string): Promise<Edition> {
  const [row] = await sql.query<{ number: number | null }>(
    'SELECT max(number) AS number FROM edition WHERE dataset = $1',
    [dataset],
  )
  if (!row?.number) throw notFound('dataset')
  return (await editionOf(sql, dataset, row.number)).edition
}

/** What needs a code so that a dataset can be sent: its definition, and the units that have ever reported it. */
export async function neededFor(sql: Reader, dataset: string): Promise<NeededCode[]> {
  const units = await sql.query<{ code: string; name: string }>(
    `SELECT u.code, u.name FROM unit_latest u
     WHERE EXISTS (SELECT 1 FROM assignment a WHERE a.dataset = $1 AND ${assigned('u', `'-infinity'::date`, '$2::timestamptz::date')})
     ORDER BY u.name, u.code`,
    [dataset, nowText()],
  )
  return [
    ...neededCodes(await newestEdition(sql, dataset)),
    ...units.map(({ code, name }): NeededCode => ({ kind: 'unit', ours: code, name: { en: name } })),
  ]
}
