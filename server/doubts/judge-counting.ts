import { groupBy } from '#core/group-by'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { askForJob } from '../queue/job-table'

/** A case that counts in another way than before, by one of its days. */
export interface CountingChange {
  register: string
  /** The unit that registered it. */
  unit: string
  /** ISO 8601: the day by which it counts, or counted. */
  day: string
}

/**
 * Cases have changed: the reports of their units whose rules count them, or about which somebody asked because
 * of them, of the period of their day and of later ones (rules may look back), are judged again by a job.
 * Where nothing counts them, nothing happens.
 */
export async function judgeCounting(sql: Sql, changes: readonly CountingChange[]): Promise<void> {
  if (!changes.length) return
  // From the earliest day on: the later ones are among them.
  const earliest = [...groupBy(changes, ({ register, unit }) => `${register} ${unit}`).values()].map(alike =>
    alike.reduce((first, one) => (one.day < first.day ? one : first)),
  )
  const waiting = await sql.query(
    `INSERT INTO report_to_judge (report, since)
     WITH changed AS (
       SELECT * FROM unnest($1::text[], $2::text[], $3::date[]) AS given (register, unit, day))
     SELECT p.id, $4::timestamptz
     FROM changed JOIN edition e ON e.counts @> ARRAY[changed.register]
       JOIN round r ON r.dataset = e.dataset AND r.last_day >= changed.day
       JOIN report p ON p.round = r.id AND p.unit = changed.unit AND p.edition = e.number
     WHERE p.first_received_at IS NOT NULL
     UNION SELECT p.id, $4::timestamptz
     FROM discrepancy d JOIN report p ON p.id = d.report JOIN round r ON r.id = p.round
       JOIN changed ON changed.unit = p.unit AND r.last_day >= changed.day
     WHERE d.source = 'cases'
     ON CONFLICT DO NOTHING RETURNING report`,
    [
      earliest.map(({ register }) => register),
      earliest.map(({ unit }) => unit),
      earliest.map(({ day }) => day),
      nowText(),
    ],
  )
  if (waiting.length) await askForJob(sql, 'judgeAgain')
}
