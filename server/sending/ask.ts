import { v7 as uuid } from 'uuid'
import { documentOf, theirCell, theirPlaceKey, type SentPlace, type TheirPlace } from '#core/sending/document'
import { holdsNumbersOnly, type DocumentFormat } from '#core/exchange/value-document'
import type { Problem } from '#core/result'
import { CODE_KINDS, type CodeBook } from '#core/sending/codes'
import { mustHold, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { districtAsked } from '../district-reports/district-report'
import { askForJob } from '../queue/job-table'
import { codeBook } from '../recipients/code-book'
import { conflict, notFound } from '../refusal'
import { roundById, type Round } from '../rounds/round'
import { lacksOf, signedReport, type Signed, type StoredCodes } from './signed'
import { writeDocument } from './write-document'

/** Codes as they are kept with what was sent. */
const keptCodes = (codes: CodeBook): StoredCodes =>
  Object.fromEntries(CODE_KINDS.map(kind => [kind, [...codes[kind]]])) as StoredCodes

/** How many missing codes a refusal names. */
const MOST_NAMED = 50

interface Recipient {
  id: string
  name: string
  format: DocumentFormat
}
/** What went out of this report before, the newest first. */
export interface Before {
  id: string
  amendment: number
  part: number
  state: string
}

/** Whether something goes out of a signed report, and what. */
export type NextPart =
  | { lack: 'notSigned' | 'codes' | 'sent' | 'waits' }
  | { lack: null; part: number; onlyRefused: boolean; only: (place: SentPlace) => boolean }

/** For queries: what of a report went to a recipient, the newest first. */
export const sendingsBefore = (
  sql: Pick<Sql, 'query'>,
  recipient: string,
  round: string,
  unit: string,
): Promise<Before[]> =>
  sql.query<Before>(
    `SELECT id, amendment, part, state FROM sending WHERE recipient = $1 AND round = $2 AND unit = $3
     ORDER BY amendment DESC, part DESC`,
    [recipient, round, unit],
  )

/** The values that were refused because of a code, and that have another one by now. */
async function mended(
  sql: Pick<Sql, 'query'>,
  sending: string,
  signed: Signed,
  codes: CodeBook,
): Promise<(place: SentPlace) => boolean> {
  const rows = await sql.query<SentPlace & { place: TheirPlace }>(
    `SELECT unit, cell, place FROM sending_refusal
     WHERE sending = $1 AND about = 'code' AND ended_at IS NULL AND unit IS NOT NULL`,
    [sending],
  )
  const { cellByKey } = signed
  const keys = new Set(
    rows.flatMap(({ unit, cell, place: before }) => {
      const of = cellByKey.get(cell)
      const now = of && theirCell(of, codes)
      const orgUnit = codes.unit.get(unit)
      const isSame = now && orgUnit && theirPlaceKey({ orgUnit, ...now }) === theirPlaceKey(before)
      return isSame ? [] : [`${unit} ${cell}`]
    }),
  )
  return ({ unit, cell }) => keys.has(`${unit} ${cell}`)
}

/**
 * What goes out next of a report to a recipient. The same amendment is never sent twice: after it only what was
 * refused because of a code, once that code is another.
 */
export async function nextPart(
  sql: Pick<Sql, 'query'>,
  recipient: Recipient,
  signed: Signed | undefined,
  codes: CodeBook,
  before: readonly Before[],
): Promise<NextPart> {
  if (!signed) return { lack: 'notSigned' }
  if (lacksOf(signed, codes, recipient.format).size) return { lack: 'codes' }
  const [last] = before
  if (last && ['waiting', 'sending', 'failed', 'stopped'].includes(last.state)) return { lack: 'waits' }
  if (last?.amendment !== signed.amendment)
    return { lack: null, part: 1, onlyRefused: false, only: () => true }
  // Taken as nothing at all: it may go out again as it is, once somebody looked at why.
  if (last.state === 'refused')
    return { lack: null, part: last.part + 1, onlyRefused: false, only: () => true }
  const only = await mended(sql, last.id, signed, codes)
  const isSome = Object.entries(signed.cells).some(([unit, cells]) =>
    Object.keys(cells).some(cell => only({ unit, cell })),
  )
  return isSome ? { lack: null, part: last.part + 1, onlyRefused: true, only } : { lack: 'sent' }
}

const WHY_NOT: Record<'notSigned' | 'sent' | 'waits', [code: string, message: string]> = {
  notSigned: ['send-not-signed', 'This report is not signed yet.'],
  sent: ['send-sent', 'This was sent. It is sent again when it is signed again.'],
  waits: ['send-waits', 'It is on its way, or waits for you to try it again.'],
}

function codesLacking(signed: Signed, codes: CodeBook, format: DocumentFormat) {
  const lacks = [...lacksOf(signed, codes, format)]
  const problems = lacks.slice(0, MOST_NAMED).map(([key, why]): Problem => ({
    code: `code-${why}`,
    message: key,
    values: { code: key.split(' ')[1]! },
  }))
  return conflict('send-codes', `${lacks.length} codes are missing or not right.`, problems)
}

async function store(
  tx: Sql,
  access: Access,
  {
    recipient,
    round,
    unit,
    signed,
    part,
  }: {
    recipient: Recipient
    round: Round
    unit: { code: string; name: string }
    signed: Signed
    part: Extract<NextPart, { lack: null }>
  },
  codes: CodeBook,
): Promise<void> {
  const { format } = recipient
  const { document, values, noNumbers, leftOut } = documentOf(
    { edition: signed.edition, period: signed.period, format },
    signed.cells,
    codes,
    nowText(),
    part.only,
  )
  if (!values)
    throw conflict(
      'send-nothing',
      holdsNumbersOnly(format)
        ? 'Nothing of this report is a number.'
        : 'Nothing of this report is sent there.',
    )
  const units = new Map(
    [...signed.names].flatMap(([code, name]) => {
      const theirs = codes.unit.get(code)
      return theirs ? [[theirs, name] as const] : []
    }),
  )
  const text = await writeDocument(format, document, signed.period, { sender: unit.name, units })
  await tx.query(
    `INSERT INTO sending (id, recipient, round, unit, amendment, part, is_whole, state, format, document, codes, counts, asked_at, asked_by, next_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, 'waiting', $8, $9, $10, $11, $12, $13, $12)`,
    [
      ...[uuid(), recipient.id, round.id, unit.code, signed.amendment, part.part, !part.onlyRefused],
      ...[format, text, keptCodes(codes)],
      { values, noNumbers, leftOut },
      ...[nowText(), access.id],
    ],
  )
  await askForJob(tx, 'sendOn')
}

/**
 * Sends a signed district report on to a recipient: the newest amendment, once. A job delivers it.
 *
 * @throws Refusal 404, 403, 409 `not-a-district`, `send-not-signed`, `send-codes` with the missing ones, `send-sent`,
 *   `send-waits`, `send-nothing`
 */
export async function askToSend(
  access: Access,
  roundId: string,
  asked: { unit?: string; recipient: string },
): Promise<void> {
  const unit = await districtAsked(access, asked.unit)
  const sql = await database()
  await sql.transaction(async tx => {
    // Two officers who ask at once wait for one another here.
    const [recipient] = await tx.query<Recipient>(
      'SELECT id, name, format FROM recipient WHERE id = $1 AND ended_at IS NULL FOR UPDATE',
      [asked.recipient],
    )
    if (!recipient) throw notFound('recipient')
    const round = await roundById(tx, roundId)
    const signed = await signedReport(tx, round, unit.code)
    const codes = await codeBook(tx, recipient.id, round.dataset)
    const before = await sendingsBefore(tx, recipient.id, round.id, unit.code)
    const part = await nextPart(tx, recipient, signed, codes, before)
    if (part.lack === 'codes') throw codesLacking(signed!, codes, recipient.format)
    if (part.lack !== null) throw conflict(...WHY_NOT[part.lack])
    await store(tx, access, { recipient, round, unit, signed: signed!, part }, codes)
  })
}

/** Moves a sending that a person may see. @throws Refusal 404, 403, 409 `send-state` */
async function move(access: Access, id: string, from: readonly string[], to: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [row] = await tx.query<{ state: string; path: string[] }>(
      'SELECT s.state, u.path FROM sending s JOIN unit_latest u ON u.code = s.unit WHERE s.id = $1 FOR UPDATE OF s',
      [id],
    )
    if (!row) throw notFound('sending')
    mustHold(access, row.path)
    if (!from.includes(row.state)) throw conflict('send-state', `This is ${row.state}.`)
    await tx.query(
      `UPDATE sending SET state = $2, tries = 0, problem = NULL, next_at = CASE WHEN $2 = 'stopped' THEN NULL ELSE $3::timestamptz END
       WHERE id = $1`,
      [id, to, nowText()],
    )
    if (to !== 'stopped') await askForJob(tx, 'sendOn')
  })
}

/**
 * Tries again what failed or was stopped: the recipient is asked first whether it has it. @throws Refusal 403, 404,
 * 409 `send-state`
 */
export const sendAgain = (access: Access, id: string) => move(access, id, ['failed', 'stopped'], 'sending')

/** Stops what waits. What the recipient has already it keeps. @throws Refusal 403, 404, 409 `send-state` */
export const stopSending = (access: Access, id: string) => move(access, id, ['waiting', 'sending'], 'stopped')
