import type { DeviceSettings } from '#core/contract/devices'
import { DEMO_NOW } from '../report'
import type { Random } from '../random'
import { identifierOf } from './identifier'

/** What a device is like on the day on which the demo plays. */
export type DeviceState = 'upToDate' | 'twoDaysBehind' | 'silent' | 'oldEdition' | 'clockOff' | 'blocked'

export interface DemoDevice {
  id: string
  name: string
  unit: string
  /** Who works with it. */
  person: string
  state: DeviceState
  settings: DeviceSettings
  lastContactAt: string
  clockOffMs: number
  blockedAt: string | null
  /** What waited on it when it was last heard. */
  waiting: number
  /** It still runs an earlier version of the application. */
  isEarlier: boolean
}

/** So much waits on a device: a telephone that is silent was already behind when it was last heard. */
const WAITING: Partial<Record<DeviceState, number>> = { silent: 6, twoDaysBehind: 2, blocked: 4 }

export const PAIRED_AT = '2025-09-01T13:00:00Z'
const MINUTE = 60_000
const HOUR = 60 * MINUTE
const DAY = 24 * HOUR

/** The devices that are not simply up to date. */
const STATES: Record<string, DeviceState> = {
  saltern: 'silent',
  wrack_sound: 'silent',
  heather_moor: 'silent',
  hollin_bridge: 'twoDaysBehind',
  stonegarth: 'twoDaysBehind',
  cormorant: 'twoDaysBehind',
  hazelbury: 'twoDaysBehind',
  millrace: 'oldEdition',
  reedham_ford: 'oldEdition',
  thorncote: 'oldEdition',
  kestrel: 'clockOff',
  gull_rock: 'clockOff',
  shell_haven: 'blocked',
  coldwell: 'blocked',
}

/** Facilities with a device; the hospitals have two. */
const FACILITIES = [
  ...['ashmere', 'pell_harbour', 'upper_hollin', 'mallow_creek', 'amber_cross', 'sedge_bay', 'rowan_court'],
  ...['hollin_bridge', 'millrace', 'saltern'],
  ...['tolben', 'coldwell', 'kestrel', 'orchard_rise', 'weir_street', 'larch_house', 'stonegarth'],
  ...['reedham_ford', 'quillan', 'wrack_sound', 'cormorant', 'lantern_quay', 'gull_rock', 'shell_haven'],
  ...['sorrel', 'chalk_hill', 'market_row', 'hazelbury', 'primrose', 'chalkwater', 'heather_moor'],
  'thorncote',
]
export const HOSPITALS = ['ashmere', 'tolben', 'quillan', 'sorrel']
export const DISTRICTS = ['ashmere', 'tolben_vale', 'quillan_isles', 'sorrel_downs']

const SETTINGS: DeviceSettings = {
  language: 'en',
  textSize: 'usual',
  wifiOnly: false,
  lockMinutes: 30,
  keepDays: 90,
  may: { openReports: true, changeSent: true, deleteDrafts: true, changeSettings: false },
}

function lastContact(state: DeviceState, random: Random): number {
  const now = Date.parse(DEMO_NOW)
  const some = random.whole(5, 50) * MINUTE
  switch (state) {
    case 'silent':
      return now - 19 * DAY - some
    case 'twoDaysBehind':
      return now - 2 * DAY - some
    case 'blocked':
      return now - 38 * DAY - some
    default:
      return now - some - (random.share() < 0.3 ? 16 * HOUR : 0)
  }
}

/** The 40 devices of the scenario: telephones of facilities, and a tablet for each officer. */
export function devices(random: Random): DemoDevice[] {
  const make = (name: string, unit: string, person: string, state: DeviceState): DemoDevice => {
    const at = lastContact(state, random)
    return {
      id: identifierOf(`device ${unit} ${name}`),
      name,
      unit,
      person,
      state,
      settings: SETTINGS,
      lastContactAt: new Date(at).toISOString(),
      clockOffMs: state === 'clockOff' ? 3 * HOUR : random.whole(-20_000, 20_000),
      waiting: WAITING[state] ?? 0,
      isEarlier: state === 'oldEdition',
      blockedAt: state === 'blocked' ? new Date(at + 3 * DAY).toISOString() : null,
    }
  }
  return [
    ...FACILITIES.map(unit => make('Phone 1', unit, `clerk.${unit}`, STATES[unit] ?? 'upToDate')),
    ...HOSPITALS.map(unit => make('Phone 2', unit, `clerk.${unit}2`, 'upToDate')),
    ...DISTRICTS.map(code => make('Tablet', `${code}_district`, `officer.${code}`, 'upToDate')),
  ]
}
