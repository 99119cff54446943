import { vacuum } from '../backups/keep-safe'
import { nowText } from '../clock'
import { database } from '../database'
import { UNWATCHED, type JobTurn } from '../queue/turn'

/** What is kept for a time, and the condition for rows that are past it. `$1` is now. */
const PAST: Record<string, string> = {
  // What the installation asked for by itself, and went well, tells nothing after two days.
  job: `ended_at < $1::timestamptz - interval '90 days' OR state = 'done' AND asked_by IS NULL AND ended_at < $1::timestamptz - interval '2 days'`,
  // A browser's session ends after twelve hours (people/sign-in.ts).
  web_session: `made_at < $1::timestamptz - interval '1 day'`,
  // What was shown for signing (district-reports/signatures.ts).
  shown_figures: `at < $1::timestamptz - interval '2 days'`,
  // The longest wait after wrong tries is a quarter of an hour. The clock is the database's, as there.
  wrong_try: `blocked_until < clock_timestamp() - interval '1 day' AND $1::timestamptz IS NOT NULL`,
  rate_limit: `expire < extract(epoch FROM clock_timestamp() - interval '1 day') * 1000 AND $1::timestamptz IS NOT NULL`,
}

/** Removes what is past its keeping time, and gives the room back. */
export async function tidy({ signal, progress }: JobTurn = UNWATCHED) {
  const sql = await database()
  const tables = Object.entries(PAST)
  let removed = 0
  for (const [at, [table, condition]] of tables.entries()) {
    signal.throwIfAborted()
    progress(at, tables.length + 1)
    removed += (await sql.query(`DELETE FROM ${table} WHERE ${condition} RETURNING 1 AS gone`, [nowText()]))
      .length
  }
  await vacuum()
  progress(tables.length + 1)
  return { numbers: { removed }, details: [] }
}
