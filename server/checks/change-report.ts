import type { DeskOutcome } from '#core/contract/desk'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import type { Sql } from '../database'
import { applyCells, type CellAsked, type ChangeOrigin } from '../reports/apply-cells'
import { moveReport } from '../reports/move'
import type { ReportPlace, ReportRow } from '../reports/place'
import { recheck } from './recheck'

/**
 * Applies changes of a report that somebody began. What the district has already is before the officer again:
 * its state moves, and its doubts are found anew. The one way for devices, the office and corrections.
 *
 * @param recheckDraft finds the doubts anew also in a report that is with the facility: a correction settles
 *   one.
 */
export async function changeReport(
  sql: Sql,
  place: ReportPlace & { report: ReportRow },
  access: Access,
  changes: readonly CellAsked[],
  where: ChangeOrigin,
  recheckDraft = false,
): Promise<DeskOutcome[]> {
  const { report } = place
  const outcomes = await applyCells(sql, place, report, access, changes, where)
  if (!outcomes.some(({ outcome }) => outcome === 'received')) return outcomes
  // Only what the district has moves by a change.
  const next = stateAfter(report.state, 'change')
  if (next) await moveReport(sql, report, next, access.id, changes[0]!.why ?? null)
  if (next || recheckDraft) await recheck(sql, place, access.id)
  return outcomes
}
