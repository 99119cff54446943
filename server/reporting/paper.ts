import type { PaperReport } from '#core/contract/paper-report'
import type { DeskOutcome } from '#core/contract/desk'
import { isReceived, type ReportState } from '#core/report/state'
import type { Access } from '../access/access'
import { changeReport } from '../checks/change-report'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { conflict, notFound, Refusal } from '../refusal'
import { lockedPlace, stateOf } from '../reports/place'
import { dayOfPaper } from '../settings'
import { beginReport } from './apply-changes'
import { sendAt } from './send'

/** What the report is after it. */
interface Taken {
  state: ReportState
  receivedAt: string | null
}

/** Was this act of entering done before? @throws Refusal 409 `change-reused` where it was another report's */
async function isDone(tx: Sql, id: string, report: number | undefined): Promise<boolean> {
  const [row] = await tx.query<{ report: number }>('SELECT report FROM report_paper WHERE id = $1', [id])
  if (row && row.report !== report)
    throw conflict('change-reused', 'This paper was entered for another report.')
  return row !== undefined
}

/**
 * Nothing of a paper is kept when a part of it cannot be: who types has all of it before them.
 *
 * @throws Refusal 422 `paper-cells` with what is wrong at which cell, 409 `paper-changed` with the cells that
 *   somebody else changed since
 */
function mustAllStand(cells: PaperReport['cells'], outcomes: readonly DeskOutcome[]): void {
  const cellOf = new Map(cells.map(({ id, cell }) => [id, cell]))
  const at = (outcome: DeskOutcome) => `cells/${cellOf.get(outcome.id)}`
  const refused = outcomes.filter(({ outcome }) => outcome === 'refused')
  if (refused.length)
    throw new Refusal(
      422,
      'paper-cells',
      `${refused.length} values of the paper cannot be kept.`,
      refused.map(one => ({ code: one.code ?? 'schema', message: one.message ?? '', at: at(one) })),
    )
  const changed = outcomes.filter(({ outcome }) => outcome === 'conflict')
  if (changed.length)
    throw new Refusal(
      409,
      'paper-changed',
      `Somebody changed ${changed.length} of these values meanwhile.`,
      changed.map(one => ({ code: 'paper-changed', message: '', at: at(one) })),
    )
}

/**
 * Takes in a report that a facility filled on paper, in one act: its values, what is said of its doubts, and
 * which paper it is. It is sent like one of a device, and judged alike. Where the district has the report
 * already, its values change with the reason. It is taken in after closing, too: that is what the office
 * decides.
 *
 * @throws Refusal 403, 404; 409 `round-not-open`, `why-missing`, `paper-changed`, `state`; 422 `paper-day`,
 *   `paper-cells`, `must-fix`, `explanation-missing`
 */
export async function takePaperReport(
  access: Access,
  roundId: string,
  unit: string,
  paper: PaperReport,
): Promise<Taken> {
  const sql = await database()
  return sql.transaction(async tx => {
    const place = await lockedPlace(tx, access, roundId, unit)
    if (!(await isDone(tx, paper.id, place.report?.id))) {
      await dayOfPaper(tx, paper.paperOn)
      if (now() < Date.parse(place.round.opensAt))
        throw conflict('round-not-open', 'This round has not opened yet.')
      const wasReceived = isReceived(stateOf(place.report))
      if (wasReceived && !paper.why?.trim())
        throw conflict('why-missing', 'The district has this report already. Say why the values change.')
      const begun = await beginReport(tx, place, access)
      const changes = paper.cells.map(cell => ({ ...cell, why: paper.why }))
      const outcomes = await changeReport(tx, begun, access, changes, { origin: 'paper' })
      mustAllStand(paper.cells, outcomes)
      if (!wasReceived) await sendAt(tx, access, begun, paper.explanations)
      await tx.query(
        'INSERT INTO report_paper (id, report, paper_on, filled_by, person, at) VALUES ($1, $2, $3, $4, $5, $6)',
        [paper.id, begun.report.id, paper.paperOn, paper.filledBy.trim(), access.id, nowText()],
      )
    }
    const [taken] = await tx.query<Taken>(
      'SELECT state, received_at AS "receivedAt" FROM report WHERE round = $1 AND unit = $2',
      [roundId, unit],
    )
    if (!taken) throw notFound('report')
    return taken
  })
}
