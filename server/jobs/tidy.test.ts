import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeInstallation, NOW, personOf } from '../../tests/support/installation'
import { countTry } from '../access/tries'
import { closeDatabase, type Database } from '../database'
import { tidy } from './tidy'

const admin = personOf('administrator', null)
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

/** A job that ended so many days ago. */
const ended = (days: number, state: string, person: string | null) =>
  sql.query(
    `INSERT INTO job (id, kind, asked_by, asked_at, state, ended_at)
     SELECT gen_random_uuid(), 'verify', $1, at, $2, at FROM (SELECT $3::timestamptz - make_interval(days => $4) AS at) g`,
    [person, state, NOW, days],
  )

/** Tables of which the planner knows nothing. */
const withoutStatistics = () =>
  sql.query(
    `SELECT relname FROM pg_class WHERE relkind = 'r' AND relnamespace = current_schema()::regnamespace AND reltuples < 0`,
  )

describe('tidying', () => {
  it('forgets jobs after their time, and keeps what somebody may still ask about', async () => {
    await ended(3, 'done', null)
    await ended(100, 'failed', null)
    await ended(100, 'done', admin.id)
    await ended(1, 'done', null)
    await ended(3, 'failed', null)
    await ended(3, 'done', admin.id)
    expect(await tidy()).toEqual({ numbers: { removed: 3 }, details: [] })
    expect(await withoutStatistics()).toEqual([])
    const left = await sql.query<{ state: string; own: boolean }>(
      'SELECT state, asked_by IS NOT NULL AS own FROM job ORDER BY state, own',
    )
    expect(left).toEqual([
      { state: 'done', own: false },
      { state: 'done', own: true },
      { state: 'failed', own: false },
    ])
  })

  it('forgets wrong tries a day after the last wait, not before', async () => {
    await countTry('name old|x')
    await sql.query(`UPDATE wrong_try SET blocked_until = clock_timestamp() - interval '25 hours'`)
    await countTry('name new|x')
    await sql.query(
      `INSERT INTO rate_limit SELECT 'address ' || n, 3, (extract(epoch FROM clock_timestamp()) - n * 50000) * 1000 FROM generate_series(1, 2) n`,
    )
    expect((await tidy()).numbers.removed).toBe(2)
    expect(await sql.query('SELECT key FROM wrong_try')).toEqual([{ key: 'name new|x' }])
    expect(await sql.query('SELECT key FROM rate_limit')).toEqual([{ key: 'address 1' }])
  })

  it('ends before its next part when it is to stop', async () => {
    const abort = new AbortController()
    abort.abort(new Error('stop'))
    await expect(tidy({ signal: abort.signal, progress: () => undefined })).rejects.toThrow('stop')
  })
})
