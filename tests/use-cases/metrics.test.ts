import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { closeDatabase, type Database } from '../../server/database'
import { metrics } from '../../server/health/metrics'
import { noteRequest } from '../../server/measures/registry'
import { askForJob } from '../../server/queue/job-table'
import { fillReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const admin = personOf('administrator', null)
let sql: Database

beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)

/** A line of the text format, version 0.0.4 (Prometheus, exposition formats; from memory). */
const COMMENT = /^# (HELP|TYPE) [a-zA-Z_:][\w:]* .+$/
const SAMPLE =
  /^[a-zA-Z_:][\w:]*(\{([a-zA-Z_]\w*="([^"\\]|\\.)*",?)*\})? (NaN|[+-]Inf|-?[\d.]+(e[+-]?\d+)?)( \d+)?$/
/** The value of a sample; undefined where there is none. */
const valueOf = (text: string, sample: string) => {
  const line = text.split('\n').find(one => one.startsWith(`${sample} `))
  return line === undefined ? undefined : Number(line.slice(sample.length + 1))
}

describe('what to watch', () => {
  it('is written in the text format of Prometheus', async () => {
    noteRequest('GET /api/rounds', 200, 0.02)
    const lines = (await metrics(admin)).split('\n').filter(Boolean)
    expect(lines.length).toBeGreaterThan(50)
    expect(lines.filter(line => !COMMENT.test(line) && !SAMPLE.test(line))).toEqual([])
  })

  it('says what the database says', async () => {
    const before = await metrics(admin)
    expect(valueOf(before, 'lantern_backup_age_seconds')).toBeUndefined()
    expect(valueOf(before, 'lantern_devices{state="heard"}')).toBe(0)
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: 3 })
    await sql.transaction(tx => askForJob(tx, 'tidy'))
    await sql.query(
      `INSERT INTO backup (id, at, place) VALUES (gen_random_uuid(), now() - interval '1 hour', 'x')`,
    )
    const after = await metrics(admin)
    expect(valueOf(after, 'lantern_devices{state="heard"}')).toBe(1)
    expect(valueOf(after, 'lantern_jobs{kind="tidy",state="waiting"}')).toBe(1)
    expect(valueOf(after, 'lantern_oldest_waiting_job_seconds')).toBeGreaterThanOrEqual(0)
    expect(valueOf(after, 'lantern_backup_age_seconds')).toBeDefined()
    const [size] = await sql.query<{ bytes: number }>(
      'SELECT pg_database_size(current_database())::float8 AS bytes',
    )
    expect(valueOf(after, 'lantern_database_bytes')).toBeLessThanOrEqual(size!.bytes)
    await sql.query(`UPDATE device SET last_contact_at = last_contact_at - interval '8 days'`)
    expect(valueOf(await metrics(admin), 'lantern_devices{state="silent"}')).toBe(1)
  })

  it('is for who sees everything: it names no person and no facility', async () => {
    await expect(metrics(personOf('officer', 'north'))).rejects.toMatchObject({
      status: 403,
      code: 'whole-only',
    })
    expect(await metrics(admin)).not.toMatch(/elm|officer|clerk/)
  })
})
