import type { ReportFrequency } from '#core/calendar/period'
import type { Consequences, InstallationSettings, SettingsChange } from '#core/contract/settings'
import type { Access } from '../access/access'
import { now } from '../clock'
import { database, type Sql } from '../database'
import { lockSettings } from '../database/locks'
import { conflict, outsideBranch } from '../refusal'
import { openRoundsAt } from '../rounds/open-rounds'
import { mustBeTimeZone, saveSettings, settings } from '../settings'
import { consequencesOf, cycleConsequences, movedRounds } from './consequences'

/** The settings are everybody's: only who sees the whole tree may look at them and change them. */
function mustSeeEverything({ branch }: Access): void {
  if (branch !== null) throw outsideBranch()
}

async function read(sql: Pick<Sql, 'query'>): Promise<InstallationSettings> {
  const { installation, timeZone, firstWeekday, firstMonth } = await settings(sql)
  return { installation, timeZone, firstWeekday, firstMonth }
}

/** @throws Refusal 403 */
export async function readSettings(access: Access): Promise<InstallationSettings> {
  mustSeeEverything(access)
  return read(await database())
}

/** What a change would do, before anybody makes it. @throws Refusal 403, 422 `time-zone` */
export async function settingsConsequences(
  access: Access,
  asked: InstallationSettings,
): Promise<Consequences> {
  mustSeeEverything(access)
  mustBeTimeZone(asked.timeZone, 'body/timeZone')
  const sql = await database()
  return consequencesOf(sql, await read(sql), asked)
}

/** Rounds that nobody has begun go; those of the new calendar take their place. */
async function removeRounds(
  tx: Sql,
  frequency: ReportFrequency,
  code: string,
  message: string,
): Promise<void> {
  const own = 'SELECT r.id FROM round r JOIN dataset d ON d.code = r.dataset WHERE d.frequency = $1'
  // Whoever begins a report meanwhile waits here, and then finds no such round.
  await tx.query(`${own} ORDER BY r.id FOR UPDATE OF r`, [frequency])
  const { refused, reports, rounds } = await cycleConsequences(tx, frequency)
  if (refused) throw conflict(code, message, [{ code, message, values: { reports, rounds } }])
  await tx.query(`DELETE FROM district_figure WHERE round IN (${own})`, [frequency])
  await tx.query(`DELETE FROM round WHERE id IN (${own})`, [frequency])
}

/**
 * Changes what the installation is called, and by what its rounds are made. Another time zone moves the
 * deadlines of the rounds that have not closed. Another first weekday, or month of the financial year, makes
 * the rounds of such datasets anew; where reports are in them it is refused.
 * @throws Refusal 403, 422 `time-zone`, 409 `settings-changed`, `weeks-used`, `years-used`.
 */
export async function changeSettings(access: Access, { before, after }: SettingsChange): Promise<void> {
  mustSeeEverything(access)
  mustBeTimeZone(after.timeZone, 'body/after/timeZone')
  const sql = await database()
  await sql.transaction(async tx => {
    await lockSettings(tx)
    const here = await read(tx)
    if ((Object.keys(here) as (keyof typeof here)[]).some(key => here[key] !== before[key]))
      throw conflict('settings-changed', 'Somebody has changed the settings meanwhile.')
    if (after.firstWeekday !== here.firstWeekday)
      await removeRounds(tx, 'week', 'weeks-used', 'Reports are in by weeks that begin on another day.')
    if (after.firstMonth !== here.firstMonth)
      await removeRounds(
        tx,
        'financialYear',
        'years-used',
        'Reports are in by years that begin in another month.',
      )
    await saveSettings(tx, { ...after, installation: after.installation.trim() })
    if (after.timeZone !== here.timeZone) {
      const moved = await movedRounds(tx, after.timeZone)
      await tx.query(
        `UPDATE round r SET opens_at = g.opens_at, due_at = g.due_at, closes_at = g.closes_at
         FROM unnest($1::text[], $2::timestamptz[], $3::timestamptz[], $4::timestamptz[]) AS g (id, opens_at, due_at, closes_at) WHERE r.id = g.id`,
        [
          moved.map(({ id }) => id),
          moved.map(({ opensAt }) => opensAt),
          moved.map(({ dueAt }) => dueAt),
          moved.map(({ closesAt }) => closesAt),
        ],
      )
    }
    await openRoundsAt(tx, now(), { ...here, ...after })
  })
}
