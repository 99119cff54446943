import { sameCells } from '#core/define/same-cells'
import type { Edition } from '#core/report/edition'
import { noteReports } from '../changes/note'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { askForJob } from '../queue/job-table'
import { roundsWhere, type Round } from '../rounds/round'
import { editionOf } from '../datasets/editions'

/**
 * The rounds of a dataset that are open to facilities, newest first: those that a new edition can still
 * enter.
 */
export const openRoundsOf = (sql: Pick<Sql, 'query'>, dataset: string): Promise<Round[]> =>
  roundsWhere(sql, 'r.dataset = $1 AND r.opens_at <= $2 AND r.closes_at > $2 ORDER BY r.last_day DESC', [
    dataset,
    nowText(),
  ])

/**
 * Gives open rounds a new edition. A report that was begun in them stays in its own edition, unless the new
 * one asks for the same cells: then it moves, and what the district has of it is judged again by a job.
 *
 * @param from the earliest of the open rounds that get it; all of them without one; `null` gives it to none
 * @returns how many received reports are to be judged again
 */
export async function applyEdition(
  sql: Sql,
  edition: Edition,
  from: string | null | undefined,
): Promise<number> {
  const { dataset, number } = edition
  const open = await openRoundsOf(sql, dataset)
  const first = from === undefined ? open.at(-1) : open.find(({ id }) => id === from)
  if (!first) return 0
  const rounds = open.filter(({ firstDay }) => firstDay >= first.firstDay).map(({ id }) => id)
  await sql.query('UPDATE round SET edition = $2 WHERE id = ANY($1::text[])', [rounds, number])
  const earlier = await sql.query<{ edition: number }>(
    'SELECT DISTINCT edition FROM report WHERE round = ANY($1::text[]) AND edition <> $2',
    [rounds, number],
  )
  let toJudge = 0
  for (const { edition: old } of earlier) {
    if (!sameCells((await editionOf(sql, dataset, old)).edition, edition)) continue
    const moved = await sql.query<{ id: number; received: boolean }>(
      'UPDATE report SET edition = $3 WHERE round = ANY($1::text[]) AND edition = $2 RETURNING id, first_received_at IS NOT NULL AS received',
      [rounds, old, number],
    )
    const received = moved.flatMap(({ id, received: isIn }) => (isIn ? [id] : []))
    await sql.query(
      'INSERT INTO report_to_judge (report, since) SELECT unnest($1::bigint[]), $2 ON CONFLICT DO NOTHING',
      [received, nowText()],
    )
    await noteReports(sql, received)
    toJudge += received.length
  }
  if (toJudge) await askForJob(sql, 'judgeAgain')
  return toJudge
}
