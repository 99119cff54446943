import { dayAt } from '#core/calendar/deadline'
import type { Words } from '#core/report/edition'
import { now } from './clock'
import { database, type Sql } from './database'

/** What an installation says of itself. */
export interface Settings {
  installation: string
  timeZone: string
  /**
   * The level of the tree whose reports are signed, and the one that reports. Levels count from 1 at the top.
   */
  districtLevel: number
  facilityLevel: number
  /** What the levels are called, from the top. */
  levelNames: Words[]
}

const LEVEL_NAMES: Words[] = [
  { en: 'Region', fr: 'Région' },
  { en: 'District', fr: 'District' },
  { en: 'Zone', fr: 'Zone' },
  { en: 'Facility', fr: 'Établissement' },
]

const DEFAULTS: Settings = {
  installation: 'Eastward Lantern',
  timeZone: 'UTC',
  districtLevel: 2,
  facilityLevel: 4,
  levelNames: LEVEL_NAMES,
}

/** @param tx the connection of the transaction, inside one. */
export async function settings(tx?: Pick<Sql, 'query'>): Promise<Settings> {
  const sql = tx ?? (await database())
  const rows = await sql.query<{ key: keyof Settings; value: never }>('SELECT key, value FROM setting')
  return rows.reduce<Settings>((all, { key, value }) => ({ ...all, [key]: value }), DEFAULTS)
}

/** The code of the district in a path: its code at the district's level. */
export const districtOf = (path: readonly string[], { districtLevel }: Settings): string =>
  path[districtLevel - 1] ?? path.at(-1)!

/** The day number of today, where the installation is. */
export const today = async (tx?: Pick<Sql, 'query'>): Promise<number> =>
  dayAt(now(), (await settings(tx)).timeZone)
