import { firstDay, lastDay, periodsBetween } from '#core/calendar/period'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import { must } from '#core/result'
import type { Kind, Place } from '../places'
import { plantedIn } from '../planted'
import type { Random } from '../random'
import { arrival, handedIn, isOpenIn, OFTEN_MISSING, type DemoReport } from '../report'
import { EQUIPMENT } from './edition'
import { equipmentFigures, equipmentOf, type Equipment } from './figures'
import { PLANTED_QUARTER } from './planted'

const FIRST_QUARTER = '2025-Q2'
const LAST_QUARTER = '2026-Q3'

/** Six quarters of equipment. */
export function equipmentReports(facilities: readonly Place[], random: Random): DemoReport[] {
  const quarters = periodsBetween(must(parsePeriod(FIRST_QUARTER)), must(parsePeriod(LAST_QUARTER)))
  const known = new Map<string, Equipment>()
  return quarters.flatMap(period => {
    const round = `${EQUIPMENT.dataset}~${printPeriod(period)}`
    return facilities
      .filter(place => isOpenIn(place, period))
      .flatMap((place): DemoReport[] => {
        const kind = place.kind as Kind
        const equipment = known.get(place.code) ?? equipmentOf(kind, firstDay(period), random)
        known.set(place.code, equipment)
        const cells = equipmentFigures(equipment, kind, lastDay(period), random)
        const missing = random.share() < (OFTEN_MISSING.has(place.code) ? 0.5 : 0.05)
        const at = arrival(place, period, EQUIPMENT.timing, random)
        const planted = plantedIn(round, place.code)
        if (missing && !planted.length) return []
        const state = round === PLANTED_QUARTER && random.share() < 0.2 ? 'sent' : 'accepted'
        return [{ round, unit: place.code, state, receivedAt: at, cells: handedIn(cells, planted) }]
      })
  })
}
