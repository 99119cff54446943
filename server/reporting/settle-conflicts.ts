import { v7 as uuid } from 'uuid'
import type { ConflictDecision } from '#core/contract/reports'
import { isReceived } from '#core/report/state'
import type { Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { database } from '../database'
import { conflict, notFound } from '../refusal'
import { lockedPlace } from '../reports/place'
import { openConflicts } from '../reports/conflicts'

const SAYS = 'Two devices had different values: the office looked at both and decided.'

/** Somebody changed a value, or decided, since the person saw both sides. */
const seenOtherwise = (cells: readonly string[]) =>
  conflict(
    'conflict-changed',
    'These values changed since you saw them: look at them again.',
    cells.map(cell => ({ code: 'conflict-changed', message: '', at: `cells/${cell}` })),
  )

/**
 * Decides between the values that several devices gave for cells of one report. What does not stand any more
 * stays in the history of its cell. Only conflicts that the person saw are settled, and all of them or none.
 *
 * @throws Refusal 403, 404; 409 `conflict-changed` where something is otherwise than the person saw it
 */
export async function decideConflicts(
  access: Access,
  roundId: string,
  unit: string,
  decisions: readonly ConflictDecision[],
): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    const place = await lockedPlace(tx, access, roundId, unit)
    const { report } = place
    if (!report) throw notFound('report')
    const open = (await openConflicts(tx, [report.id]))(report.id)
    const changes = decisions.map(({ cell, base, content, seen }) => ({
      ...{ id: uuid(), cell, base, content, settles: seen },
      ...(isReceived(report.state) && { why: SAYS }),
    }))
    const unseen = decisions.filter(({ cell, seen }) => {
      const here = open.flatMap(one => (one.cell === cell ? [one.id] : []))
      return here.length !== seen.length || !here.every(id => seen.includes(id))
    })
    if (unseen.length) throw seenOtherwise(unseen.map(({ cell }) => cell))
    const outcomes = await changeReport(tx, { ...place, report }, access, changes, { origin: 'office' })
    const failed = changes.filter((_, at) => !['received', 'alreadyHad'].includes(outcomes[at]!.outcome))
    if (failed.length) throw seenOtherwise(failed.map(({ cell }) => cell))
  })
}
