import type { DemoPerson } from '../people'
import type { Kind, Place } from '../places'

/** A made-up province for measurements: 25 districts of four zones with ten facilities each. */
export const REGION = 'west_reach'
export const FACILITIES = 1000
const DISTRICTS = 25
const ZONES = 4

// prettier-ignore
const FIRST = [
  'Amber', 'Birch', 'Cinder', 'Dapple', 'Elder', 'Fern', 'Gorse', 'Hazel', 'Iris', 'Juniper',
  'Knot', 'Linden', 'Mallow', 'Nettle', 'Osier', 'Poplar', 'Quince', 'Rush', 'Sedge', 'Thistle',
  'Umber', 'Vetch', 'Willow', 'Yarrow', 'Zinnia', 'Copper', 'Silver', 'Slate', 'Chalk', 'Flint',
  'Heron', 'Otter', 'Plover', 'Curlew', 'Martin', 'Linnet', 'Badger', 'Marten', 'Salmon', 'Eel',
]
// prettier-ignore
const SECOND = [
  'Bay', 'Bridge', 'Brook', 'Cross', 'Dale', 'End', 'Field', 'Ford', 'Gate', 'Green',
  'Hill', 'Holm', 'Lane', 'Mead', 'Moor', 'Point', 'Quay', 'Ridge', 'Row', 'Sound',
  'Stair', 'Top', 'Vale', 'Water', 'Weir',
]
const KINDS: Kind[] = [
  'health centre',
  'dispensary',
  'health post',
  'health centre',
  'maternity home',
  'dispensary',
  'health post',
  'health centre',
  'dispensary',
  'health post',
]
const ENDINGS: Record<Kind, string> = {
  hospital: 'General Hospital',
  'health centre': 'Health Centre',
  'maternity home': 'Maternity Home',
  dispensary: 'Dispensary',
  'health post': 'Health Post',
}
const FROM = '2020-01-01'
const two = (number: number) => String(number).padStart(2, '0')

/** All units, parents first. @param facilities how many: 1,000, or fewer for a smaller province. */
export function province(facilities = FACILITIES): Place[] {
  const place = (
    code: string,
    name: string,
    level: Place['level'],
    kind: Place['kind'],
    parent: string | null,
    at: number,
  ): Place => ({
    code,
    name,
    level,
    kind,
    parent,
    // Open ocean, so that nobody takes it for a real place.
    latitude: Number((38 + 3 * Math.sin(at * 1.7)).toFixed(4)),
    longitude: Number((-33 + 3 * Math.cos(at * 2.3)).toFixed(4)),
    from: FROM,
    to: null,
  })
  const all = [place(REGION, 'West Reach', 1, 'region', null, 0)]
  for (let at = 0; at < facilities; at++) {
    const district = Math.floor((at * DISTRICTS) / FACILITIES)
    const zone = Math.floor((at % (FACILITIES / DISTRICTS)) / (FACILITIES / DISTRICTS / ZONES))
    const [districtCode, zoneCode] = [`d${two(district + 1)}`, `d${two(district + 1)}_z${zone + 1}`]
    if (all.at(-1)!.code.slice(0, 3) !== districtCode)
      all.push(place(districtCode, `${FIRST[district]} Reach`, 2, 'district', REGION, at))
    if (!all.at(-1)!.code.startsWith(zoneCode))
      all.push(place(zoneCode, `${FIRST[district]} ${SECOND[zone]}`, 3, 'zone', districtCode, at))
    const number = at % 10
    const kind = zone === 0 && number === 0 ? 'hospital' : KINDS[number]!
    const name = `${FIRST[at % FIRST.length]} ${SECOND[Math.floor(at / FIRST.length)]} ${ENDINGS[kind]}`
    all.push(place(`${zoneCode}_f${two(number + 1)}`, name, 4, kind, zoneCode, at))
  }
  return all
}

/** An administrator, a reader, an officer for each district and a clerk for each facility. */
export const provincePeople = (places: readonly Place[]): DemoPerson[] => [
  { userName: 'admin', displayName: 'Elda Ashdown', role: 'administrator', branch: null },
  { userName: 'reader', displayName: 'Perrin Quill', role: 'reader', branch: REGION },
  ...places.flatMap(({ code, name, level }): DemoPerson[] =>
    level === 2
      ? [{ userName: `officer.${code}`, displayName: `Officer of ${name}`, role: 'officer', branch: code }]
      : level === 4
        ? [{ userName: `clerk.${code}`, displayName: `Clerk of ${name}`, role: 'clerk', branch: code }]
        : [],
  ),
]
