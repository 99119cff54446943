import type { DocumentFormat } from '#core/exchange/value-document'
import type { CodeBook, CodeLack } from '#core/sending/codes'
import { theirCell, theirPlaceKey, type SentPlace, type TheirPlace } from '#core/sending/document'
import type { Sql } from '../database'
import { lacksOf, type Signed } from './signed'

type Reader = Pick<Sql, 'query'>

/** What went out of a report before. */
export interface Before {
  amendment: number
  part: number
  isWhole: boolean
  state: string
}

/** A value that goes out again because it was refused under another code. */
interface Mended extends SentPlace {
  /** Its refusal. */
  sending: string
  number: number
}

/** Whether something goes out of a signed report, and what: all of it, or some values. */
export type NextPart =
  | { lack: 'notSigned' | 'sent' | 'waits' }
  | { lack: 'codes'; lacks: ReadonlyMap<string, CodeLack> }
  | { lack: null; part: number; only: readonly Mended[] | null }

/** What of a report went to a recipient, the newest first. */
export const sendingsBefore = (
  sql: Reader,
  recipient: string,
  round: string,
  unit: string,
): Promise<Before[]> =>
  sql.query<Before>(
    `SELECT amendment, part, is_whole AS "isWhole", state FROM sending
     WHERE recipient = $1 AND round = $2 AND unit = $3 ORDER BY amendment DESC, part DESC`,
    [recipient, round, unit],
  )

/** The values of a report that were refused because of a code, and that have another one by now. */
async function mended(
  sql: Reader,
  recipient: string,
  { id, unit }: { id: string; unit: string },
  signed: Signed,
  codes: CodeBook,
): Promise<Mended[]> {
  const rows = await sql.query<Mended & { place: TheirPlace }>(
    `SELECT f.sending, f.number, f.unit, f.cell, f.place FROM sending s JOIN sending_refusal f ON f.sending = s.id
     WHERE s.recipient = $1 AND s.round = $2 AND s.unit = $3 AND s.amendment = $4
       AND f.about = 'code' AND f.ended_at IS NULL AND f.unit IS NOT NULL ORDER BY f.sending, f.number`,
    [recipient, id, unit, signed.amendment],
  )
  return rows.filter(({ unit: facility, cell, place: before }) => {
    const of = signed.cellByKey.get(cell)
    const now = of && theirCell(of, codes)
    const orgUnit = codes.unit.get(facility)
    // What is left out by now goes nowhere.
    return now && orgUnit && theirPlaceKey({ orgUnit, ...now }) !== theirPlaceKey(before)
  })
}

/** An end that a person can begin again, or leave for a newer amendment. */
const IS_RESTING: ReadonlySet<string> = new Set(['failed', 'stopped'])

/**
 * What goes out next of a report to a recipient. The same amendment is never sent twice: after it only what was
 * refused because of a code, once that code is another.
 *
 * @param before the newest first
 */
export async function nextPart(
  sql: Reader,
  recipient: { id: string; format: DocumentFormat },
  place: { id: string; unit: string },
  signed: Signed | undefined,
  codes: CodeBook,
  before: readonly Before[],
): Promise<NextPart> {
  if (!signed) return { lack: 'notSigned' }
  const lacks = lacksOf(signed, codes, recipient.format)
  if (lacks.size) return { lack: 'codes', lacks }
  const [last] = before
  if (last?.state === 'waiting' || last?.state === 'sending') return { lack: 'waits' }
  if (last?.amendment !== signed.amendment) return { lack: null, part: 1, only: null }
  if (IS_RESTING.has(last.state)) return { lack: 'waits' }
  // Nothing of it was taken: it may go out again as it is, once somebody looked at why.
  if (last.state === 'refused' && last.isWhole) return { lack: null, part: last.part + 1, only: null }
  const only = await mended(sql, recipient.id, place, signed, codes)
  return only.length ? { lack: null, part: last.part + 1, only } : { lack: 'sent' }
}
