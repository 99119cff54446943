import { v7 as uuid } from 'uuid'
import { parsePeriod } from '#core/calendar/period-text'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { cures } from '#core/rollup/cures'
import { tablesOfOthers } from '#core/rollup/other-datasets'
import { isFor } from '#core/rule/definition'
import { findDoubts, type Doubt } from '#core/rule/find-doubts'
import { nowText } from '../clock'
import { judgeOthers } from './judge-others'
import type { Sql } from '../database'
import { cellsOfReports, historyBefore } from '../reports/cells'
import { otherFiguresOf } from '../reports/other-figures'
import type { ReportPlace, ReportRow } from '../reports/place'
import { figuresChanged } from '../reports/write-cells'
import { today } from '../settings'

/** The doubts about a report as it stands, with what they were found in. */
export interface FoundDoubts {
  doubts: Doubt[]
  cells: CellMap
  /** What is stored of each doubt: with its numbers, and the changes that would cure it. */
  evidence: (doubt: Doubt) => object
}

/** Judges a report by its own edition, from what the database holds. */
export async function doubtsNow(sql: Sql, place: ReportPlace & { report: ReportRow }): Promise<FoundDoubts> {
  const { round, unit, report, ready } = place
  const cells = (await cellsOfReports(sql, [report.id])).get(report.id) ?? {}
  const history = await historyBefore(sql, { round, unit: unit.code, of: ready })
  const [others] = await otherFiguresOf(sql, [place])
  const table = reportTable(
    cells,
    must(parsePeriod(round.period)),
    tablesOfHistory(history),
    tablesOfOthers(others),
  )
  const day = await today(sql)
  const rules = ready.rules.filter(({ rule }) => isFor(rule, unit.path, round.lastDay))
  const [doubts] = findDoubts(rules, ready.cells, table, day)
  const ruleOf = (doubt: Doubt) =>
    ready.rules.find(({ rule, band }) => rule.code === doubt.code && band === doubt.band)
  return {
    doubts: doubts!,
    cells,
    evidence: doubt => ({
      ...doubt,
      cures: cures(doubt, doubt.source === 'rule' ? ruleOf(doubt) : undefined, ready.cellByKey, table, day),
    }),
  }
}

type DiscrepancyState = {
  id: string
  doubt_key: string
  state: string
  holds: boolean
  contents: Record<string, CellContent>
}

const contentsOf = (doubt: Doubt, cells: CellMap): Record<string, CellContent> =>
  Object.fromEntries(doubt.cells.map(cell => [cell, cells[cell] ?? BLANK]))

const unchanged = (known: DiscrepancyState, now: Record<string, CellContent>) =>
  Object.entries(now).every(([cell, content]) => sameContent(known.contents[cell] ?? BLANK, content))

export async function noteDiscrepancy(
  sql: Sql,
  discrepancy: string,
  act: string,
  person: string | null,
  text: string | null,
): Promise<void> {
  await sql.query(
    'INSERT INTO discrepancy_event (discrepancy, at, person, act, text) VALUES ($1, $2, $3, $4, $5)',
    [discrepancy, nowText(), person, act, text],
  )
}

/**
 * Makes the discrepancies of a report agree with its doubts: new doubts open, doubts that are gone no longer
 * hold, and a settled one whose values changed lapses, because an explanation holds only for the values it
 * explained.
 */
export async function saveDoubts(
  sql: Sql,
  report: ReportRow,
  found: FoundDoubts,
  person: string | null,
  explanations: Readonly<Record<string, string>> = {},
): Promise<void> {
  const known = await sql.query<DiscrepancyState>(
    'SELECT id, doubt_key, state, holds, contents FROM discrepancy WHERE report = $1',
    [report.id],
  )
  const byKey = new Map(known.map(row => [row.doubt_key, row]))
  for (const doubt of found.doubts) {
    const known = byKey.get(doubt.key)
    byKey.delete(doubt.key)
    const contents = contentsOf(doubt, found.cells)
    const explanation = explanations[doubt.key]?.trim() || null
    if (!known) {
      const id = uuid()
      await sql.query(
        `INSERT INTO discrepancy (id, report, round, doubt_key, source, code, band, strength, cells, state, evidence, contents, found_at)
         VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9::text[], $10, $11, $12, $13)`,
        [
          id,
          report.id,
          report.round,
          doubt.key,
          doubt.source,
          doubt.code,
          doubt.band,
          doubt.strength,
          doubt.cells,
          explanation ? 'answered' : 'open',
          found.evidence(doubt),
          contents,
          nowText(),
        ],
      )
      await noteDiscrepancy(sql, id, 'found', null, null)
      if (explanation) await noteDiscrepancy(sql, id, 'explained', person, explanation)
      continue
    }
    const lapses = known.state === 'settled' && (!known.holds || !unchanged(known, contents))
    const state = explanation ? 'answered' : lapses ? 'lapsed' : known.state
    await sql.query(
      `UPDATE discrepancy SET holds = true, state = $2, outcome = CASE WHEN $2 = 'settled' THEN outcome END, evidence = $3, contents = $4 WHERE id = $1`,
      [known.id, known.state === 'settled' && !lapses ? 'settled' : state, found.evidence(doubt), contents],
    )
    if (lapses) await noteDiscrepancy(sql, known.id, 'lapsed', null, null)
    if (explanation && (lapses || known.state !== 'settled'))
      await noteDiscrepancy(sql, known.id, 'explained', person, explanation)
  }
  const gone = [...byKey.values()].filter(({ holds }) => holds).map(({ id }) => id)
  if (gone.length) await sql.query('UPDATE discrepancy SET holds = false WHERE id = ANY($1::uuid[])', [gone])
  await figuresChanged(sql, report.id)
  await judgeOthers(sql, report)
}

/** Finds the doubts of a report anew after its values changed. */
export async function recheck(
  sql: Sql,
  place: ReportPlace & { report: ReportRow },
  person: string | null,
): Promise<void> {
  await saveDoubts(sql, place.report, await doubtsNow(sql, place), person)
}
