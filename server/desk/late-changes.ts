import type { DeskOutcome } from '#core/contract/desk'
import { groupBy } from '#core/group-by'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { digestOf } from './read-change'
import { reused } from './received'
import { OFFERED, type ReportChange } from '../reports/late-changes'
import { roundById } from '../rounds/round'
import { roundFor } from '../rounds/closing'

interface Arrived {
  access: Access
  device: string
  correctTime: (madeAt: string) => string
}

/** The report that a change is about. */
async function placeOf(sql: Sql, change: ReportChange): Promise<{ round: string; unit: string }> {
  if (change.kind !== 'answer') return change
  const [row] = await sql.query<{ round: string; unit: string }>(
    'SELECT d.round, p.unit FROM discrepancy d JOIN report p ON p.id = d.report WHERE d.id = $1',
    [change.discrepancy],
  )
  return row!
}

const heldOutcome = (id: string): DeskOutcome => ({
  id,
  outcome: 'refused',
  code: 'after-closing',
  message: 'This arrived after the round closed. The district office has a copy and decides.',
})

const leftOutOutcome = (id: string, why: string): DeskOutcome => ({
  id,
  outcome: 'refused',
  code: 'left-out',
  message: why,
})

/**
 * Keeps a change that was made before its round closed and arrived after it, and offers it to the officer.
 * One that was made after the closing stays on its device.
 *
 * @param refusal what was answered so far: refused with `round-closed`
 * @returns the answer: `after-closing` when the district keeps it, `left-out` when the officer decided so
 *   before
 */
export async function holdLate(
  sql: Sql,
  { access, device, correctTime }: Arrived,
  change: ReportChange,
  refusal: DeskOutcome,
): Promise<DeskOutcome> {
  const { round, unit } = await placeOf(sql, change)
  const { closesAt } = await roundFor(sql, await roundById(sql, round), unit)
  const madeAt = correctTime(change.madeAt)
  if (Date.parse(madeAt) >= Date.parse(closesAt)) return refusal
  const digest = digestOf(change)
  await sql.query(
    `INSERT INTO late_change (id, round, unit, person, device, change, digest, made_at, arrived_at)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9) ON CONFLICT (id) DO NOTHING`,
    [change.id, round, unit, access.id, device, change, digest, madeAt, nowText()],
  )
  const [row] = await sql.query<{
    digest: string
    person: string
    outcome: string | null
    why: string | null
  }>('SELECT digest, person, outcome, why FROM late_change WHERE id = $1', [change.id])
  if (row!.digest !== digest || row!.person !== access.id) return reused(change.id)
  return row!.outcome === 'leftOut' ? leftOutOutcome(change.id, row!.why ?? '') : heldOutcome(change.id)
}

/**
 * The latest changes of a person that the office left out. Their device asks until it knows, so the newest
 * are enough.
 */
export const leftOutOf = (sql: Pick<Sql, 'query'>, person: string): Promise<{ id: string; why: string }[]> =>
  sql.query(
    `SELECT id, coalesce(why, '') AS why FROM late_change WHERE person = $1 AND outcome = 'leftOut' ORDER BY settled_at DESC LIMIT 500`,
    [person],
  )

/** One person's late changes from one device. */
export interface LateGroup {
  person: string
  device: string
  changes: ReportChange[]
}

/** What is offered of one report, locked, by person and device, each in the order in which it was made. */
export async function lateGroups(sql: Sql, round: string, unit: string): Promise<LateGroup[]> {
  const rows = await sql.query<{ person: string; device: string; change: ReportChange }>(
    `SELECT person, device, change FROM late_change WHERE round = $1 AND unit = $2 AND ${OFFERED} ORDER BY seq FOR UPDATE`,
    [round, unit],
  )
  return [...groupBy(rows, ({ person, device }) => `${person} ${device}`).values()].map(group => ({
    person: group[0]!.person,
    device: group[0]!.device,
    changes: group.map(({ change }) => change),
  }))
}

/**
 * Notes what became of late changes when the facility was let in. What was refused stays offered, with the
 * reason.
 */
export async function noteApplied(sql: Sql, outcomes: readonly DeskOutcome[], person: string): Promise<void> {
  for (const { id, outcome, code } of outcomes) {
    if (outcome === 'refused' || outcome === 'early')
      await sql.query('UPDATE late_change SET problem = $2 WHERE id = $1', [id, code ?? outcome])
    else
      await sql.query(
        `UPDATE late_change SET outcome = 'applied', settled_at = $2, settled_by = $3, problem = NULL WHERE id = $1`,
        [id, nowText(), person],
      )
  }
}
