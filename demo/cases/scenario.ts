import { groupBy } from '#core/group-by'
import type { DemoPerson } from '../people'
import type { Place } from '../places'
import { randomFrom } from '../random'
import type { DemoReport } from '../report'
import { devices, type DemoDevice } from './devices'
import type { DemoEntry } from './entry'
import { measlesCases, measlesEntries } from './measles'
import { newbornEntries } from './newborns'
import { withPlanted } from './planted'
import { withCaseSlips } from './planted-doubts'
import { waterVisits } from './water-visits'

export interface DemoCases {
  devices: DemoDevice[]
  /** In the order in which they are to be taken in: what another needs comes before it. */
  entries: DemoEntry[]
}

/** The devices and what was registered on them. */
export function demoCases(
  places: readonly Place[],
  people: readonly DemoPerson[],
  reports: readonly DemoReport[],
  seed: number,
): DemoCases {
  const random = randomFrom(seed)
  const all = devices(random)
  const byUnit = groupBy(all, ({ unit }) => unit)
  const byCode = new Map(places.map(place => [place.code, place]))
  const zoneOf = (unit: string) => byCode.get(byCode.get(unit)!.parent!)!
  const districtOf = (unit: string) => zoneOf(unit).parent!
  const measles = measlesCases(reports, byUnit, districtOf, random).flatMap(one =>
    measlesEntries(one, zoneOf(one.device.unit), random),
  )
  const visited = places.filter(({ level, kind, to }) => level === 4 && kind !== 'health post' && to === null)
  const tablets = new Map(visited.map(({ code }) => [code, byUnit.get(districtOf(code))![0]!]))
  const names = new Map(people.map(({ userName, displayName }) => [userName, displayName]))
  return {
    devices: all,
    entries: withCaseSlips([
      ...withPlanted(measles, all),
      ...newbornEntries(all, random),
      ...waterVisits(visited, tablets, names, random),
    ]),
  }
}
