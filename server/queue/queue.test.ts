import '../../tests/support/use-memory'
import { setTimeout } from 'node:timers/promises'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import type { JobKind, JobLine } from '#core/contract/jobs'
import { makeInstallation, personOf } from '../../tests/support/installation'
import { closeDatabase, type Database } from '../database'
import { askByHand, jobPlan, listJobs, stopJob } from '../jobs/list'
import { askForJob, MOST_TRIES, takeJob } from './job-table'
import { JobRunner } from './runner'
import type { JobWork } from './turn'

const admin = personOf('administrator', null)
const RESULT = { numbers: { judged: 3 }, details: ['as it was'] }
let sql: Database
let runners: JobRunner[] = []

beforeAll(async () => {
  sql = await makeInstallation()
})
afterAll(closeDatabase)
beforeEach(async () => void (await sql.query('DELETE FROM job')))
afterEach(async () => {
  await Promise.all(runners.map(runner => runner.stop()))
  runners = []
})

const ask = (kind: JobKind, person?: string) => sql.transaction(tx => askForJob(tx, kind, { person }))
function run(works: Partial<Record<JobKind, JobWork>>): JobRunner {
  const runner = new JobRunner(works)
  runners.push(runner)
  runner.start()
  return runner
}
const jobOf = async (id: string): Promise<JobLine> =>
  (await listJobs(admin, {})).lines.find(job => job.id === id)!
/** Waits until a job is in a state. */
const until = (id: string, state: JobLine['state']) =>
  vi.waitFor(async () => expect((await jobOf(id)).state).toBe(state), { timeout: 9_000, interval: 20 })
/** Makes the lease of the process that runs a job end, as time would. */
const die = () =>
  sql.query(`UPDATE job SET alive_until = clock_timestamp() - interval '1 s' WHERE state = 'running'`)
/** A turn that lasts until it is aborted, and how often it was begun. */
function endless() {
  const turns = { begun: 0, aborted: 0 }
  const work: JobWork = async ({ signal }) => {
    turns.begun++
    while (!signal.aborted) await setTimeout(10)
    turns.aborted++
    throw signal.reason
  }
  return { turns, work }
}

describe('a job', () => {
  it('runs, tells how far it is, and its result stays', async () => {
    const id = await ask('judgeAgain', admin.id)
    run({
      judgeAgain: async ({ progress }) => {
        progress(3, 3)
        return RESULT
      },
    })
    await until(id, 'done')
    expect(await jobOf(id)).toMatchObject({
      askedBy: 'The administrator',
      done: 3,
      total: 3,
      tries: 1,
      result: RESULT,
    })
  })

  it('is asked for with what makes it necessary, or not at all', async () => {
    const failed = sql.transaction(async tx => {
      await askForJob(tx, 'judgeAgain')
      throw new Error('no')
    })
    await expect(failed).rejects.toThrow('no')
    expect((await listJobs(admin, {})).lines).toEqual([])
  })

  it('of a kind that already waits is not asked for twice; while one runs, a second may wait', async () => {
    const first = await ask('verify')
    expect(await ask('verify')).toBe(first)
    const { turns, work } = endless()
    run({ verify: work })
    await until(first, 'running')
    const second = await ask('verify')
    expect(second).not.toBe(first)
    await setTimeout(100)
    expect((await jobOf(second)).state).toBe('waiting')
    await stopJob(admin, first)
    await until(second, 'running')
    expect(turns.begun).toBe(2)
  })

  it('of a time of the schedule is asked for once, whichever process asks', async () => {
    const slot = new Date('2026-11-05T03:15:00Z')
    await sql.transaction(tx => askForJob(tx, 'tidy', { slot }))
    await sql.query(`UPDATE job SET state = 'done'`)
    await sql.transaction(tx => askForJob(tx, 'tidy', { slot }))
    expect((await listJobs(admin, {})).lines).toHaveLength(1)
  })

  it('that fails is tried again, and given up with what it said', async () => {
    const id = await ask('effects')
    const runner = run({ effects: () => Promise.reject(new Error('the figures are not there')) })
    for (let tries = 1; tries <= MOST_TRIES; tries++) {
      await vi.waitFor(async () =>
        expect(await jobOf(id)).toMatchObject({ tries, problem: 'the figures are not there' }),
      )
      // The pause after a failure: not for this test.
      await sql.query('UPDATE job SET not_before = clock_timestamp()')
      runner.look()
    }
    await until(id, 'failed')
  })

  it('of a person does not wait for the end of a pause after a failure', async () => {
    const id = await ask('effects')
    await sql.query(`UPDATE job SET not_before = clock_timestamp() + interval '1 hour', tries = 1`)
    expect((await askByHand(admin, 'effects')).id).toBe(id)
    run({ effects: () => Promise.resolve(RESULT) })
    await until(id, 'done')
  })
})

