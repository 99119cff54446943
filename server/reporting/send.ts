import type { Doubt } from '#core/rule/find-doubts'
import { stateAfter } from '#core/report/state'
import type { Access } from '../access/access'
import { doubtsNow, saveDoubts } from '../checks/recheck'
import type { Sql } from '../database'
import { conflict, Refusal } from '../refusal'
import { moveReport } from '../reports/move'
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
 * @param ofAll what is said of every other doubt, where somebody speaks for all of them
 * @throws Refusal 409 `state`, 422 `must-fix` or `explanation-missing`.
 */
export async function sendAt(
  tx: Sql,
  access: Access,
  place: ReportPlace,
  explanations: Readonly<Record<string, string>>,
  ofAll?: string,
): Promise<void> {
  const { report } = place
  const to = stateAfter(stateOf(report), 'send')
  if (!report || !to) throw conflict('state', 'This report is not a draft: it cannot be sent now.')
  const found = await doubtsNow(tx, { ...place, report })
  const said = ofAll
    ? { ...Object.fromEntries(found.doubts.map(({ key }) => [key, ofAll])), ...explanations }
    : explanations
  const unexplained = (strength: Doubt['strength']) =>
    found.doubts.filter(
      doubt => doubt.strength === strength && !said[doubt.key]?.trim() && !isKnownToOfficeOnly(doubt),
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
  await moveReport(tx, report, to, access.id)
  await saveDoubts(tx, report, found, access.id, said)
}
