import {
  MOST_REFUSALS,
  type RecipientOfReport,
  type SendingLine,
  type SendingsOfReport,
} from '#core/contract/sending'
import { MEDIA_TYPES, FILE_ENDINGS } from '#core/exchange/document-files'
import type { DocumentFormat } from '#core/exchange/value-document'
import type { CellValue } from '#core/report/cell'
import { nameCell } from '#core/report/edition'
import type { TheirPlace } from '#core/sending/document'
import { sayPlace } from '#core/sending/read-document'
import { mustHold, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { districtAsked } from '../district-reports/district-report'
import { codeBook } from '../recipients/code-book'
import { takes } from '../recipients/recipients'
import { notFound } from '../refusal'
import { roundById, type Round } from '../rounds/round'
import { nextPart, sendingsBefore } from './next-part'
import { signedReport, type Signed } from './signed'
import { documentBytes } from './write-document'

/** So many of the newest sendings of a report are shown. */
const MOST_SENDINGS = 5

type Refusal = SendingLine['refusals'][number]
interface RefusalRow extends Omit<Refusal, 'unit' | 'place' | 'value' | 'cellName'> {
  sending: string
  unitCode: string | null
  unitName: string | null
  value: CellValue | null
  place: TheirPlace
}

/** What was refused of some sendings, with the names that its cells have in the edition. */
async function refusalsOf(
  sql: Pick<Sql, 'query'>,
  sendings: readonly string[],
  { edition, cellByKey }: ReadyEdition,
) {
  const nameOf = (key: string | null) => {
    const cell = key === null ? undefined : cellByKey.get(key)
    return cell
      ? Object.fromEntries(Object.keys(edition.name).map(language => [language, nameCell(cell, language)]))
      : null
  }
  const rows = await sql.query<RefusalRow>(
    `SELECT f.sending, f.about, f.unit AS "unitCode", u.name AS "unitName", f.cell, f.value, f.place, f.message,
       f.ended_at IS NOT NULL AS over, d.id AS discrepancy
     FROM unnest($1::uuid[]) AS asked (id)
       CROSS JOIN LATERAL (SELECT * FROM sending_refusal r WHERE r.sending = asked.id ORDER BY r.number LIMIT ${MOST_REFUSALS}) f
       JOIN sending s ON s.id = f.sending
       LEFT JOIN unit_latest u ON u.code = f.unit
       LEFT JOIN report p ON p.round = s.round AND p.unit = f.unit
       LEFT JOIN discrepancy d ON d.report = p.id AND f.about = 'value' AND d.doubt_key = 'refused:' || s.recipient || ':' || f.cell
     ORDER BY f.number`,
    [sendings],
  )
  return (sending: string): Refusal[] =>
    rows
      .filter(row => row.sending === sending)
      .map(({ sending: _sending, unitCode, unitName, place, ...row }) => ({
        ...row,
        cellName: nameOf(row.cell),
        unit: unitCode === null ? null : { code: unitCode, name: unitName ?? unitCode },
        place: `${place.orgUnit}: ${sayPlace(place)}`,
      }))
}

async function linesOf(
  sql: Pick<Sql, 'query'>,
  recipient: string,
  round: Round,
  unit: string,
): Promise<SendingLine[]> {
  const rows = await sql.query<
    Omit<SendingLine, 'refusals' | 'values' | 'noNumbers' | 'leftOut'> & {
      counts: Pick<SendingLine, 'values' | 'noNumbers' | 'leftOut'>
    }
  >(
    `SELECT s.id, s.amendment, s.part, s.state, s.counts, p.display_name AS "askedBy", s.asked_at AS "askedAt", s.tries,
       s.next_at AS "nextAt", s.problem, s.receipt, s.answered_at AS "answeredAt",
       (SELECT count(*)::int FROM sending_refusal f WHERE f.sending = s.id) AS "refusalCount"
     FROM sending s JOIN person p ON p.id = s.asked_by WHERE s.recipient = $1 AND s.round = $2 AND s.unit = $3
     ORDER BY s.amendment DESC, s.part DESC LIMIT ${MOST_SENDINGS}`,
    [recipient, round.id, unit],
  )
  const refusals = await refusalsOf(
    sql,
    rows.map(({ id }) => id),
    await editionOf(sql, round.dataset, round.edition),
  )
  return rows.map(({ counts, ...row }) => ({ ...row, ...counts, refusals: refusals(row.id) }))
}

async function recipientOf(
  sql: Pick<Sql, 'query'>,
  recipient: { id: string; name: string; format: DocumentFormat },
  round: Round,
  unit: string,
  signed: Signed | undefined,
): Promise<RecipientOfReport> {
  const codes = await codeBook(sql, recipient.id, round.dataset)
  const before = await sendingsBefore(sql, recipient.id, round.id, unit)
  const next = await nextPart(sql, recipient, { id: round.id, unit }, signed, codes, before)
  return {
    ...recipient,
    lacking: next.lack === 'codes' ? next.lacks.size : 0,
    lack: next.lack,
    onlyRefused: next.lack === null && next.only !== null,
    sendings: await linesOf(sql, recipient.id, round, unit),
  }
}

/**
 * What became of a district's signed report at each recipient that takes its dataset.
 * @throws Refusal 404, 403, 409 `not-a-district`
 */
export async function sendingsOfReport(
  access: Access,
  roundId: string,
  asked: string | undefined,
): Promise<SendingsOfReport> {
  const unit = await districtAsked(access, asked)
  const sql = await database()
  const round = await roundById(sql, roundId)
  const recipients = await sql.query<{ id: string; name: string; format: DocumentFormat }>(
    `SELECT r.id, r.name, r.format FROM recipient r
     WHERE r.ended_at IS NULL AND ${takes('r.id', '$1')}
     ORDER BY lower(r.name), r.id`,
    [round.dataset],
  )
  const signed = recipients.length ? await signedReport(sql, round, unit.code) : undefined
  const found: RecipientOfReport[] = []
  for (const recipient of recipients) found.push(await recipientOf(sql, recipient, round, unit.code, signed))
  return { recipients: found }
}

/** The file as it went out, with its name and type. @throws Refusal 404, 403 */
export async function sentDocument(access: Access, id: string) {
  const sql = await database()
  const [row] = await sql.query<{
    unit: string
    path: string[]
    round: string
    format: DocumentFormat
    document: string
    amendment: number
  }>(
    `SELECT s.unit, u.path, s.round, s.format, s.document, s.amendment FROM sending s JOIN unit_latest u ON u.code = s.unit WHERE s.id = $1`,
    [id],
  )
  if (!row) throw notFound('sending')
  mustHold(access, row.path)
  return {
    name: `${row.round.replace('~', '-')}-${row.unit}-${row.amendment}.${FILE_ENDINGS[row.format]}`,
    mediaType: MEDIA_TYPES[row.format],
    bytes: documentBytes(row.format, row.document),
  }
}
