import { cellFinder } from '#core/sending/document'
import { turned } from '#core/sending/codes'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { askForJob } from '../queue/job-table'
import type { Answer } from '../repository/repository'
import { roundById } from '../rounds/round'
import { codesFrom, signedReport, type StoredCodes } from './signed'

interface Row {
  id: string
  recipient: string
  round: string
  unit: string
  amendment: number
  isWhole: boolean
  codes: StoredCodes
}

/** What the recipient had refused before of what went out now: of all of it, or of the values that went out again. */
async function endEarlier(tx: Sql, { id, recipient, round, unit, isWhole }: Row): Promise<void> {
  await tx.query(
    `UPDATE sending_refusal f SET ended_at = $5 FROM sending s
     WHERE s.id = f.sending AND f.ended_at IS NULL AND s.recipient = $1 AND s.round = $2 AND s.unit = $3 AND s.id <> $4
       AND ($6 OR f.resent_in = $4)`,
    [recipient, round, unit, id, nowText(), isWhole],
  )
}

/** Keeps what was refused, each with its place here. */
async function storeRefused(tx: Sql, row: Row, { refused }: Answer): Promise<void> {
  const signed = await signedReport(tx, await roundById(tx, row.round), row.unit, row.amendment)
  const codes = codesFrom(row.codes)
  const units = turned(codes).unit
  const cellOf = signed ? cellFinder(signed.edition, codes) : () => null
  const found = refused.map(({ about, message, ...place }) => {
    const unit = units.get(place.orgUnit)
    const cell = cellOf(place)
    const value = unit && cell ? signed?.cells[unit]?.[cell] : undefined
    return value === undefined
      ? { about, message, place, unit: null, cell: null, value: null }
      : { about, message, place, unit: unit!, cell, value }
  })
  await tx.query(
    `INSERT INTO sending_refusal (sending, number, about, unit, cell, value, place, message)
     SELECT $1, f.* FROM jsonb_to_recordset($2::jsonb -> 'rows')
       AS f (number int, about text, unit text, cell text, value jsonb, place jsonb, message text)`,
    [row.id, { rows: found.map((one, at) => ({ number: at + 1, ...one })) }],
  )
}

/** Has the reports judged again that this recipient refused values of, now or before. */
async function judgeReports(tx: Sql, { recipient, round, unit }: Row): Promise<void> {
  await tx.query(
    `INSERT INTO report_to_judge (report, since)
     SELECT DISTINCT p.id, $4::timestamptz FROM sending s JOIN sending_refusal f ON f.sending = s.id
       JOIN report p ON p.round = s.round AND p.unit = f.unit
     WHERE s.recipient = $1 AND s.round = $2 AND s.unit = $3 AND f.about = 'value' ON CONFLICT DO NOTHING`,
    [recipient, round, unit, nowText()],
  )
  await askForJob(tx, 'judgeAgain')
}

/**
 * Keeps what a recipient answered: the receipt with the report, and what it refused. A refused value becomes a
 * discrepancy when its report is judged again; a code that the recipient does not know is work for who keeps the codes.
 * The same answer twice is one.
 */
export async function takeAnswer({ id }: { id: string }, answer: Answer): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const [row] = await tx.query<Row & { answeredAt: string | null }>(
      `SELECT id, recipient, round, unit, amendment, is_whole AS "isWhole", codes, answered_at AS "answeredAt" FROM sending
       WHERE id = $1 FOR UPDATE`,
      [id],
    )
    if (!row || row.answeredAt !== null) return
    const state = answer.receipt === null ? 'refused' : answer.refused.length ? 'partly' : 'taken'
    await tx.query(
      'UPDATE sending SET state = $2, receipt = $3, problem = $4, answered_at = $5, next_at = NULL WHERE id = $1',
      [id, state, answer.receipt, answer.problem, nowText()],
    )
    if (answer.receipt === null) return
    await endEarlier(tx, row)
    await storeRefused(tx, row, answer)
    await judgeReports(tx, row)
  })
}
