import { v7 as uuid } from 'uuid'
import type { ChangedSince, DistrictReport } from '#core/contract/district-reports'
import { may } from '#core/contract/permission'
import { districtState } from '#core/report/district-state'
import type { Problem } from '#core/result'
import { unitAsked, type Access } from '../access/access'
import { noteSignature } from '../changes/note'
import { nowText } from '../clock'
import { database } from '../database'
import { holdFacilities, lockRound } from '../database/locks'
import { conflict, notFound } from '../refusal'
import { roundById, type Round } from '../rounds/round'
import { settings } from '../settings'
import { expectedUnits } from '../units/expected-units'
import { changesSince } from './changes-since'
import { computeDistrict, type Computed } from './compute'
import {
  isSound,
  noteShown,
  seal,
  shownFigures,
  signaturesOf,
  type SignatureRow,
  type Snapshot,
} from './signatures'

/** Doubts that stop the signing, by the one rule of what blocks. */
const blockingOf = ({ figures }: Computed) => figures.discrepancies.filter(({ blocks }) => blocks)

/** The district that is asked for. @throws Refusal 404, 403, 409 `not-a-district` */
export async function districtAsked(access: Access, asked: string | undefined) {
  const unit = await unitAsked(access, asked)
  const { districtLevel } = await settings()
  if (unit.level !== districtLevel)
    throw conflict('not-a-district', 'A district report belongs to one district. Choose it first.')
  return unit
}

/** How many things differ from what was signed last; null where nothing was signed. */
export async function changedSinceSigning(
  round: Round,
  unit: { code: string; name: string },
): Promise<number | null> {
  const sql = await database()
  const last = snapshotOf((await signaturesOf(sql, round.id, unit.code)).at(-1))
  return last ? (await changesSince(sql, round, last, await computeDistrict(sql, round, unit))).length : null
}

const snapshotOf = (row: SignatureRow | undefined): Snapshot | undefined =>
  row && (JSON.parse(row.snapshot) as Snapshot)

/**
 * A round's district report: the signed snapshot where there is one, with what changed since, else the
 * figures as they are.
 *
 * @param asked `amendment`: the snapshot of an earlier signature, by its number
 * @throws Refusal 404 when there is no such signature
 */
export async function districtReport(
  access: Access,
  roundId: string,
  asked: { unit?: string; amendment?: number } = {},
): Promise<DistrictReport> {
  const sql = await database()
  const unit = await districtAsked(access, asked.unit)
  const round = await roundById(sql, roundId)
  const signatures = await signaturesOf(sql, roundId, unit.code)
  const now = await computeDistrict(sql, round, unit)
  const toSign = seal(now)
  if (may(access, 'sign')) await noteShown(toSign.checksum, toSign.snapshot)
  const last = snapshotOf(signatures.at(-1))
  const chosen =
    asked.amendment === undefined
      ? last
      : snapshotOf(signatures.find(({ amendment }) => amendment === asked.amendment))
  if (asked.amendment !== undefined && !chosen) throw notFound('signature')
  const blocking = blockingOf(now)
  return {
    state: districtState({
      received: now.figures.reporting.received,
      blocking: blocking.length,
      signatures: signatures.length,
    }),
    figures: (chosen ?? now).figures,
    shows: chosen ? (asked.amendment ?? signatures.at(-1)!.amendment) : null,
    signatures: signatures.map(row => ({
      amendment: row.amendment,
      signedAt: row.signedAt,
      by: row.by,
      checksum: row.checksum,
      isSound: isSound(row),
    })),
    blocking: blocking.map(({ id, unit: place, title, strength, state }) => ({
      id,
      unit: place,
      title,
      strength,
      state,
    })),
    changedSince: last ? await changesSince(sql, round, last, now) : [],
    toSign: toSign.checksum,
  }
}

/** How many differences a refusal names. */
const MOST_NAMED = 50

/** A difference as a problem that points at its place. */
function problemOf(change: ChangedSince): Problem {
  const at =
    change.kind === 'cell'
      ? `cells/${change.unit.code}/${change.cell}`
      : change.kind === 'completeness'
        ? 'completeness'
        : `${change.kind}/${change.unit.code}`
  const text = (value: unknown) =>
    typeof value === 'object' && value !== null ? JSON.stringify(value) : String(value)
  return {
    code: `changed-${change.kind}`,
    message: `${text(change.signed)} → ${text(change.now)}`,
    at,
    values: {
      unit: 'unit' in change ? change.unit.name : '',
      shown: text(change.signed),
      now: text(change.now),
    },
  }
}

/**
 * Signs a district's round: freezes the figures, the discrepancies with what was said of them, and every
 * facility's numbers. One signs what one has seen. Signing again makes an amendment, which names the checksum
 * before it.
 *
 * @param seen the checksum of what was shown
 * @throws Refusal 409 `figures-changed` with the differences, `blocked` while doubts are unsettled,
 *   `nothing-received`, `nothing-changed`.
 */
export async function signDistrict(
  access: Access,
  roundId: string,
  seen: string,
  asked?: string,
): Promise<void> {
  const unit = await districtAsked(access, asked)
  const sql = await database()
  await sql.transaction(async tx => {
    const round = await roundById(tx, roundId)
    await lockRound(tx, roundId)
    // What is signed is one state of the district: nobody changes a report of it meanwhile.
    const expected = await expectedUnits(tx, round, unit.code)
    await holdFacilities(
      tx,
      expected.map(({ code }) => code),
    )
    const computed = await computeDistrict(tx, round, unit)
    if (seal(computed).checksum !== seen) {
      const shown = await shownFigures(tx, seen)
      const changes = shown ? await changesSince(tx, round, shown, computed) : []
      throw conflict(
        'figures-changed',
        'The figures are no longer those that you were shown. Nothing was signed: look at them again.',
        changes.slice(0, MOST_NAMED).map(problemOf),
      )
    }
    const blocking = blockingOf(computed)
    if (blocking.length)
      throw conflict('blocked', `${blocking.length} doubts are not settled. Settle them, then sign.`)
    if (computed.figures.reporting.received === 0)
      throw conflict('nothing-received', 'No report of this round has been received yet.')
    const last = (await signaturesOf(tx, roundId, unit.code)).at(-1)
    if (last && (await changesSince(tx, round, snapshotOf(last)!, computed)).length === 0) {
      throw conflict('nothing-changed', 'Nothing has changed since the last signature.')
    }
    const { snapshot, checksum } = seal({ ...computed, previous: last?.checksum ?? null })
    await tx.query(
      'INSERT INTO signature (id, round, unit, amendment, signed_at, person, checksum, snapshot) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)',
      [uuid(), roundId, unit.code, (last?.amendment ?? 0) + 1, nowText(), access.id, checksum, snapshot],
    )
    await noteSignature(tx, roundId, unit.code)
  })
}
