import type { DatasetView } from '#core/contract/rounds'
import type { Edition } from '#core/report/edition'
import { datasetsSeen, type Access } from '../access/access'
import { database } from '../database'
import { newestRounds } from '../rounds/round'
import { expectedUnitsOf } from '../units/expected-units'

/** The newest edition of each dataset, and how many units of the person's branch report it. */
export async function listDatasets(access: Access): Promise<DatasetView[]> {
  const sql = await database()
  const rows = await sql.query<{ definition: Edition; publishedAt: string; dataset: string }>(
    `SELECT DISTINCT ON (dataset) dataset, definition, published_at AS "publishedAt" FROM edition
     WHERE $1::text[] IS NULL OR dataset = ANY($1::text[]) ORDER BY dataset, number DESC`,
    [datasetsSeen(access)],
  )
  const rounds = await newestRounds(sql)
  const expected = await expectedUnitsOf(sql, rounds, access.branch)
  const countOf = new Map(rounds.map(({ id, dataset }) => [dataset, expected.get(id)!.length]))
  return rows.map(({ definition, publishedAt, dataset }) => ({
    edition: definition,
    publishedAt,
    expectedNow: countOf.get(dataset) ?? 0,
  }))
}
