import { v7 as uuid } from 'uuid'
import { documentOf, type SentPlace } from '#core/sending/document'
import { holdsNumbersOnly, type DocumentFormat } from '#core/exchange/value-document'
import type { Problem } from '#core/result'
import { CODE_KINDS, type CodeBook, type CodeLack } from '#core/sending/codes'
import { mustHold, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { districtAsked } from '../district-reports/district-report'
import { askForJob } from '../queue/job-table'
import { codeBook } from '../recipients/code-book'
import { conflict, notFound } from '../refusal'
import { roundById, type Round } from '../rounds/round'
import { nextPart, sendingsBefore, type NextPart } from './next-part'
import { signedReport, type Signed, type StoredCodes } from './signed'
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
const WHY_NOT: Record<'notSigned' | 'sent' | 'waits', [code: string, message: string]> = {
  notSigned: ['send-not-signed', 'This report is not signed yet.'],
  sent: ['send-sent', 'This was sent. It is sent again when it is signed again.'],
  waits: ['send-waits', 'It is on its way, or waits for you to try it again.'],
}

function codesLacking(lacks: ReadonlyMap<string, CodeLack>) {
  const problems = [...lacks].slice(0, MOST_NAMED).map(([key, why]): Problem => ({
    code: `code-${why}`,
    message: key,
    values: { code: key.split(' ')[1]! },
  }))
  return conflict('send-codes', `${lacks.size} codes are missing or not right.`, problems)
}

/** Chooses some places; all of them by null. */
function onlyThese(places: readonly SentPlace[] | null): (place: SentPlace) => boolean {
  if (!places) return () => true
  const keys = new Set(places.map(({ unit, cell }) => `${unit} ${cell}`))
  return ({ unit, cell }) => keys.has(`${unit} ${cell}`)
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
    onlyThese(part.only),
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
  const id = uuid()
  await tx.query(
    `INSERT INTO sending (id, recipient, round, unit, amendment, part, is_whole, state, format, document, codes, counts, asked_at, asked_by, next_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, 'waiting', $8, $9, $10, $11, $12, $13, $12)`,
    [
      ...[id, recipient.id, round.id, unit.code, signed.amendment, part.part, part.only === null],
      ...[format, text, keptCodes(codes)],
      { values, noNumbers, leftOut },
      ...[nowText(), access.id],
    ],
  )
  await tx.query(
    `UPDATE sending_refusal f SET resent_in = $1 FROM unnest($2::uuid[], $3::int[]) AS r (sending, number)
     WHERE f.sending = r.sending AND f.number = r.number`,
    [id, (part.only ?? []).map(({ sending }) => sending), (part.only ?? []).map(({ number }) => number)],
  )
  await askForJob(tx, 'sendOn')
}

/**
 * Sends a signed district report on to a recipient: the newest amendment, once. A job delivers it.
 *
 * @throws Refusal 404, 403, 409 `not-a-district`, `send-not-signed`, `send-codes` with the missing ones, `send-sent`,
 *   `send-waits`, `send-nothing`,
 *   `send-not-sound` where somebody changed what was signed
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
    const place = { id: round.id, unit: unit.code }
    const part = await nextPart(tx, recipient, place, signed, codes, before)
    if (part.lack === 'codes') throw codesLacking(part.lacks)
    if (part.lack !== null) throw conflict(...WHY_NOT[part.lack])
    if (!signed!.isSound)
      throw conflict(
        'send-not-sound',
        'What is stored of this report is not what was signed. Nothing was sent.',
      )
    await store(tx, access, { recipient, round, unit, signed: signed!, part }, codes)
  })
}

/** Moves a sending that a person may see. @throws Refusal 404, 403, 409 `send-state` */
async function move(access: Access, id: string, from: readonly string[], to: string): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [row] = await tx.query<{ state: string; path: string[]; isOld: boolean }>(
      `SELECT s.state, u.path, EXISTS (SELECT 1 FROM sending n WHERE n.recipient = s.recipient AND n.round = s.round
         AND n.unit = s.unit AND (n.amendment, n.part) > (s.amendment, s.part)) AS "isOld"
       FROM sending s JOIN unit_latest u ON u.code = s.unit WHERE s.id = $1 FOR UPDATE OF s`,
      [id],
    )
    if (!row) throw notFound('sending')
    mustHold(access, row.path)
    if (!from.includes(row.state) || row.isOld) throw conflict('send-state', `This is ${row.state}.`)
    await tx.query(
      `UPDATE sending SET state = $2, tries = 0, problem = NULL, next_at = CASE WHEN $2 = 'stopped' THEN NULL ELSE $3::timestamptz END
       WHERE id = $1`,
      [id, to, nowText()],
    )
    if (to !== 'stopped') await askForJob(tx, 'sendOn')
  })
}

/**
 * Tries again what failed or was stopped, while nothing newer went out: the recipient is asked first whether it has
 * it. @throws Refusal 403, 404, 409 `send-state`
 */
export const sendAgain = (access: Access, id: string) => move(access, id, ['failed', 'stopped'], 'sending')

/** Stops what waits. What the recipient has already it keeps. @throws Refusal 403, 404, 409 `send-state` */
export const stopSending = (access: Access, id: string) => move(access, id, ['waiting', 'sending'], 'stopped')
