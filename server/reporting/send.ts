import { stateAfter } from '#core/report/state'
import type { Problem } from '#core/result'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { doubtsNow, saveDoubts } from '../checks/recheck'
import { conflict, Refusal } from '../refusal'
import { mustBeOpen } from '../rounds/closing'
import { moveReport } from '../reports/move'
import { reportPlace, stateOf } from '../reports/place'

/**
 * Sends a report: checks it again here, keeps its doubts as discrepancies with what the facility says of
 * them.
 * @param explanations a sentence for each doubt that asks for one, and for each must-fix doubt that cannot be
 *   corrected, by the doubt's key.
 * @throws Refusal 409 (`state`, `round-closed`), 422 `must-fix` or `explanation-missing` with the doubts'
 *   keys.
 */
export async function sendReport(
  access: Access,
  roundId: string,
  unit: string,
  explanations: Readonly<Record<string, string>>,
) {
  const sql = await database()
  return sql.transaction(tx => sendReportIn(tx, access, roundId, unit, explanations))
}

/** The same inside a transaction. */
export async function sendReportIn(
  tx: Sql,
  access: Access,
  roundId: string,
  unit: string,
  explanations: Readonly<Record<string, string>>,
) {
  const place = await reportPlace(tx, access, roundId, unit, true)
  const { report, round } = place
  mustBeOpen(round)
  const to = stateAfter(stateOf(report), 'send')
  if (!report || !to) throw conflict('state', 'This report is not a draft: it cannot be sent now.')
  const found = await doubtsNow(tx, { ...place, report })
  const at = (key: string): Problem => ({ code: 'doubt', message: key, at: `doubts/${key}` })
  // Rules hold for the district, not against the nurse: what cannot be corrected is explained to the officer.
  const mustFix = found.doubts.filter(
    ({ strength, key }) => strength === 'mustFix' && !explanations[key]?.trim(),
  )
  if (mustFix.length) {
    throw new Refusal(
      422,
      'must-fix',
      `${mustFix.length} values cannot be right. Correct them, or say why they cannot be corrected.`,
      mustFix.map(({ key }) => at(key)),
    )
  }
  const unexplained = found.doubts.filter(
    ({ strength, key }) => strength === 'explain' && !explanations[key]?.trim(),
  )
  if (unexplained.length) {
    throw new Refusal(
      422,
      'explanation-missing',
      `${unexplained.length} values need a sentence from you before the report is sent.`,
      unexplained.map(({ key }) => at(key)),
    )
  }
  await moveReport(tx, report, to, access.id)
  await saveDoubts(tx, report, found, access.id, explanations)
  return { state: to, receivedAt: nowText() }
}
