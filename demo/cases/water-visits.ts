import { printDay } from '#core/calendar/day'
import type { Position } from '#core/form/answer'
import type { Place } from '../places'
import type { Random } from '../random'
import { WATER_VISIT } from '../registers/water-visit'
import type { DemoDevice } from './devices'
import { LAST_DAY, write, type DemoEntry } from './entry'
import { oneOf } from './names'

const VISITS = 40
const ROOMS = ['waiting', 'consulting', 'injection', 'latrines']
const SOURCES = ['piped', 'piped', 'borehole', 'rain', 'carried']

/** What a facility of a kind offers. */
const SERVICES: Record<string, string[]> = {
  hospital: ['delivery', 'laboratory', 'isolation'],
  'health centre': ['delivery', 'laboratory'],
  'maternity home': ['delivery'],
  dispensary: ['laboratory'],
}

/** The rooms by wash basins, working ones, soap and water. */
const rooms = (random: Random, most: number) =>
  Object.fromEntries(
    ROOMS.flatMap(room => {
      const basins = random.whole(room === 'consulting' ? 1 : 0, most)
      return [
        [`basins.${room}`, basins],
        ...(basins
          ? [
              [`working.${room}`, random.binomial(basins, 0.8)],
              [`soap.${room}`, random.share() < 0.7],
              [`litres.${room}`, random.whole(0, 12) * 20],
            ]
          : []),
      ]
    }),
  )

/** Visits of supervisors to facilities, over the last ten months: the officer of a district writes them. */
export function waterVisits(
  facilities: readonly Place[],
  tablets: ReadonlyMap<string, DemoDevice>,
  nameOf: ReadonlyMap<string, string>,
  random: Random,
): DemoEntry[] {
  return Array.from({ length: VISITS }, (_, at): DemoEntry[] => {
    const place = facilities[Math.floor((at * facilities.length) / VISITS)]!
    const device = tablets.get(place.code)!
    const day = LAST_DAY - random.whole(1, 300)
    const services = SERVICES[place.kind] ?? []
    const position: Position = { latitude: place.latitude, longitude: place.longitude, accuracy: 12 }
    const source = oneOf(SOURCES, random)
    const made = write(
      {
        register: 'water_visits',
        edition: 1,
        form: WATER_VISIT,
        case: `water visit ${place.code}`,
        device,
        unit: place.code,
        day,
        answers: {
          visited_on: printDay(day),
          visited_by: nameOf.get(device.person)!,
          place: position,
          services,
          source,
          carried_metres: source === 'carried' ? random.whole(2, 30) * 50 : undefined,
          ...rooms(random, place.kind === 'hospital' ? 6 : 3),
          ...(services.includes('delivery') && {
            delivery_hot_water: random.share() < 0.6,
            delivery_waste_pit: random.share() < 0.85,
          }),
          ...(services.includes('laboratory') && { laboratory_sink: random.share() < 0.7 }),
          ...(services.includes('isolation') && { isolation_basin: random.share() < 0.8 }),
          advice: 'Repair the basins in the waiting area first, and keep soap at each one.',
        },
      },
      random,
    )
    return made ? [made] : []
  }).flat()
}
