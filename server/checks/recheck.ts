import { parsePeriod } from '#core/calendar/period-text'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { countDoubt } from '#core/reconcile/count-doubt'
import { countsAt, countsIn, type CountFigures } from '#core/reconcile/count-figures'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { cures } from '#core/rollup/cures'
import { tablesOfOthers } from '#core/rollup/other-datasets'
import type { CompiledRule } from '#core/rule/compile-rules'
import { isFor } from '#core/rule/definition'
import { findDoubts, type Doubt } from '#core/rule/find-doubts'
import { registeredFor } from '../case-counts/compare'
import { judgeOthers } from './judge-others'
import type { Sql } from '../database'
import { KNOWN_DISCREPANCY, saveFound, type KnownDiscrepancy } from '../doubts/save-found'
import { cellsOfReports, historyBefore } from '../reports/cells'
import { countFiguresOf } from '../reports/count-figures'
import { recountDoubts } from '../recounts/held'
import { refusedDoubts } from '../refusals/held'
import { otherFiguresOf } from '../reports/other-figures'
import type { ReportPlace, ReportRow } from '../reports/place'
import { figuresChanged } from '../reports/write-cells'
import { today } from '../settings'

/** The doubts about a report as it stands, with what they were found in. */
export interface FoundDoubts {
  doubts: Doubt[]
  /** What a doubt holds for: its cells, and how many cases its rule counts. An explanation holds for the same. */
  contents: (doubt: Doubt) => Record<string, CellContent>
  /** What is stored of each doubt: with its numbers, and the changes that would cure it. */
  evidence: (doubt: Doubt) => object
}

/**
 * Where the report and a register say different numbers: of the counts that raise doubts, and of those about
 * which somebody asked before.
 * @param also codes of counts that are asked about now
 */
async function countDoubts(
  sql: Sql,
  { round, report, ready }: ReportPlace & { report: ReportRow },
  cells: CellMap,
  also: readonly string[],
): Promise<Doubt[]> {
  const all = ready.edition.caseCounts ?? []
  if (!all.length) return []
  const asked = await sql.query<{ code: string }>(
    `SELECT code FROM discrepancy WHERE report = $1 AND source = 'cases'`,
    [report.id],
  )
  const codes = new Set([...also, ...asked.map(({ code }) => code)])
  const counts = all.filter(({ code, place, raises }) => (raises && place === 'care') || codes.has(code))
  if (!counts.length) return []
  const registered = await registeredFor(sql, round, counts, report)
  return counts.flatMap(count => {
    const number = registered.get(count.code)
    if (number === undefined) return []
    const doubt = countDoubt(
      count,
      count.raises ?? 'explain',
      cell => cells[cell] ?? BLANK,
      number,
      cell => ready.cellByKey.get(cell),
    )
    return doubt ? [doubt] : []
  })
}

/**
 * Judges a report by its own edition, from what the database holds.
 * @param asked codes of counts of cases that somebody asks about
 */
export async function doubtsNow(
  sql: Sql,
  place: ReportPlace & { report: ReportRow },
  asked: readonly string[] = [],
): Promise<FoundDoubts> {
  const { round, unit, report, ready } = place
  const cells = (await cellsOfReports(sql, [report.id])).get(report.id) ?? {}
  const history = await historyBefore(sql, { round, unit: unit.code, of: ready })
  const [others] = await otherFiguresOf(sql, [place])
  const [counts] = await countFiguresOf(sql, [place])
  const table = reportTable(
    cells,
    must(parsePeriod(round.period)),
    tablesOfHistory(history),
    tablesOfOthers(others),
    countsAt(counts),
  )
  const day = await today(sql)
  const rules = ready.rules.filter(({ rule }) => isFor(rule, unit.path, round.lastDay))
  const [doubts] = findDoubts(rules, ready.cells, table, day)
  const ruleOf = (doubt: Doubt) =>
    ready.rules.find(({ rule, band }) => rule.code === doubt.code && band === doubt.band)
  return {
    doubts: [
      ...doubts!,
      ...(await countDoubts(sql, place, cells, asked)),
      ...(await recountDoubts(sql, report.id, ready, cells)),
      ...(await refusedDoubts(sql, report, ready, cells)),
    ],
    contents: doubt => ({
      ...contentsOf(doubt, cells),
      ...(SAID_OTHERWISE.has(doubt.source) ? otherNumber(doubt) : countsOf(ruleOf(doubt), counts)),
    }),
    evidence: doubt => ({
      ...doubt,
      cures: cures(doubt, doubt.source === 'rule' ? ruleOf(doubt) : undefined, ready.cellByKey, table, day),
    }),
  }
}

const contentsOf = (doubt: Doubt, cells: CellMap): Record<string, CellContent> =>
  Object.fromEntries(doubt.cells.map(cell => [cell, cells[cell] ?? BLANK]))

const countsOf = (rule: CompiledRule | undefined, counts: CountFigures | undefined) =>
  Object.fromEntries(
    countsIn(rule ? [rule] : []).map(({ text }): [string, CellContent] => {
      const value = counts?.numbers[text]?.[0] ?? null
      return [text, value === null ? BLANK : { kind: 'value', value }]
    }),
  )

/** The report is held against one number from elsewhere: of the register, or of a recount. */
const SAID_OTHERWISE: ReadonlySet<Doubt['source']> = new Set(['cases', 'recount'])

const otherNumber = ({ key, explanation }: Doubt): Record<string, CellContent> => ({
  [key]: { kind: 'value', value: Number(explanation!.right!.value) },
})

const isUnchanged = (before: object, now: object) =>
  Object.entries(now as Record<string, CellContent>).every(([cell, content]) =>
    sameContent((before as Record<string, CellContent>)[cell] ?? BLANK, content),
  )

/**
 * Makes the discrepancies of a report agree with its doubts; doubts that are gone no longer hold, and are
 * settled when the report is accepted.
 */
export async function saveDoubts(
  sql: Sql,
  report: ReportRow,
  found: FoundDoubts,
  person: string | null,
  explanations: Readonly<Record<string, string>> = {},
): Promise<void> {
  const known = await sql.query<KnownDiscrepancy>(
    `SELECT ${KNOWN_DISCREPANCY} FROM discrepancy WHERE report = $1`,
    [report.id],
  )
  const doubts = found.doubts.map(doubt => ({
    doubt,
    evidence: found.evidence(doubt),
    contents: found.contents(doubt),
    explanation: explanations[doubt.key]?.trim() || null,
  }))
  const about = { report: report.id, round: report.round }
  const gone = await saveFound(sql, about, known, doubts, isUnchanged, person)
  if (gone.length) await sql.query('UPDATE discrepancy SET holds = false WHERE id = ANY($1::uuid[])', [gone])
  await figuresChanged(sql, report.id)
  await judgeOthers(sql, report)
}

/**
 * Finds the doubts of a report anew after its values changed.
 * @param asked codes of counts of cases that somebody asks about
 */
export async function recheck(
  sql: Sql,
  place: ReportPlace & { report: ReportRow },
  person: string | null,
  asked: readonly string[] = [],
): Promise<void> {
  await saveDoubts(sql, place.report, await doubtsNow(sql, place, asked), person)
}
