import { deadlines } from '#core/calendar/deadline'
import { periodsBetween, placeInYear, type Period } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { ReportState } from '#core/report/state'
import { must } from '#core/result'
import type { Character } from '../monthly/figures'
import type { Place } from '../places'
import { plantedIn } from '../planted'
import type { Random } from '../random'
import {
  arrival,
  DEMO_NOW,
  DEMO_TIME_ZONE,
  handedIn,
  isOpenIn,
  OFTEN_MISSING,
  type DemoReport,
} from '../report'
import { WEEKLY_DISEASES } from './edition'
import { weeklyFigures } from './figures'
import { PLANTED_WEEK, TOLD_IN_THE_WEEK, WEEKLY_PLANTED } from './planted'

const FIRST_WEEK = '2025-W38'
const LAST_WEEK = '2026-W45'
const SENDS_WITH_A_SLIP = new Set(WEEKLY_PLANTED.map(({ unit }) => unit))

/** The newest week falls due today: a part of the facilities has sent it, some have begun it. */
function stateIn(place: Place, round: string, random: Random): ReportState {
  const missing = random.share() < (OFTEN_MISSING.has(place.code) ? 0.4 : 0.015)
  const share = random.share()
  if (round !== PLANTED_WEEK) return missing ? 'awaited' : 'accepted'
  if (SENDS_WITH_A_SLIP.has(place.code)) return 'sent'
  if (missing || share > 0.56) return 'awaited'
  return share > 0.48 ? 'draft' : 'sent'
}

/** What was received of the newest week came between its end and now. */
function receivedAt(place: Place, period: Period, random: Random): string {
  const at = arrival(place, period, WEEKLY_DISEASES.timing, random)
  const { dueAt } = deadlines(period, WEEKLY_DISEASES.timing, DEMO_TIME_ZONE)
  const now = Date.parse(DEMO_NOW)
  if (Date.parse(at) < now) return at
  const endedAt = dueAt - WEEKLY_DISEASES.timing.dueDays * 86_400_000
  return new Date(endedAt + Math.floor(random.share() * (now - endedAt))).toISOString()
}

/** Sixty weeks of the diseases to watch. */
export function weeklyReports(
  facilities: readonly Place[],
  characters: ReadonlyMap<string, Character>,
  random: Random,
): DemoReport[] {
  const weeks = periodsBetween(must(parsePeriod(FIRST_WEEK)), must(parsePeriod(LAST_WEEK)))
  return weeks.flatMap(period => {
    const round = `${WEEKLY_DISEASES.dataset}~${printPeriod(period)}`
    return facilities
      .filter(place => isOpenIn(place, period))
      .flatMap((place): DemoReport[] => {
        const cells = weeklyFigures(characters.get(place.code)!, placeInYear(period), random)
        const { cell, ...told } = TOLD_IN_THE_WEEK
        const isTold = told.round === round && told.unit === place.code
        const state = stateIn(place, round, random)
        const at = receivedAt(place, period, random)
        if (state === 'awaited') return []
        return [
          {
            round,
            unit: place.code,
            state,
            receivedAt: state === 'draft' ? null : at,
            cells: {
              ...handedIn(cells, plantedIn(round, place.code)),
              ...(isTold && { [cell]: { kind: 'value', value: 1 } }),
            },
          },
        ]
      })
  })
}
