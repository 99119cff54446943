import { parseDay } from '#core/calendar/day'
import { dayAt } from '#core/calendar/deadline'
import { USUAL_CALENDAR, type Calendar } from '#core/calendar/period'
import type { Words } from '#core/report/edition'
import { now } from './clock'
import { database, type Sql } from './database'
import { holdSettings } from './database/locks'
import { Refusal } from './refusal'

/** What an installation says of itself. */
export interface Settings extends Calendar {
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
  ...USUAL_CALENDAR,
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

/** The same, and nobody changes by what rounds are made before the transaction ends. */
export async function settingsHeld(tx: Sql): Promise<Settings> {
  await holdSettings(tx)
  return settings(tx)
}

/** Writes some of them. */
export const saveSettings = async (tx: Pick<Sql, 'query'>, some: Partial<Settings>): Promise<void> => {
  await tx.query(
    'INSERT INTO setting (key, value) SELECT * FROM jsonb_each($1) ON CONFLICT (key) DO UPDATE SET value = EXCLUDED.value',
    [some],
  )
}

/** The code of the district in a path: its code at the district's level. */
export const districtOf = (path: readonly string[], { districtLevel }: Settings): string =>
  path[districtLevel - 1] ?? path.at(-1)!

/** The day number of today, where the installation is. */
export const today = async (tx?: Pick<Sql, 'query'>): Promise<number> =>
  dayAt(now(), (await settings(tx)).timeZone)

/**
 * The day on which something was done, as a paper was written, as a day number: today at the latest.
 * @param at where it stands in the request
 * @throws Refusal 422 `paper-day`
 */
export async function dayOfPaper(tx: Pick<Sql, 'query'>, text: string, at = 'paperOn'): Promise<number> {
  const day = parseDay(text)
  if (day.ok && day.value <= (await today(tx))) return day.value
  const message = 'This is no day, or it has not come yet.'
  throw new Refusal(422, 'paper-day', message, [{ code: 'paper-day', message, at }])
}

function isTimeZone(name: string): boolean {
  try {
    return Boolean(new Intl.DateTimeFormat('en', { timeZone: name }))
  } catch {
    return false
  }
}

/** @param at where it stands in the request. @throws Refusal 422 `time-zone` */
export function mustBeTimeZone(name: string, at: string): void {
  if (isTimeZone(name)) return
  const message = `There is no time zone ${name}.`
  throw new Refusal(422, 'time-zone', message, [{ code: 'time-zone', message, at }])
}
