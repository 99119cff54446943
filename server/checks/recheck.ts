import { groupBy } from '#core/group-by'
import { parsePeriod } from '#core/calendar/period-text'
import { BLANK, sameContent, type CellContent } from '#core/report/cell'
import { countDoubt } from '#core/reconcile/count-doubt'
import { countsAt, countsIn, type CountFigures } from '#core/reconcile/count-figures'
import { reportTable, tablesOfHistory, type History } from '#core/report/period-table'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { cures } from '#core/rollup/cures'
import { tablesOfOthers, type OtherFigures } from '#core/rollup/other-datasets'
import type { CompiledRule } from '#core/rule/compile-rules'
import { isFor } from '#core/rule/definition'
import { findDoubts, type Doubt } from '#core/rule/find-doubts'
import { registeredFor } from '../case-counts/compare'
import { judgeOthers } from './judge-others'
import type { Sql } from '../database'
import { KNOWN_DISCREPANCY, saveFound, type KnownDiscrepancy } from '../doubts/save-found'
import { cellsOfReports, historiesBefore } from '../reports/cells'
import { countFiguresOf } from '../reports/count-figures'
import { recountDoubts, recountedCells } from '../recounts/held'
import { refusedDoubts, refusedValues } from '../refusals/held'
import { otherFiguresOf } from '../reports/other-figures'
import {
  placeKey,
  type BegunPlace,
  type ReportPlace,
  type ReportRow,
  type UnitInRound,
} from '../reports/place'
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

const idsOf = (places: readonly BegunPlace[]) => places.map(({ report }) => report.id)

/** The counts of cases about which somebody asked, of some reports. */
async function countsAskedAbout(
  sql: Sql,
  places: readonly BegunPlace[],
): Promise<(report: number) => readonly string[]> {
  const counting = places.filter(({ ready }) => ready.edition.caseCounts?.length)
  const asked = counting.length
    ? await sql.query<{ report: number; code: string }>(
        `SELECT report, code FROM discrepancy WHERE report = ANY($1::bigint[]) AND source = 'cases'`,
        [idsOf(counting)],
      )
    : []
  const byReport = groupBy(asked, row => row.report)
  return report => (byReport.get(report) ?? []).map(({ code }) => code)
}

/**
 * Where the report and a register say different numbers: of the counts that raise doubts, and of those about
 * which somebody asks, or asked before.
 */
