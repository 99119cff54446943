/** The made-up region: Varrow Coast, its districts, zones and facilities. No real place is meant. */

export type Kind = 'hospital' | 'health centre' | 'maternity home' | 'dispensary' | 'health post'

export interface Place {
  code: string
  name: string
  level: 1 | 2 | 3 | 4
  kind: Kind | 'region' | 'district' | 'zone'
  parent: string | null
  latitude: number
  longitude: number
  from: string
  /** First day on which it is closed. */
  to: string | null
  /** A later parent, from a day on. */
  moves?: { to: string; from: string }
}

const KINDS: Record<string, Kind> = {
  H: 'hospital',
  C: 'health centre',
  M: 'maternity home',
  D: 'dispensary',
  P: 'health post',
}
const ENDINGS: Record<Kind, string> = {
  hospital: 'General Hospital',
  'health centre': 'Health Centre',
  'maternity home': 'Maternity Home',
  dispensary: 'Dispensary',
  'health post': 'Health Post',
}

/** District › zone › facilities, each with the letter of its kind. */
const TREE: Record<string, Record<string, string>> = {
  Ashmere: {
    'Ashmere Town': 'C Pell Harbour, H Ashmere, M Lowgate, D Fenwick Lane, D Cooper Stairs',
    'North Shore': 'P Garrick Point, C Sedge Bay, D Old Quay, C Mallow Creek, P Brackwater',
    'Hollin Valley': 'C Hollin Bridge, D Millrace, P Upper Hollin, M Rowan Court',
    Saltings: 'C Tern Row, P Eel Sluice, D Saltern, P Marram End',
    Eastfold: 'C Eastfold, C Amber Cross, D Pinfold, P Harrow Gate',
  },
  'Tolben Vale': {
    Tolben: 'H Tolben, C Weir Street, M Larch House, D Tanner Hill',
    'Upper Vale': 'C Coldwell, P Skerry Top, D Ashcombe, P Nettle Dene',
    'Lower Vale': 'C Reedham Ford, C Dunlow, D Oxmere, P Fallow Green, D Brindle',
    'Kestrel Ridge': 'C Kestrel, M Orchard Rise, C Stonegarth, D Rook Hollow, P Windle',
  },
  'Quillan Isles': {
    'Great Quillan': 'H Quillan, C Lantern Quay, M Shell Haven, D Cormorant',
    'Little Quillan': 'C Gull Rock, P Samphire, D Kelp Bay',
    'Outer Isles': 'C Farholm, P Stack Island, C Wrack Sound, D Petrel, P Last Light',
  },
  'Sorrel Downs': {
    Sorrel: 'H Sorrel, C Chalk Hill, D Market Row, M Primrose',
    'West Downs': 'C Barrow Down, P Lark Rise, D Flint Lane, C Thorncote',
    'South Downs': 'C Hazelbury, P Plover, D Bell Farm, P Ewe Cross',
    Chalkwater: 'C Chalkwater, D Cress Mill, P Willow Head, D Brook End',
    Heathland: 'C Heather Moor, C Gorse Hill, P Stony Heath, D Juniper',
  },
}

/** Open ocean, so that nobody takes it for a real place. */
const CENTRES: Record<string, [number, number]> = {
  Ashmere: [41.35, -29.4],
  'Tolben Vale': [41.7, -29.9],
  'Quillan Isles': [41.2, -30.4],
  'Sorrel Downs': [42.0, -29.3],
}

export const FIRST_DAY = '2020-01-01'

export const codeOf = (name: string): string => name.toLowerCase().replaceAll(' ', '_')

export const OPENED = { unit: 'old_quay', day: '2026-05-01' }
export const CLOSED = { unit: 'last_light', day: '2026-03-16' }
export const MOVED = { unit: 'rook_hollow', day: '2026-07-01', to: 'west_downs_zone' }

/** Every unit, parents first. */
export function places(): Place[] {
  const all: Place[] = [
    {
      code: 'varrow_coast',
      name: 'Varrow Coast',
      level: 1,
      kind: 'region',
      parent: null,
      latitude: 41.6,
      longitude: -29.8,
      from: FIRST_DAY,
      to: null,
    },
  ]
  for (const [district, zones] of Object.entries(TREE)) {
    const [latitude, longitude] = CENTRES[district]!
    const code = `${codeOf(district)}_district`
    all.push({
      code,
      name: district,
      level: 2,
      kind: 'district',
      parent: 'varrow_coast',
      latitude,
      longitude,
      from: FIRST_DAY,
      to: null,
    })
    Object.entries(zones).forEach(([zone, facilities], zoneAt) => {
      const zoneCode = `${codeOf(zone)}_zone`
      const zoneLatitude = latitude + 0.09 * Math.sin(zoneAt * 1.4)
      const zoneLongitude = longitude + 0.12 * Math.cos(zoneAt * 1.4)
      all.push({
        code: zoneCode,
        name: zone,
        level: 3,
        kind: 'zone',
        parent: code,
        latitude: zoneLatitude,
        longitude: zoneLongitude,
        from: FIRST_DAY,
        to: null,
      })
      facilities.split(', ').forEach((entry, at) => {
        const kind = KINDS[entry[0]!]!
        const name = entry.slice(2)
        const unit = codeOf(name)
        all.push({
          code: unit,
          name: `${name} ${ENDINGS[kind]}`,
          level: 4,
          kind,
          parent: zoneCode,
          latitude: Number((zoneLatitude + 0.03 * Math.sin(at * 2.1)).toFixed(4)),
          longitude: Number((zoneLongitude + 0.04 * Math.cos(at * 2.1)).toFixed(4)),
          from: unit === OPENED.unit ? OPENED.day : FIRST_DAY,
          to: unit === CLOSED.unit ? CLOSED.day : null,
          ...(unit === MOVED.unit && { moves: { to: MOVED.to, from: MOVED.day } }),
        })
      })
    })
  }
  return all
}
