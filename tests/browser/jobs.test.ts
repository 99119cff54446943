import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { openEmbedded } from '../../server/database/embedded'
import { MIGRATIONS } from '../../server/database/migrations'
import { OFFICE, Visitor } from '../support/browser'
import { DEMO, demoPlace, startServer, type Place, type RunningServer } from '../support/server'
import { shot } from '../support/shot'

let place: Place
let server: RunningServer
let admin: Visitor

/** Jobs as they stand in the middle of a day: one that runs elsewhere, one that waits, and some that ended. */
async function aDayOfJobs(): Promise<void> {
  const sql = await openEmbedded(place.data, MIGRATIONS)
  const JOBS = [
    `'judgeAgain', '2026-11-09T10:42:00Z', 'running', 1, clock_timestamp() + interval '1 hour', 412, 1260, '2026-11-09T10:42:01Z', NULL, NULL, NULL`,
    `'tidy', '2026-11-09T10:41:00Z', 'waiting', 1, NULL, 0, NULL, '2026-11-09T10:41:01Z', NULL, NULL, 'The disk is full.'`,
    `'judgeAgain', '2026-11-09T09:30:00Z', 'done', 1, NULL, 72, 72, '2026-11-09T09:30:01Z', '2026-11-09T09:30:14Z', '{"numbers": {"judged": 70, "failed": 2}, "details": ["Report 91", "Report 92"]}', NULL`,
    `'effects', '2026-11-09T09:31:00Z', 'failed', 3, NULL, 1, NULL, '2026-11-09T09:33:01Z', '2026-11-09T09:33:31Z', NULL, 'died'`,
  ]
  for (const values of JOBS)
    await sql.query(
      `INSERT INTO job (id, kind, asked_at, state, tries, alive_until, done, total, started_at, ended_at, result, problem, not_before, runner)
       VALUES (gen_random_uuid(), ${values}, clock_timestamp() + interval '1 hour', gen_random_uuid())`,
    )
  await sql.close()
}

beforeAll(async () => {
  place = await demoPlace()
  await aDayOfJobs()
  server = await startServer(place.data, DEMO)
  admin = await Visitor.arrive(server.address, OFFICE)
  await admin.signIn('admin')
})
afterAll(async () => {
  await admin?.leave()
  await server?.stop()
  await place?.remove()
})

const clean = async () => expect(await admin.faults()).toEqual([])
/** The text of the first row of the list of a kind of job. */
const rowOf = (kind: string) =>
  admin.run<string>(
    `return [...document.querySelectorAll('section:last-of-type tr')].find(row => row.innerText.startsWith(${JSON.stringify(kind)}))?.innerText ?? ''`,
  )

describe('jobs', () => {
  it('are seen by the administrator: what runs, how far, and how the others ended', async () => {
    await admin.click('Jobs', 'nav a')
    await admin.reads('412 of 1,260')
    await admin.reads('70 reports checked')
    await admin.reads('2 reports could not be checked')
    await admin.reads('The process that ran it ended.')
    await shot(admin, 'jobs')
    await clean()
  })

  it('that wait are stopped at once, and those that run when they can', async () => {
    await admin.click('Stop', '[aria-label="Stop: Tidy up"]')
    await admin.until(
      async () => (await rowOf('Tidy up')).includes('Stopped'),
      'the waiting one to be stopped',
    )
    await admin.click('Stop', '[aria-label="Stop: Check reports again"]')
    await admin.until(async () => (await rowOf('Check reports again')).includes('Stopping'), 'it to be asked')
    await clean()
  })

  it('are done when the administrator asks, and tell what came of it', async () => {
    await admin.click('Do it now', '[aria-label="Do it now: Verify what is kept"]')
    await admin.reads('everything is as computed')
    await admin.click('Do it now', '[aria-label="Do it now: Make a backup"]')
    await admin.until(async () => /backups/.test(await rowOf('Make a backup')), 'the backup to be made')
    expect(await rowOf('Make a backup')).toContain('Elda Ashdown')
    await admin.pick('jobs-filter', 'failed')
    await admin.until(
      async () => (await rowOf('Verify')) === '' && (await rowOf('Compute')) !== '',
      'the failed one',
    )
    await clean()
  })

  it('are closed to an officer', async () => {
    const officer = await Visitor.arrive(server.address, OFFICE)
    try {
      await officer.signIn('officer.ashmere')
      await officer.open('/jobs')
      await officer.reads('Your role does not allow this.')
    } finally {
      await officer.leave()
    }
  })
})
