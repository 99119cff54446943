import { createHash } from 'node:crypto'
import canonicalize from 'canonicalize'
import { v7 as uuid } from 'uuid'
import type { DistrictReport } from '#core/contract/district-reports'
import { nameCell } from '#core/report/edition'
import { unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { conflict } from '../http/refusal'
import { roundById, type Round } from '../rounds/round'
import { settings } from '../settings'
import { computeDistrict, type Computed } from './compute'

interface SignatureRow {
  amendment: number
  signedAt: string
  by: string
  checksum: string
  snapshot: string
}

const signaturesOf = (sql: Pick<Sql, 'query'>, round: string, unit: string) => sql.query<SignatureRow>(
  `SELECT s.amendment, s.signed_at AS "signedAt", p.display_name AS by, s.checksum, s.snapshot
   FROM signature s JOIN person p ON p.id = s.person WHERE s.round = $1 AND s.unit = $2 ORDER BY s.amendment`, [round, unit])

/** Unsettled doubts that stop the signing: all but notes. */
const blockingOf = ({ figures }: Computed) =>
  figures.discrepancies.filter(({ state, strength }) => state !== 'settled' && strength !== 'note')

/** Cell by cell, what differs between two states of the facilities' numbers. */
async function differences(sql: Pick<Sql, 'query'>, round: Round, signed: Computed, now: Computed): Promise<DistrictReport['changedSince']> {
  const { cells } = await editionOf(sql, round.dataset, round.edition)
  const units = new Set([...Object.keys(signed.cells), ...Object.keys(now.cells)])
  const names = await sql.query<{ code: string; name: string }>('SELECT code, name FROM unit_latest WHERE code = ANY($1::text[]) ORDER BY name', [[...units]])
  return names.flatMap(unit => cells.flatMap((cell) => {
    const before = signed.cells[unit.code]?.[cell.key] ?? null
    const after = now.cells[unit.code]?.[cell.key] ?? null
    return before === after ? [] : [{ unit, cell: cell.key, name: { en: nameCell(cell, 'en'), fr: nameCell(cell, 'fr') }, signed: before, now: after }]
  }))
}

async function districtAsked(access: Access, asked: string | undefined) {
  const unit = await unitAsked(access, asked)
  const { districtLevel } = await settings()
  if (unit.level !== districtLevel) throw conflict('not-a-district', 'A district report belongs to one district. Choose it first.')
  return unit
}

/** A round's district report: the signed snapshot where there is one, with what changed since, else the figures as they are. */
export async function districtReport(access: Access, roundId: string, asked?: string): Promise<DistrictReport> {
  const sql = await database()
  const unit = await districtAsked(access, asked)
  const round = await roundById(sql, roundId)
  const signatures = await signaturesOf(sql, roundId, unit.code)
  const now = await computeDistrict(sql, round, unit)
  const last = signatures.at(-1)
  const signed = last ? JSON.parse(last.snapshot) as Computed : undefined
  const blocking = blockingOf(now)
  return {
    state: last ? (last.amendment > 1 ? 'amended' : 'signed') : blocking.length || now.figures.reporting.received === 0 ? 'gathering' : 'ready',
    figures: (signed ?? now).figures,
    signatures: signatures.map(({ amendment, signedAt, by, checksum }) => ({ amendment, signedAt, by, checksum })),
    blocking: blocking.map(({ id, unit: place, title, strength, state }) => ({ id, unit: place, title, strength, state })),
    changedSince: signed ? await differences(sql, round, signed, now) : [],
  }
}

/** SHA-256 over the canonical JSON (RFC 8785) of a snapshot. */
export function seal(computed: Computed): { snapshot: string; checksum: string } {
  const snapshot = canonicalize(computed)
  if (snapshot === undefined) throw new Error('A snapshot must be JSON.')
  return { snapshot, checksum: createHash('sha256').update(snapshot).digest('hex') }
}

/**
 * Signs a district's round: freezes the figures, the discrepancies with what was said of them, and every facility's
 * numbers. Signing again makes an amendment.
 * @throws Refusal 409 `blocked` while doubts are unsettled, `nothing-received`, `nothing-changed`.
 */
export async function signDistrict(access: Access, roundId: string, asked?: string): Promise<void> {
  const unit = await districtAsked(access, asked)
  const sql = await database()
  await sql.transaction(async (tx) => {
    const round = await roundById(tx, roundId)
    const computed = await computeDistrict(tx, round, unit)
    const blocking = blockingOf(computed)
    if (blocking.length) throw conflict('blocked', `${blocking.length} doubts are not settled. Settle them, then sign.`)
    if (computed.figures.reporting.received === 0) throw conflict('nothing-received', 'No report of this round has been received yet.')
    const last = (await signaturesOf(tx, roundId, unit.code)).at(-1)
    if (last && (await differences(tx, round, JSON.parse(last.snapshot) as Computed, computed)).length === 0) {
      throw conflict('nothing-changed', 'Nothing has changed since the last signature.')
    }
    const { snapshot, checksum } = seal(computed)
    await tx.query(
      'INSERT INTO signature (id, round, unit, amendment, signed_at, person, checksum, snapshot) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
      [uuid(), roundId, unit.code, (last?.amendment ?? 0) + 1, nowText(), access.id, checksum, snapshot])
  })
}
