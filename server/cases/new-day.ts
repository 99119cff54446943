import { printDay } from '#core/calendar/day'
import { dependsOn } from '#core/expression/depends-on'
import { database } from '../database'
import { today } from '../settings'
import { newestRegisters, runnableRegisters } from './registers'

/** A case of which nothing was heard for longer is not judged by each new day. */
const JUDGED_FOR_DAYS = 2 * 365

/** The registers with a rule that looks at the date: `today()` says something else each day. */
async function registersByDay(): Promise<string[]> {
  const sql = await database()
  const registers = runnableRegisters(await newestRegisters(sql))
  return [...registers].flatMap(([code, { rules }]) =>
    rules.some(({ compiled }) => dependsOn(compiled).today) ? [code] : [],
  )
}

/** Is there a register whose rules look at the date? */
export const isJudgedByDay = async (): Promise<boolean> => (await registersByDay()).length > 0

/**
 * Has the cases judged again whose rules look at the date: open ones that something was heard of in the last two
 * years. They are folded, some at a time, by the job for that.
 * @returns how many there are
 */
export async function judgeByDay(): Promise<number> {
  const sql = await database()
  const rows = await sql.query<{ id: string }>(
    `UPDATE case_record SET to_fold = true
     WHERE register = ANY($1::text[]) AND merged_into IS NULL AND closed_on IS NULL AND last_on >= $2::date
     RETURNING id`,
    [await registersByDay(), printDay((await today()) - JUDGED_FOR_DAYS)],
  )
  return rows.length
}
