import { nowText } from '../clock'
import type { Sql } from '../database'

/** What programs of other systems follow (machines/feed.ts). */
const NOTE = 'INSERT INTO changed_thing (at, kind, of, key, unit)'

/** Notes that units were added, renamed, moved or closed. */
export const noteUnits = (sql: Pick<Sql, 'query'>, units: readonly string[]): Promise<object[]> =>
  sql.query(`${NOTE} SELECT $1, 'unit', '', '', unit FROM unnest($2::text[]) AS unit`, [nowText(), units])

/** Notes that reports changed. Drafts are their facilities’ own business. */
export const noteReports = (sql: Pick<Sql, 'query'>, reports: readonly number[]): Promise<object[]> =>
  sql.query(
    `${NOTE} SELECT $1, 'report', r.dataset, r.period, p.unit FROM report p JOIN round r ON r.id = p.round
     WHERE p.id = ANY($2::bigint[]) AND p.state <> 'draft'`,
    [nowText(), reports],
  )

/** Notes that the district report of a unit was signed. */
export const noteSignature = (sql: Pick<Sql, 'query'>, round: string, unit: string): Promise<object[]> =>
  sql.query(
    `${NOTE} SELECT $1, 'districtReport', r.dataset, r.period, $3::text FROM round r WHERE r.id = $2`,
    [nowText(), round, unit],
  )

/** Notes that something else is known of cases. */
export const noteCases = (sql: Pick<Sql, 'query'>, cases: readonly string[]): Promise<object[]> =>
  sql.query(
    `${NOTE} SELECT $1, 'case', c.register, c.id::text, c.unit FROM case_record c WHERE c.id = ANY($2::uuid[]) ORDER BY c.id`,
    [nowText(), cases],
  )
