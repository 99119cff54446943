import { firstDay, lastDay, shiftPeriod, yearBefore, type Period } from '../calendar/period'
import { parsePeriod } from '../calendar/period-text'
import { must } from '../result'
import type { CellValue } from './cell'
import {
  KIND_CODES,
  NO_REPORT,
  numberIn,
  tableOf,
  tableOfColumns,
  type CellMap,
  type ColumnTable,
} from './table'

/**
 * How many periods the expressions of an edition look back: at the place 0 without `year_before`, at the
 * place 1 with one of them on the way, and so on. `[12]` is twelve periods; `[3, 0]` three, and the same
 * period a year before.
 */
export type LookBack = readonly number[]

/**
 * The periods before one that expressions may look at, newest first. A week 53 or a 29 February has none a
 * year before.
 * @example earlierPeriods(must(parsePeriod('2026-W40')), [1, 0]) // 2026-W39, 2025-W40
 */
export function earlierPeriods(period: Period, lookBack: LookBack): Period[] {
  const found = new Map<number, Period>()
  lookBack.forEach((back, years) => {
    // Periods reached so far, with how many steps are left: steps may come before a year and after it.
    let reached = new Map([[period.index, { period, left: back }]])
    for (let year = 0; year <= years; year++) {
      const next: typeof reached = new Map()
      for (const { period: from, left } of reached.values()) {
        for (let step = 0; step <= left; step++) {
          const stepped = shiftPeriod(from, -step)
          const to = year === years ? stepped : yearBefore(stepped)
          if (to && (next.get(to.index)?.left ?? -1) < left - step)
            next.set(to.index, { period: to, left: left - step })
        }
      }
      reached = next
    }
    for (const { period: one } of reached.values()) if (one.index !== period.index) found.set(one.index, one)
  })
  return [...found.values()].sort((one, other) => other.index - one.index)
}

/** Another dataset of the same units, rolled up to a period; undefined when nothing is known of it. */
export type OtherTables = (period: Period, dataset: string) => ColumnTable | undefined

/** How many cases a count makes in a period, for each unit: NaN where it cannot be said. */
export type CountedAt = (period: Period, text: string) => Float64Array

/**
 * The table of a period with those before it: what the device, the server, a try-out and the district report
 * judge on. `previous` goes to the period before, `year_before` to the same one of the year before, as the
 * calendar has it.
 * @param at the reports of a period, the same units row by row; undefined when nothing is known of that
 *   period. @param otherAt other datasets of the same units, rolled up to a period. @param countedAt cases of
 *   the same units.
 */
export function periodTable(
  period: Period,
  at: (period: Period) => ColumnTable | undefined,
  otherAt?: OtherTables,
  countedAt?: CountedAt,
): ColumnTable | undefined {
  // Ranges of a hundred cells look back over the same periods: each table is made once.
  const made = new Map<number, ColumnTable | undefined>()
  const tableAt = (one: Period): ColumnTable | undefined => {
    if (!made.has(one.index)) made.set(one.index, make(one))
    return made.get(one.index)
  }
  const make = (one: Period): ColumnTable | undefined => {
    const own = at(one)
    if (!own) return undefined
    return {
      ...own,
      back: periods => tableAt(periods === 0 ? one : shiftPeriod(one, -periods)),
      yearBefore() {
        const before = yearBefore(one)
        return before ? tableAt(before) : undefined
      },
      days: which => new Float64Array(own.size).fill(which === 'start' ? firstDay(one) : lastDay(one)),
      ...(otherAt && { other: (code: string) => otherAt(one, code) }),
      ...(countedAt && { counted: (text: string) => countedAt(one, text) }),
    }
  }
  return tableAt(period)
}

/**
 * Reports of some units over some periods as columns, as they travel. The place of a report is `period ×
 * units + unit`.
 */
export interface ReportColumns {
  /** 1 where a report was received. */
  received: number[]
  /** For each cell its numbers, null where there is none. */
  numbers: Record<string, (number | null)[]>
  /**
   * For each cell that has any, its values of other kinds: answers, texts and days, null where there is none.
   */
  values?: Record<string, (CellValue | null)[]>
  /** For each cell that has any, the places where it is *not known*. */
  notKnown: Record<string, number[]>
  /** For each cell that has any, the places where it is *not offered*. */
  notOffered: Record<string, number[]>
}

/** A unit's reports of earlier periods, newest first. */
export interface History extends ReportColumns {
  periods: string[]
}

