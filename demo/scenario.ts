import { periodsBetween } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { cellsOf } from '#core/report/edition'
import type { ReportState } from '#core/report/state'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { MONTHLY_SUMMARY } from './monthly/edition'
import { characterOf, figuresOf, type Character } from './monthly/figures'
import { plantedIn, PLANTED_ROUND } from './planted'
import { people, type DemoPerson } from './people'
import { places, type Place } from './places'
import { equipmentReports } from './quarterly/reports'
import { randomFrom, type Random } from './random'
import { arrival, handedIn, isOpenIn, OFTEN_MISSING, type DemoReport } from './report'
import { weeklyReports } from './weekly/reports'
import { demoCases, type DemoCases } from './cases/scenario'

export { DEMO_NOW, DEMO_TIME_ZONE, type DemoReport } from './report'

export const SEED = 41_296

const FIRST_MONTH = '2025-05'
const LAST_MONTH = '2026-10'

export interface Scenario {
  places: Place[]
  people: DemoPerson[]
  reports: DemoReport[]
  cases: DemoCases
}

/** The October round of Ashmere, unit by unit, so that the tour meets every state. All others are drawn. */
const ASHMERE_NOW: Partial<Record<string, ReportState>> = {
  ...Object.fromEntries(
    [
      'ashmere',
      'fenwick_lane',
      'sedge_bay',
      'mallow_creek',
      'eastfold',
      'upper_hollin',
      'marram_end',
      'eel_sluice',
    ].map(unit => [unit, 'sent' as const]),
  ),
  lowgate: 'sentBack',
  old_quay: 'draft',
  garrick_point: 'awaited',
  tern_row: 'awaited',
  harrow_gate: 'awaited',
}

function stateIn(place: Place, round: string, random: Random): ReportState {
  const missing = random.share() < (OFTEN_MISSING.has(place.code) ? 0.4 : 0.012)
  const open = round !== PLANTED_ROUND
  const waits = random.share() < 0.35
  if (open) return missing ? 'awaited' : 'accepted'
  return ASHMERE_NOW[place.code] ?? (missing ? 'awaited' : waits ? 'sent' : 'accepted')
}

/** A draft holds the first cells, in paper order. */
function begun(cells: CellMap): CellMap {
  const keys = cellsOf(MONTHLY_SUMMARY).map(cell => cell.key)
  return Object.fromEntries(keys.slice(0, Math.round(keys.length * 0.62)).map(key => [key, cells[key]!]))
}

/** Everything that the demo shows, from the fixed seed. */
export function scenario(seed = SEED): Scenario {
  const random = randomFrom(seed)
  const all = places()
  const persons = people(random)
  const facilities = all.filter(({ level }) => level === 4)
  const characters = new Map<string, Character>(
    facilities.map(place => [
      place.code,
      characterOf(place.kind as Place['kind'] & Character['kind'], random),
    ]),
  )
  const closing = new Map<string, Map<string, number>>(facilities.map(({ code }) => [code, new Map()]))
  const before = new Map<string, CellMap>()
  const reports: DemoReport[] = []
  const months = periodsBetween(must(parsePeriod(FIRST_MONTH)), must(parsePeriod(LAST_MONTH)))
  months.forEach((period, month) => {
    const round = `${MONTHLY_SUMMARY.dataset}~${printPeriod(period)}`
    for (const place of facilities.filter(facility => isOpenIn(facility, period))) {
      const cells = figuresOf(characters.get(place.code)!, month, closing.get(place.code)!, random)
      const state = stateIn(place, round, random)
      const at = arrival(place, period, MONTHLY_SUMMARY.timing, random)
      if (state === 'awaited') continue
      const handed = handedIn(cells, plantedIn(round, place.code), before.get(place.code))
      before.set(place.code, handed)
      const received = state !== 'draft'
      reports.push({
        round,
        unit: place.code,
        state,
        receivedAt: received ? at : null,
        cells: received ? handed : begun(handed),
      })
    }
  })
  // Random figures of their own, so that what is added here changes nothing of what was there.
  const everything = [
    ...reports,
    ...weeklyReports(facilities, characters, randomFrom(seed + 1)),
    ...equipmentReports(facilities, randomFrom(seed + 2)),
  ]
  return {
    places: all,
    people: persons,
    reports: everything,
    cases: demoCases(all, persons, everything, seed + 3),
  }
}
