import type { JobKind, JobPlan } from '#core/contract/jobs'
import { keepSafe } from '../backups/keep-safe'
import { now, ofMachine } from '../clock'
import { database } from '../database'
import { verifySignatures } from '../district-reports/signatures'
import { completePeople } from '../people/search-text'
import { askForJob } from '../queue/job-table'
import { JobRunner } from '../queue/runner'
import { openRounds } from '../rounds/open-rounds'
import { schedule } from '../schedule'
import { settings } from '../settings'
import { completeSearchTexts } from '../units/latest'
import { possibleKinds, type JobSetup } from './kinds'

let runner: JobRunner | undefined
const nextRuns = new Map<JobKind, () => Date | null>()

/** Asks for a job of the schedule, when there is something to do. All processes ask; the first one is heard. */
async function askWhenDue(kind: JobKind, { isDue }: JobSetup): Promise<void> {
  if (isDue && !(await isDue())) return
  const sql = await database()
  const slot = new Date(Math.floor(now() / 60_000) * 60_000)
  await sql.transaction(tx => askForJob(tx, kind, { slot }))
  lookForJobs()
}

/**
 * Does what must be done before the first request, and begins with the jobs: their schedule, and running them.
 */
export async function startJobs(): Promise<void> {
  await openRounds()
  const sql = await database()
  await completeSearchTexts(sql)
  await completePeople(sql)
  await verifySignatures()
  await keepSafe()
  const { timeZone } = await settings()
  const kinds = await possibleKinds()
  for (const [kind, setup] of kinds) {
    if (!setup.times) continue
    nextRuns.set(
      kind,
      schedule(`Job ${kind} could not be asked for`, setup.times, () => askWhenDue(kind, setup), timeZone),
    )
    // What became due while nothing ran does not wait for the next time of the schedule.
    if (setup.isDue) await askWhenDue(kind, setup)
  }
  runner = new JobRunner(Object.fromEntries(kinds.map(([kind, { work }]) => [kind, work])))
  runner.start()
}

/** When the schedule asks for a kind next; null when only people do. By the application's clock. */
export function nextRunOf(kind: JobKind): JobPlan['nextAt'] {
  const next = nextRuns.get(kind)?.()
  return next ? ofMachine(next).toISOString() : null
}

/** Something was just asked for: this process looks at once. */
export const lookForJobs = (): void => runner?.look()

/** Makes a backup soon, also while none is due: `npm run backup` asks a server that runs by SIGUSR2. */
export async function askForBackup(): Promise<void> {
  const sql = await database()
  await sql.transaction(tx => askForJob(tx, 'backup'))
  lookForJobs()
}

/** Lets running jobs end, or be gone on with by another process. */
export async function stopJobs(): Promise<void> {
  await runner?.stop()
}
