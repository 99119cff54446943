import { deadlines, type Timing } from '#core/calendar/deadline'
import { firstDay, lastDay, type Period } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import type { CellContent, CellValue } from '#core/report/cell'
import { numberOf } from '#core/report/cell'
import type { ReportState } from '#core/report/state'
import type { CellMap } from '#core/report/table'
import type { Place } from './places'
import type { Random } from './random'

/** When the demo plays: Monday 9 November 2026, 08:45, two hours behind UTC. */
export const DEMO_NOW = '2026-11-09T08:45:00-02:00'
export const DEMO_TIME_ZONE = 'Etc/GMT+2'

const MS_AN_HOUR = 3_600_000

/** One report of the scenario. */
export interface DemoReport {
  round: string
  unit: string
  /** The state that it should be in; one with doubts left stays *sent* where *accepted* is wanted. */
  state: ReportState
  receivedAt: string | null
  cells: CellMap
}

/** Two facilities often miss a round, some are often late. */
export const OFTEN_MISSING = new Set(['garrick_point', 'stack_island'])
export const OFTEN_LATE = new Set([
  'sedge_bay',
  'harrow_gate',
  'fallow_green',
  'wrack_sound',
  'ewe_cross',
  'juniper',
])

/** Was a facility open on a day of a period? */
export const isOpenIn = (place: Place, period: Period): boolean =>
  place.from <= printDay(lastDay(period)) && (place.to === null || place.to > printDay(firstDay(period)))

/**
 * When a report came in: most between the period's end and the due day, some after it; never in the future.
 */
export function arrival(place: Place, period: Period, timing: Timing, random: Random): string {
  const { dueAt } = deadlines(period, timing, DEMO_TIME_ZONE)
  const endedAt = dueAt - timing.dueDays * 24 * MS_AN_HOUR
  const late = random.share() < (OFTEN_LATE.has(place.code) ? 0.7 : 0.05)
  const hours = late ? random.whole(3, 30) : -random.whole(8, (dueAt - endedAt) / MS_AN_HOUR - 12)
  return new Date(dueAt + hours * MS_AN_HOUR + random.whole(0, 59) * 60_000).toISOString()
}

/** A doubt that the generator put in: the application must find it. */
export interface Planted {
  kind: PlantedKind
  round: string
  unit: string
  /** The key of the doubt that must be found; null for a kind that nothing looks for yet. */
  key: string | null
  /**
   * Changes the true report into the one that was handed in; numbers of named cells come from `of`, those of
   * the report before it from `before`.
   */
  spoil: (of: NumberOf, before: CellMap) => Record<string, CellValue | null>
}
type NumberOf = (cell: string) => number

/** What kind of slip the generator made. */
export type PlantedKind =
  | 'partAboveWhole'
  | 'swappedDigits'
  | 'tenTimes'
  | 'stockDoesNotContinue'
  | 'stockDoesNotAddUp'
  | 'dosesWithoutStock'
  | 'zeroNeverZero'
  | 'leftBlank'
  | 'impossibleDays'
  | 'jump'
  | 'rareEvent'
  | 'answersExclude'
  | 'neededLeftBlank'
  | 'twoToolsDiffer'
  | 'lastMonthCopied'

/**
 * A report as it was handed in: the true one with the slips that were planted for it.
 * @param before the report of the period before
 */
export function handedIn(report: CellMap, planted: readonly Planted[], before: CellMap = {}): CellMap {
  const spoiled: Record<string, CellContent> = { ...report }
  for (const doubt of planted)
    for (const [cell, value] of Object.entries(doubt.spoil(of => numberOf(spoiled[of]) ?? 0, before)))
      spoiled[cell] = value === null ? { kind: 'blank' } : { kind: 'value', value }
  return spoiled
}