/**
 * A history as devices of an earlier version have it on their disk, with numbers only, in today's shape: what
 * has a number was received. Until the next contact *not known* and *not offered* of earlier periods are
 * blanks there, as they were.
 */
export function completeHistory(history: Pick<History, 'periods' | 'numbers'> & Partial<History>): History {
  if (history.received) return history as History
  const columns = Object.values(history.numbers)
  const received = history.periods.map((_, at) => +columns.some(column => (column[at] ?? null) !== null))
  return { ...history, received, notKnown: {}, notOffered: {} }
}

/** A unit's reports as they travel. @param reports one for each period; null where none was received. */
export function historyOf(
  periods: string[],
  reports: readonly (CellMap | null)[],
  cells: readonly string[],
): History {
  const received = reports.map(report => +(report !== null))
  const history = {
    periods,
    received,
    numbers: {},
    values: {},
    notKnown: {},
    notOffered: {},
  } as Required<History>
  // One way through: a phone's work has the histories of fifty reports with a hundred cells each.
  for (const cell of cells) {
    const numbers = new Array<number | null>(reports.length).fill(null)
    history.numbers[cell] = numbers
    for (const [at, report] of reports.entries()) {
      const content = report?.[cell]
      if (!content || content.kind === 'blank') continue
      if (content.kind !== 'value') (history[content.kind][cell] ??= []).push(at)
      else if (typeof content.value === 'number') numbers[at] = content.value
      else
        (history.values[cell] ??= new Array<CellValue | null>(reports.length).fill(null))[at] = content.value
    }
  }
  return history
}

/** The tables of such columns, one for each period, as {@link periodTable} asks for them. */
export function tablesOf(
  periods: readonly string[],
  units: number,
  columns: ReportColumns,
): (period: Period) => ColumnTable | undefined {
  const placeOf = new Map(periods.map((period, at) => [must(parsePeriod(period)).index, at]))
  const numbers = new Map(
    Object.entries(columns.numbers).map(([cell, column]) => [
      cell,
      Float64Array.from(column, number => number ?? NaN),
    ]),
  )
  const values = new Map(Object.entries(columns.values ?? {}))
  for (const [cell, column] of values) {
    const own = numbers.get(cell)
    numbers.set(
      cell,
      Float64Array.from(column, (value, at) => (value === null ? (own?.[at] ?? NaN) : numberIn(value))),
    )
  }
  const kinds = new Map<string, Uint8Array>()
  const missing = columns.received.includes(0)
  for (const cell of numbers.keys()) {
    if (!missing && !columns.notKnown[cell] && !columns.notOffered[cell]) continue
    const others = values.get(cell)
    const column = Uint8Array.from(numbers.get(cell)!, (number, at) =>
      Number.isNaN(number) && (others?.[at] ?? null) === null ? KIND_CODES.blank : KIND_CODES.value,
    )
    for (const place of columns.notKnown[cell] ?? []) column[place] = KIND_CODES.notKnown
    for (const place of columns.notOffered[cell] ?? []) column[place] = KIND_CODES.notOffered
    columns.received.forEach((received, place) => {
      if (!received) column[place] = NO_REPORT
    })
    kinds.set(cell, column)
  }
  const within = <T extends { subarray(start: number, end: number): T }>(
    of: ReadonlyMap<string, T>,
    at: number,
  ) => new Map([...of].map(([cell, column]) => [cell, column.subarray(at * units, (at + 1) * units)]))
  const made = new Map<number, ColumnTable>()
  return ({ index }) => {
    const at = placeOf.get(index)
    if (at === undefined) return undefined
    let table = made.get(at)
    if (!table)
      made.set(
        at,
        (table = tableOfColumns({
          size: units,
          numbers: within(numbers, at),
          kinds: within(kinds, at),
          values: new Map(
            [...values].map(([cell, column]) => [cell, column.slice(at * units, (at + 1) * units)]),
          ),
        })),
      )
    return table
  }
}

/** One report with its history as a table of one row. */
export const reportTable = (
  report: CellMap,
  period: Period,
  earlier: (period: Period) => ColumnTable | undefined,
  otherAt?: OtherTables,
  countedAt?: CountedAt,
): ColumnTable =>
  periodTable(
    period,
    one => (one.index === period.index ? tableOf([report]) : earlier(one)),
    otherAt,
    countedAt,
  )!

/** The tables of a unit's history. */
export const tablesOfHistory = (history: History): ((period: Period) => ColumnTable | undefined) =>
  tablesOf(history.periods, 1, history)
