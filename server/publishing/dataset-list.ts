import type { DatasetView } from '#core/contract/rounds'
import type { Edition } from '#core/report/edition'
import type { Access } from '../access/access'
import { database } from '../database'
import { latestRound } from '../rounds/round'
import { expectedUnits } from '../units/expected-units'

/** The newest edition of each dataset, and how many units of the person's branch report it. */
export async function listDatasets(access: Access): Promise<DatasetView[]> {
  const sql = await database()
  const rows = await sql.query<{ definition: Edition; published_at: string; dataset: string }>(
    'SELECT DISTINCT ON (dataset) dataset, definition, published_at FROM edition ORDER BY dataset, number DESC',
  )
  return Promise.all(
    rows.map(async row => {
      const round = await latestRound(sql, row.dataset)
      const expected = round ? await expectedUnits(sql, round, access.branch) : []
      return { edition: row.definition, publishedAt: row.published_at, expectedNow: expected.length }
    }),
  )
}
