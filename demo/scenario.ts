import { deadlines } from '#core/calendar/deadline'
import { periodsBetween, type Period } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { cellsOf } from '#core/report/edition'
import type { ReportState } from '#core/report/state'
import type { CellMap } from '#core/report/table'
import { must } from '#core/result'
import { MONTHLY_SUMMARY } from './monthly/edition'
import { characterOf, figuresOf, type Character } from './monthly/figures'
import { plant, PLANTED_ROUND } from './planted'
import { people, type DemoPerson } from './people'
import { places, type Place } from './places'
import { randomFrom, type Random } from './random'

/** When the demo plays: Monday 9 November 2026, 08:45, two hours behind UTC. */
export const DEMO_NOW = '2026-11-09T08:45:00-02:00'
export const DEMO_TIME_ZONE = 'Etc/GMT+2'
export const SEED = 41_296

const FIRST_MONTH = '2025-05'
const LAST_MONTH = '2026-10'
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

export interface Scenario {
  places: Place[]
  people: DemoPerson[]
  reports: DemoReport[]
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

/** Two facilities often miss a round. */
const OFTEN_MISSING = new Set(['garrick_point', 'stack_island'])
const OFTEN_LATE = new Set([
  'sedge_bay',
  'harrow_gate',
  'fallow_green',
  'wrack_sound',
  'ewe_cross',
  'juniper',
])

const isOpen = (place: Place, period: Period) => {
  const month = printPeriod(period)
  return place.from.slice(0, 7) <= month && (place.to === null || place.to.slice(0, 7) >= month)
}

function stateIn(place: Place, round: string, random: Random): ReportState {
  const missing = random.share() < (OFTEN_MISSING.has(place.code) ? 0.4 : 0.012)
  const open = round !== PLANTED_ROUND
  const waits = random.share() < 0.35
  if (open) return missing ? 'awaited' : 'accepted'
  return ASHMERE_NOW[place.code] ?? (missing ? 'awaited' : waits ? 'sent' : 'accepted')
}

/** When it came in: most in the week after the month's end, some after the due day. */
function arrival(place: Place, period: Period, random: Random): string {
  const { opensAt, dueAt } = deadlines(period, MONTHLY_SUMMARY.timing, DEMO_TIME_ZONE)
  const late = random.share() < (OFTEN_LATE.has(place.code) ? 0.7 : 0.05)
  const hours = late ? random.whole(3, 30) : -random.whole(8, (dueAt - opensAt) / MS_AN_HOUR - 12)
  return new Date(dueAt + hours * MS_AN_HOUR + random.whole(0, 59) * 60_000).toISOString()
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
  const reports: DemoReport[] = []
  const months = periodsBetween(must(parsePeriod(FIRST_MONTH)), must(parsePeriod(LAST_MONTH)))
  months.forEach((period, month) => {
    const round = `${MONTHLY_SUMMARY.dataset}~${printPeriod(period)}`
    for (const place of facilities.filter(facility => isOpen(facility, period))) {
      const cells = figuresOf(characters.get(place.code)!, month, closing.get(place.code)!, random)
      const state = stateIn(place, round, random)
      const at = arrival(place, period, random)
      if (state === 'awaited') continue
      const handedIn = plant(place.code, round, cells)
      const received = state !== 'draft'
      reports.push({
        round,
        unit: place.code,
        state,
        receivedAt: received ? at : null,
        cells: received ? handedIn : begun(handedIn),
      })
    }
  })
  return { places: all, people: persons, reports }
}