describe('stopping', () => {
  it('a job that waits ends it at once; twice changes nothing', async () => {
    const id = await ask('verify', admin.id)
    expect((await stopJob(admin, id)).state).toBe('stopped')
    const again = await stopJob(admin, id)
    expect(again.state).toBe('stopped')
    expect(await takeJob(sql, crypto.randomUUID(), ['verify'])).toBeUndefined()
  })

  it('a job that runs lets it end after its present part; twice changes nothing', async () => {
    const id = await ask('verify')
    const { turns, work } = endless()
    run({ verify: work })
    await until(id, 'running')
    expect((await stopJob(admin, id)).stopping).toBe(true)
    expect((await stopJob(admin, id)).stopping).toBe(true)
    await until(id, 'stopped')
    expect(turns).toEqual({ begun: 1, aborted: 1 })
  })

  it('a job that has ended, or that never was, says so', async () => {
    const id = await ask('verify')
    run({ verify: () => Promise.resolve(RESULT) })
    await until(id, 'done')
    await expect(stopJob(admin, id)).rejects.toMatchObject({ status: 409, code: 'job-ended' })
    await expect(stopJob(admin, crypto.randomUUID())).rejects.toMatchObject({ status: 404 })
  })

  it('the process gives its job to another one, and the try does not count', async () => {
    const id = await ask('verify')
    const { turns, work } = endless()
    const first = run({ verify: work })
    await until(id, 'running')
    await first.stop()
    expect(await jobOf(id)).toMatchObject({ state: 'waiting', tries: 0 })
    run({ verify: () => Promise.resolve(RESULT) })
    await until(id, 'done')
    expect(turns.aborted).toBe(1)
  })
})

describe('when a process dies, or somebody writes into the table', () => {
  it('the job is begun again by another, and given up when that happens too often', async () => {
    const id = await ask('verify')
    for (let tries = 1; tries <= MOST_TRIES; tries++) {
      expect(await takeJob(sql, crypto.randomUUID(), ['verify'])).toMatchObject({ id })
      await die()
    }
    expect(await takeJob(sql, crypto.randomUUID(), ['verify'])).toBeUndefined()
    expect(await jobOf(id)).toMatchObject({ state: 'failed', problem: 'died', tries: MOST_TRIES })
  })

  it('a job that somebody stopped before does not begin again', async () => {
    const id = await ask('verify')
    await takeJob(sql, crypto.randomUUID(), ['verify'])
    await stopJob(admin, id)
    await die()
    await takeJob(sql, crypto.randomUUID(), ['verify'])
    expect((await jobOf(id)).state).toBe('stopped')
  })

  it('one that was taken for dead and lives writes nothing over the other’s result', async () => {
    const id = await ask('verify')
    const { turns, work } = endless()
    run({ verify: work })
    await until(id, 'running')
    await die()
    const other = crypto.randomUUID()
    await takeJob(sql, other, ['verify'])
    await vi.waitFor(() => expect(turns.aborted).toBe(1), { timeout: 9_000 })
    expect(await sql.query('SELECT runner, state FROM job')).toEqual([{ runner: other, state: 'running' }])
  })

  it('a job whose row was changed or removed is left as it is', async () => {
    for (const edit of [`UPDATE job SET state = 'failed', problem = 'by hand'`, 'DELETE FROM job']) {
      const id = await ask('verify')
      const { turns, work } = endless()
      run({ verify: work })
      await until(id, 'running')
      await sql.query(edit)
      await vi.waitFor(() => expect(turns.aborted).toBe(1), { timeout: 9_000 })
      await setTimeout(50)
      expect((await jobOf(id))?.problem).toBe(edit.startsWith('DELETE') ? undefined : 'by hand')
    }
  })

  it('a kind that this version does not know is left for one that does', async () => {
    await sql.query(`INSERT INTO job (id, kind, asked_at) VALUES ($1, 'ofTomorrow', now())`, [
      crypto.randomUUID(),
    ])
    expect(await takeJob(sql, crypto.randomUUID(), ['verify', 'tidy'])).toBeUndefined()
  })
})

describe('a queue of 10,000', () => {
  it('is worked off without a job twice, and its list comes in pages', async () => {
    await sql.query(
      `INSERT INTO job (id, kind, asked_at, not_before)
       SELECT gen_random_uuid(), (ARRAY['effects', 'verify'])[1 + n % 2], '2026-11-05T10:00:00Z'::timestamptz + n * interval '1 s', clock_timestamp() - n * interval '1 s'
       FROM generate_series(1, 10000) n`,
    )
    const first = await listJobs(admin, { filter: 'unended' })
    expect(first.lines).toHaveLength(50)
    expect(first.more).toBe(true)
    const second = await listJobs(admin, { filter: 'unended', after: first.lines.at(-1)!.id })
    expect(new Set([...first.lines, ...second.lines].map(({ id }) => id)).size).toBe(100)
    const seen: string[] = []
    const work: JobWork = async () => {
      await setTimeout(1)
      seen.push('done')
      return RESULT
    }
    const running = [run({ effects: work, verify: work }), run({ effects: work, verify: work })]
    await vi.waitFor(() => expect(seen.length).toBeGreaterThan(200), { timeout: 20_000 })
    await Promise.all(running.map(runner => runner.stop()))
    const [row] = await sql.query<{ done: number }>(`SELECT count(*) AS done FROM job WHERE state = 'done'`)
    expect(row!.done).toBe(seen.length)
  }, 30_000)
})

describe('who sees jobs', () => {
  it('is an administrator of the whole installation', async () => {
    const ofDistrict = personOf('administrator', 'north')
    for (const refused of [listJobs(ofDistrict, {}), jobPlan(ofDistrict), askByHand(ofDistrict, 'tidy')])
      await expect(refused).rejects.toMatchObject({ status: 403 })
  })

  it('reads what the installation does by itself; a database in memory has no backups', async () => {
    expect((await jobPlan(admin)).map(({ kind }) => kind)).toEqual([
      'openRounds',
      'judgeAgain',
      'effects',
      'foldCases',
      'newDay',
      'sendNudges',
      'sendOn',
      'importReports',
      'makeExtracts',
      'writeExtracts',
      'tidy',
      'verify',
    ])
    await expect(askByHand(admin, 'backup')).rejects.toMatchObject({ status: 409, code: 'job-not-here' })
  })
})
