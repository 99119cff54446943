import { printDay } from '#core/calendar/day'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { today } from '../settings'

/** Notes that a person opened the file of a case at the office: once for each day, with how many times. */
export async function noteOpening(sql: Pick<Sql, 'query'>, access: Access, id: string): Promise<void> {
  await sql.query(
    `INSERT INTO case_opening AS o (case_id, person, day, first_at, last_at) VALUES ($1, $2, $3, $4, $4)
     ON CONFLICT (case_id, person, day) DO UPDATE SET last_at = EXCLUDED.last_at, times = o.times + 1`,
    [id, access.id, printDay(await today(sql)), nowText()],
  )
}
