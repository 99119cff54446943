import type { Doubt } from '#core/rule/find-doubts'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import { doubtsNow, saveDoubts, type HistoryOf } from '../checks/recheck'
import type { Sql } from '../database'
import { conflict, Refusal } from '../refusal'
import { moveReports } from '../reports/move'
import { lockedPlace, stateOf, type ReportPlace } from '../reports/place'
import { mustBeOpen } from '../rounds/closing'

/** Sends a report of a facility, while its round is open to it. @throws Refusal 409 `round-closed`, and as below */
export async function sendReport(
  tx: Sql,
  access: Access,
  roundId: string,
  unit: string,
  explanations: Readonly<Record<string, string>>,
): Promise<void> {
  const place = await lockedPlace(tx, access, roundId, unit)
  mustBeOpen(place.round)
  await sendAt(tx, access, place, explanations)
}

/**
 * A device does not know what a supervisor counted, or what another system refused: the officer asks about it, and
 * nothing is said in advance.
 */
const isKnownToOfficeOnly = ({ source }: Doubt): boolean => source === 'recount' || source === 'refused'

/**
 * Sends a report, in the transaction of the caller, that is alone with its facility: checks it again here, and
 * stores its doubts as discrepancies with what the facility says of them.
 * @param explanations a sentence for each doubt that asks for one, and for each must-fix doubt that cannot be
 *   corrected, by the doubt's key.
 * @throws Refusal 409 `state`, 422 `must-fix` or `explanation-missing`.
 */
export const sendAt = (
  tx: Sql,
  access: Access,
  place: ReportPlace,
  explanations: Readonly<Record<string, string>>,
): Promise<void> => sendAllAt(tx, access, [place], () => explanations)

/**
 * The same of several reports.
 * @param saying what is said of the doubts of a report
 * @param histories what they look back at, where it is being read
 * @throws Refusal as above, for the first of them that cannot be sent: nothing is sent then
 */
export async function sendAllAt(
  tx: Sql,
  access: Access,
  places: readonly ReportPlace[],
  saying: (doubts: readonly Doubt[]) => Readonly<Record<string, string>>,
  histories?: Promise<HistoryOf>,
): Promise<void> {
  const begun = places.map(place => {
    const { report } = place
    const to = stateAfter(stateOf(report), 'send')
    if (!report || !to) throw conflict('state', 'This report is not a draft: it cannot be sent now.')
    return { ...place, report, to }
  })
  const found = await doubtsNow(tx, begun, [], histories)
  const judged = begun.map(({ report }, at) => ({
    report,
    found: found[at]!,
    explanations: saying(found[at]!.doubts),
  }))
  for (const one of judged) mustBeExplained(one.found.doubts, one.explanations)
  await moveReports(tx, begun, access.id)
  await saveDoubts(tx, judged, access.id)
}

/** @throws Refusal 422 `must-fix`, `explanation-missing` */
function mustBeExplained(doubts: readonly Doubt[], explanations: Readonly<Record<string, string>>): void {
  const unexplained = (strength: Doubt['strength']) =>
    doubts.filter(
      doubt => doubt.strength === strength && !explanations[doubt.key]?.trim() && !isKnownToOfficeOnly(doubt),
    ).length
  // Rules hold for the district, not against the nurse: what cannot be corrected is explained to the officer.
  const mustFix = unexplained('mustFix')
  if (mustFix) {
    throw new Refusal(
      422,
      'must-fix',
      `${mustFix} values cannot be right. Correct them, or say why they cannot be corrected.`,
    )
  }
  const explain = unexplained('explain')
  if (explain) {
    throw new Refusal(
      422,
      'explanation-missing',
      `${explain} values need a sentence from you before the report is sent.`,
    )
  }
}
