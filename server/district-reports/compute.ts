import type { AnswerLine, DistrictFigures, FigureLine } from '#core/contract/district-reports'
import type { Static } from '@sinclair/typebox'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { CellValue } from '#core/report/cell'
import { cellsOfItem, type Cell, type Item } from '#core/report/edition'
import { earlierPeriods, reportTable } from '#core/report/period-table'
import { tableOf, type ColumnTable } from '#core/report/table'
import { must } from '#core/result'
import { inBoth } from '#core/rollup/in-both'
import { asOneReport, indicators } from '#core/rollup/indicator'
import { isAmount, itemFigures, offeringIn, overUnits, rowsByAnswer, type Figure } from '#core/rollup/roll-up'
import { editionOf, type ReadyEdition } from '../datasets/editions'
import { notOfferedCounts } from '../reports/services'
import type { Sql } from '../database'
import type { DiscrepancyRow } from '../discrepancies/read'
import { BLOCKS } from '../checks/blocking'
import { reportingOf } from '../reports/reporting-of'
import { roundRef, roundsOfPeriods, roundsUpTo, type Round } from '../rounds/round'
import { today } from '../settings'
import { roundReports } from '../reports/district-figures'

type Figures = Static<typeof DistrictFigures>

/** A district's figures of a round as they are now, with the numbers of each facility behind them. */
export interface Computed {
  figures: Figures
  /** Each received report's numbers, by unit and cell: what a signature freezes to compare with later. */
  cells: Record<string, Record<string, CellValue>>
}

/**
 * The table that indicators are computed on: the rolled-up cells of a round, and of the rounds that they look
 * back at.
 */
async function rolledUp(
  sql: Pick<Sql, 'query'>,
  round: Round,
  district: string,
  ready: ReadyEdition,
  received: ColumnTable,
): Promise<ColumnTable> {
  const period = must(parsePeriod(round.period))
  const earlier = earlierPeriods(period, ready.indicatorsLookBack).map(printPeriod)
  const rounds = earlier.length ? await roundsOfPeriods(sql, round.dataset, earlier) : []
  const before = new Map(
    await Promise.all(
      rounds.map(
        async of =>
          [
            of.period,
            tableOf([
              asOneReport(
                ready.cells,
                tableOf([...(await roundReports(sql, of, district)).received.values()]),
              ),
            ]),
          ] as const,
      ),
    ),
  )
  return reportTable(asOneReport(ready.cells, received), period, one => before.get(printPeriod(one)))
}

/** What opens to who said what. */
const isAnswered = ({ kind, rollUp }: Item) => rollUp === 'counts' || rollUp === 'share' || kind === 'text'

const comparedLine = (now: Figure | undefined, before: Figure | undefined): FigureLine['compared'] =>
  now && before && now.value !== null && before.value !== null
    ? { now: now.value, before: before.value, reports: now.reportsIn }
    : null

async function discrepanciesOf(
  sql: Pick<Sql, 'query'>,
  round: Round,
  names: ReadonlyMap<string, string>,
): Promise<Figures['discrepancies']> {
  const rows = await sql.query<DiscrepancyRow & { text: string | null; blocks: boolean }>(
    `SELECT d.id, p.unit, p.edition, d.source, d.code, d.strength, d.state, d.outcome, d.evidence, ${BLOCKS} AS blocks,
       (SELECT e.text FROM discrepancy_event e WHERE e.discrepancy = d.id AND e.text IS NOT NULL ORDER BY e.seq DESC LIMIT 1) AS text
     FROM discrepancy d JOIN report p ON p.id = d.report WHERE p.round = $1 AND p.unit = ANY($2::text[]) ORDER BY p.unit, d.doubt_key`,
    [round.id, [...names.keys()]],
  )
  return Promise.all(
    rows.map(async row => ({
      id: row.id,
      unit: { code: row.unit, name: names.get(row.unit)! },
      title: (await editionOf(sql, round.dataset, row.edition)).titleOf(row.evidence),
      strength: row.strength,
      state: row.state,
      outcome: row.outcome,
      text: row.text,
      blocks: row.blocks,
    })),
  )
}

/** Rolls a round up for a district as it stands. */
export async function computeDistrict(
  sql: Pick<Sql, 'query'>,
  round: Round,
  district: { code: string; name: string },
): Promise<Computed> {
  const ready = await editionOf(sql, round.dataset, round.edition)
  const { edition } = ready
  const { expected, reports, received } = await roundReports(sql, round, district.code)
  const [, lastRound] = await roundsUpTo(sql, round, 2)
  const both = lastRound && inBoth(received, (await roundReports(sql, lastRound, district.code)).received)
  const compared = both && {
    now: itemFigures(edition, tableOf(both.now)),
    before: itemFigures(edition, tableOf(both.before)),
  }
  const table = tableOf([...received.values()])
  const figuresNow = itemFigures(edition, table)
  const names = new Map(expected.map(({ code, name }) => [code, name]))
  const units = [...received.keys()]
  const answersOf = (cell: Cell): AnswerLine[] =>
    rowsByAnswer(table, cell).map(({ code, label, rows }) => ({
      code,
      label,
      units: rows
        .map(row => ({ code: units[row]!, name: names.get(units[row]!)! }))
        .sort((one, other) => one.name.localeCompare(other.name)),
    }))
  const missing = expected.filter(({ code }) => !received.has(code))
  const without = await notOfferedCounts(
    sql,
    round,
    missing.map(({ code }) => code),
  )
  const offering = (item: string, cells: readonly string[]) =>
    offeringIn(received.values(), cells) + missing.length - (without.get(item) ?? 0)
  const rates = new Map(
    indicators(edition, await rolledUp(sql, round, district.code, ready, table), await today(sql)).map(
      figure => [figure.code, figure],
    ),
  )

  const figures: Figures = {
    round: roundRef(round),
    unit: { code: district.code, name: district.name },
    reporting: reportingOf(
      expected.map(({ code }) => code),
      reports,
      round.dueAt,
    ),
    missing: missing.map(({ code, name }) => ({ code, name })),
    sections: edition.sections.map(section => ({
      code: section.code,
      name: section.name,
      lines: section.items.map(item => {
        const cells = cellsOfItem(edition, item)
        return {
          item: item.code,
          name: item.name,
          unitOfMeasure: item.unitOfMeasure,
          rollUp: item.rollUp,
          ...(isAnswered(item) && { answers: answersOf(cells[0]!) }),
          ...figuresNow.get(item.code)!,
          offering: offering(
            item.code,
            cells.map(({ key }) => key),
          ),
          compared: isAmount(item.rollUp)
            ? comparedLine(compared?.now.get(item.code), compared?.before.get(item.code))
            : null,
          bands:
            cells.length < 2
              ? []
              : cells.map(cell => ({
                  cell: cell.key,
                  names: cell.bands.map(band => band.name),
                  ...overUnits(table, [cell.key], item.rollUp),
                  offering: offering(item.code, [cell.key]),
                })),
        }
      }),
    })),
    indicators: edition.indicators.map(({ code, name, unitOfMeasure, factor }) => {
      const { numerator, denominator, value } = rates.get(code)!
      return { code, name, unitOfMeasure, factor, numerator, denominator, value }
    }),
    discrepancies: await discrepanciesOf(sql, round, names),
  }
  const cells = Object.fromEntries(
    [...received].map(([unit, map]) => [
      unit,
      Object.fromEntries(
        Object.entries(map).flatMap(([cell, content]) =>
          content.kind === 'value' ? [[cell, content.value]] : [],
        ),
      ),
    ]),
  )
  return { figures, cells }
}
