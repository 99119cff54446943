import type { DeskOutcome } from '#core/contract/desk'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import type { Sql } from '../database'
import type { BegunPlace } from '../reports/place'
import { applyCells, type CellAsked, type ChangeOrigin, type ReportChanges } from '../reports/apply-cells'
import { moveReports } from '../reports/move'
import { historiesOf, recheck } from './recheck'

/**
 * Applies changes of reports that somebody began. What the district has already is before the officer again:
 * its state moves, and its doubts are found anew. The one way for devices, the office, files and corrections.
 *
 * @param recheckDrafts finds the doubts anew also in reports that are with their facilities: a correction settles
 *   one.
 * @returns for each report one outcome for each change, in their order
 */
export async function changeReports(
  sql: Sql,
  batches: readonly ReportChanges[],
  access: Access,
  where: ChangeOrigin,
  recheckDrafts = false,
): Promise<DeskOutcome[][]> {
  // Only what the district has moves by a change.
  const stateOfChanged = ({ report }: BegunPlace) => stateAfter(report.state, 'change')
  const isJudged = (place: BegunPlace) => recheckDrafts || stateOfChanged(place) !== undefined
  const histories = historiesOf(sql, batches.map(({ place }) => place).filter(isJudged))
  const outcomes = await applyCells(sql, batches, access, where)
  const changed = batches.filter((_, at) => outcomes[at]!.some(({ outcome }) => outcome === 'received'))
  const moves = changed.flatMap(({ place, changes }) => {
    const to = stateOfChanged(place)
    return to ? [{ report: place.report, to, why: changes[0]!.why ?? null }] : []
  })
  await moveReports(sql, moves, access.id)
  await recheck(sql, changed.map(({ place }) => place).filter(isJudged), access.id, [], histories)
  return outcomes
}

/** The same of one. */
export const changeReport = async (
  sql: Sql,
  place: BegunPlace,
  access: Access,
  changes: readonly CellAsked[],
  where: ChangeOrigin,
  recheckDraft = false,
): Promise<DeskOutcome[]> => (await changeReports(sql, [{ place, changes }], access, where, recheckDraft))[0]!
