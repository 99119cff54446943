import type { ReportingOverTime } from '#core/contract/over-time'
import { writeCsv } from '#core/exchange/csv'
import { groupBy } from '#core/group-by'
import { totalOf, type ReportingTotal, type ReportMark } from '#core/quality/over-time'

/** The figures of reporting. */
export const MEASURES = ['completeness', 'timeliness', 'itemCompleteness'] as const
export type Measure = (typeof MEASURES)[number]

/** A line of the table: a facility with its marks, or a zone, or all, with totals. */
export interface OverTimeRow {
  key: string
  name: string
  kind: 'all' | 'zone' | 'unit'
  /** In the order of the rounds; of a facility only. */
  marks: readonly (ReportMark | null)[]
  totals: readonly ReportingTotal[]
  /** Over all rounds. */
  whole: ReportingTotal
}

type UnitRow = ReportingOverTime['rows'][number]

const totalsOf = (rows: readonly UnitRow[], rounds: number): ReportingTotal[] =>
  Array.from({ length: rounds }, (_, at) => totalOf(rows.map(({ marks }) => marks[at] ?? null)))

const summed = (
  key: string,
  name: string,
  kind: 'all' | 'zone',
  rows: readonly UnitRow[],
  rounds: number,
): OverTimeRow => ({
  ...{ key, name, kind, marks: [] },
  totals: totalsOf(rows, rounds),
  whole: totalOf(rows.flatMap(({ marks }) => marks)),
})

/** All facilities together, then each zone with its facilities. */
export function overTimeRows({ unit, rounds, rows }: ReportingOverTime): OverTimeRow[] {
  const zones = groupBy(rows, row => row.zone.code)
  return [
    summed('all', unit.name, 'all', rows, rounds.length),
    ...[...zones].flatMap(([code, own]) => [
      summed(`zone ${code}`, own[0]!.zone.name, 'zone' as const, own, rounds.length),
      ...own.map(({ unit: { code: of, name }, marks }): OverTimeRow => ({
        ...{ key: of, name, kind: 'unit', marks, totals: [] },
        whole: totalOf(marks),
      })),
    ]),
  ]
}

/**
 * The same as a file: one line for each facility and round, with counts from which every share can be made
 * again.
 */
export const overTimeCsv = ({ rounds, rows }: ReportingOverTime): string =>
  writeCsv([
    ['zone', 'unit', 'name', 'period', 'state', 'received', 'on_time', 'cells_answered', 'cells_that_apply'],
    ...rows.flatMap(({ unit, zone, marks }) =>
      rounds.flatMap(({ period }, at) => {
        const mark = marks[at]
        return mark
          ? [
              [
                ...[zone.name, unit.code, unit.name, period, mark.sign],
                ...[mark.received ? 1 : 0, mark.onTime ? 1 : 0, mark.answered, mark.applies],
              ],
            ]
          : []
      }),
    ),
  ])
