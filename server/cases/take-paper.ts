import { startOfDay } from '#core/calendar/deadline'
import type { EntryMade } from '#core/contract/desk'
import type { PaperEntry } from '#core/contract/paper-entry'
import type { Access } from '../access/access'
import { database } from '../database'
import { Refusal } from '../refusal'
import { dayOfPaper, settings } from '../settings'
import { applyEntries } from './apply-entries'
import { rootsOf } from './fold-known'
import { lockCases } from './lock-cases'

const NOON = 12 * 3_600_000

/**
 * Takes in a case form that a facility filled on paper. It stands beside those of devices, marked with the day
 * of the paper; where the form asks for no day of the event, it happened on that day.
 * @returns the case that it is part of
 * @throws Refusal 403, 422 `paper-day` and those of entries ({@link applyEntries})
 */
export async function takePaper(access: Access, paper: PaperEntry): Promise<{ case: string }> {
  const sql = await database()
  return sql.transaction(async tx => {
    const { paperOn, ...entry } = paper
    const day = await dayOfPaper(tx, paperOn)
    const named = [entry.case, ...(entry.parent ? [entry.parent] : [])]
    await lockCases(tx, named, [entry.unit])
    const { timeZone } = await settings(tx)
    const madeAt = new Date(startOfDay(day, timeZone) + NOON).toISOString()
    const made: EntryMade = { ...entry, kind: 'entry', madeAt }
    const source = { device: null, paperOn }
    const [outcome] = await applyEntries(tx, access, [made], at => at, source, timeZone)
    if (outcome!.outcome === 'refused') throw new Refusal(422, outcome!.code, outcome!.message)
    return { case: (await rootsOf(tx, [entry.case]))[0] ?? entry.case }
  })
}