async function countDoubts(
  sql: Sql,
  { round, report, ready }: BegunPlace,
  cells: CellMap,
  asked: readonly string[],
): Promise<Doubt[]> {
  const all = ready.edition.caseCounts ?? []
  const codes = new Set(asked)
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

/** What each of some reports looks back at. */
export type HistoryOf = (place: UnitInRound) => History

/**
 * Reads what some reports look back at. These are other reports, so that it can be read while their own cells are
 * written, which takes as long. Who judges the reports waits for it.
 */
export function historiesOf(sql: Sql, places: readonly ReportPlace[]): Promise<HistoryOf> {
  const reading = historiesBefore(
    sql,
    places.map(({ round, unit, ready }) => ({ round, unit: unit.code, of: ready })),
  ).then(histories => {
    const byPlace = new Map(places.map((place, at) => [placeKey(place), histories[at]!]))
    return (place: UnitInRound) => byPlace.get(placeKey(place))!
  })
  // Where what is done meanwhile fails, nobody waits for this, and that failure is the one to hear of.
  reading.catch(() => undefined)
  return reading
}

/**
 * Judges reports, each by its own edition, from what the database holds. However many they are, it is asked the
 * same few times.
 * @param asked codes of counts of cases that somebody asks about
 * @param histories what they look back at, where it is being read
 * @returns the doubts of each, in their order
 */
export async function doubtsNow(
  sql: Sql,
  places: readonly BegunPlace[],
  asked: readonly string[] = [],
  histories = historiesOf(sql, places),
): Promise<FoundDoubts[]> {
  const reports = places.map(({ report }) => report)
  const ids = idsOf(places)
  const [cells, historyOf, others, counts, askedBefore, recounted, refused, day] = await Promise.all([
    cellsOfReports(sql, ids),
    histories,
    otherFiguresOf(sql, places),
    countFiguresOf(sql, places),
    countsAskedAbout(sql, places),
    recountedCells(sql, ids),
    refusedValues(sql, reports),
    today(sql),
  ])
  const found: FoundDoubts[] = []
  for (const [at, place] of places.entries()) {
    const { report, ready } = place
    const own = cells.get(report.id) ?? {}
    found.push(
      doubtsFrom(place, own, { history: historyOf(place), others: others[at]!, counts: counts[at]! }, day, [
        ...(await countDoubts(sql, place, own, [...asked, ...askedBefore(report.id)])),
        ...recountDoubts(recounted(report.id), ready, own),
        ...refusedDoubts(refused(report), ready, own),
      ]),
    )
  }
  return found
}

/** What the rules of a report's edition look at besides the report. */
interface LooksAt {
  history: History
  others: Record<string, OtherFigures>
  counts: CountFigures
}

/** Finds the doubts of a report by its rules. @param besides what else is doubted about it */
function doubtsFrom(
  { round, unit, ready }: BegunPlace,
  cells: CellMap,
  { history, others, counts }: LooksAt,
  day: number,
  besides: readonly Doubt[],
): FoundDoubts {
  const table = reportTable(
    cells,
    must(parsePeriod(round.period)),
    tablesOfHistory(history),
    tablesOfOthers(others),
    countsAt(counts),
  )
  const rules = ready.rules.filter(({ rule }) => isFor(rule, unit.path, round.lastDay))
  const [doubts] = findDoubts(rules, ready.cells, table, day)
  const ruleOf = (doubt: Doubt) =>
    ready.rules.find(({ rule, band }) => rule.code === doubt.code && band === doubt.band)
  return {
    doubts: [...doubts!, ...besides],
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

const countsOf = (rule: CompiledRule | undefined, counts: CountFigures) =>
  Object.fromEntries(
    countsIn(rule ? [rule] : []).map(({ text }): [string, CellContent] => {
      const value = counts.numbers[text]?.[0] ?? null
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

/** A report with the doubts that were found, and what its facility says of them, by the doubt's key. */
export interface Judged {
  report: ReportRow
  found: FoundDoubts
  explanations?: Readonly<Record<string, string>>
}

/**
 * Makes the discrepancies of reports agree with their doubts; doubts that are gone no longer hold, and are settled
 * when the report is accepted.
 */
export async function saveDoubts(sql: Sql, judged: readonly Judged[], person: string | null): Promise<void> {
  const reports = judged.map(({ report }) => report.id)
  const asking = sql.query<KnownDiscrepancy & { report: number }>(
    `SELECT report, ${KNOWN_DISCREPANCY} FROM discrepancy WHERE report = ANY($1::bigint[])`,
    [reports],
  )
  // What would cure them takes as long to find as it takes the database to answer.
  const found = judged.map(({ found: { doubts, evidence, contents }, explanations = {} }) =>
    doubts.map(doubt => ({
      doubt,
      evidence: evidence(doubt),
      contents: contents(doubt),
      explanation: explanations[doubt.key]?.trim() || null,
    })),
  )
  const known = groupBy(await asking, row => row.report)
  const all = judged.map(({ report }, at) => ({
    about: { report: report.id, round: report.round },
    known: known.get(report.id) ?? [],
    found: found[at]!,
  }))
  const gone = await saveFound(sql, all, isUnchanged, person)
  if (gone.length) await sql.query('UPDATE discrepancy SET holds = false WHERE id = ANY($1::uuid[])', [gone])
  await Promise.all([
    figuresChanged(sql, reports),
    judgeOthers(
      sql,
      judged.map(({ report }) => report),
    ),
  ])
}

/**
 * Finds the doubts of reports anew after their values changed.
 * @param asked codes of counts of cases that somebody asks about
 * @param histories what they look back at, where it is being read
 */
export async function recheck(
  sql: Sql,
  places: readonly BegunPlace[],
  person: string | null,
  asked: readonly string[] = [],
  histories?: Promise<HistoryOf>,
): Promise<void> {
  if (!places.length) return
  const found = await doubtsNow(sql, places, asked, histories)
  await saveDoubts(
    sql,
    places.map(({ report }, at) => ({ report, found: found[at]! })),
    person,
  )
}
