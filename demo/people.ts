import { places, type Place } from './places'
import type { Random } from './random'

/** Made-up people. Everybody in the demo has the same password, which the README names. */
export const DEMO_PASSWORD = 'lantern-2026'

export interface DemoPerson {
  userName: string
  displayName: string
  role: 'administrator' | 'officer' | 'clerk' | 'reader'
  branch: string | null
}

export const GIVEN = [
  'Ione',
  'Renna',
  'Loren',
  'Mireth',
  'Tavi',
  'Orsel',
  'Brenn',
  'Sila',
  'Corvin',
  'Elda',
  'Jossa',
  'Perrin',
  'Nevis',
  'Hale',
  'Ysa',
  'Dorren',
  'Wenna',
  'Kester',
  'Alba',
  'Thorn',
]
export const FAMILY = [
  'Osk',
  'Vask',
  'Holloway',
  'Marrow',
  'Quill',
  'Sandley',
  'Penhale',
  'Drift',
  'Copperwick',
  'Lorne',
  'Ashdown',
  'Fenner',
  'Tarrow',
  'Wick',
  'Gale',
  'Hythe',
  'Brand',
  'Sallow',
  'Pike',
  'Merrow',
]

const OFFICERS: Record<string, string> = {
  ashmere_district: 'Ione Tamber',
  tolben_vale_district: 'Orsel Lorne',
  quillan_isles_district: 'Mireth Gale',
  sorrel_downs_district: 'Corvin Hythe',
}

export function people(random: Random): DemoPerson[] {
  const all: DemoPerson[] = [
    { userName: 'admin', displayName: 'Elda Ashdown', role: 'administrator', branch: null },
    { userName: 'reader', displayName: 'Perrin Quill', role: 'reader', branch: 'varrow_coast' },
  ]
  for (const district of places().filter(({ level }) => level === 2)) {
    all.push({
      userName: `officer.${district.code.replace('_district', '')}`,
      displayName: OFFICERS[district.code]!,
      role: 'officer',
      branch: district.code,
    })
  }
  for (const facility of places().filter(({ level }) => level === 4)) {
    const clerks = facility.kind === 'hospital' ? 2 : 1
    for (let clerk = 1; clerk <= clerks; clerk++) all.push(clerkOf(facility, clerk, random))
  }
  return all
}

function clerkOf(facility: Place, number: number, random: Random): DemoPerson {
  const name = `${GIVEN[random.whole(0, GIVEN.length - 1)]} ${FAMILY[random.whole(0, FAMILY.length - 1)]}`
  return {
    userName: `clerk.${facility.code}${number > 1 ? number : ''}`,
    displayName: name,
    role: 'clerk',
    branch: facility.code,
  }
}
