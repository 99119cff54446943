import { randomUUID } from 'node:crypto'
import type { JobKind } from '#core/contract/jobs'
import { database } from '../database'
import { asJob } from '../give-way'
import { log, logError } from '../log'
import { endTurn, keepJob, LEASE_SECONDS, takeJob, type TakenJob, type TurnEnd } from './job-table'
import type { JobWork } from './turn'

/** How often a process looks for a job, and says that it is alive, in milliseconds. */
const LOOK_MS = 2_000
/** So many jobs at once in one process: a long one does not keep the short ones waiting. */
const AT_ONCE = 2
/** How long a stop of the process waits for jobs to end. */
const STOP_MS = 5_000

/** Why a turn is aborted. */
class Stopped extends Error {}
class Interrupted extends Error {}
/** Another process has the job, or somebody changed its row: nothing more is written of this turn. */
class NoLongerOurs extends Error {}

/** Says of a running job that it is alive, until it ends. Aborts it when it is to stop, or is lost. */
function keepAlive(job: TakenJob, runner: string, abort: AbortController, at: () => Progress) {
  let saidAt = performance.now()
  const timer = setInterval(() => {
    keepJob(job.id, runner, at())
      .then(kept => {
        if (!kept) return abort.abort(new NoLongerOurs())
        saidAt = performance.now()
        if (kept.isStopAsked) abort.abort(new Stopped())
      })
      .catch((error: unknown) => {
        logError(`Job ${job.kind} could not say that it is alive`, error)
        if (performance.now() - saidAt > LEASE_SECONDS * 1000) abort.abort(new NoLongerOurs())
      })
  }, LOOK_MS)
  return () => clearInterval(timer)
}

interface Progress {
  done: number
  total: number | null
}

/** Runs a job to the end of its turn, and writes how it ended. */
async function runJob(job: TakenJob, runner: string, work: JobWork, abort: AbortController): Promise<void> {
  const at: Progress = { done: 0, total: null }
  const release = keepAlive(job, runner, abort, () => at)
  const { signal } = abort
  const progress = (done: number, total = at.total) => Object.assign(at, { done, total })
  let turn: TurnEnd
  try {
    turn = { end: 'done', result: await asJob(() => work({ signal, progress })), ...at }
  } catch (error) {
    if (signal.reason instanceof NoLongerOurs) {
      log(`Job ${job.kind} ${job.id} is no longer this process's.`)
      return
    }
    if (error === signal.reason) turn = { end: error instanceof Stopped ? 'stopped' : 'interrupted' }
    else {
      logError(`Job ${job.kind} failed`, error)
      turn = { end: 'failed', problem: error instanceof Error ? error.message : String(error) }
    }
  } finally {
    release()
  }
  await endTurn(job.id, runner, turn)
}

/** Takes jobs from the queue and runs them, while the process runs. */
export class JobRunner {
  private readonly id = randomUUID()
  private readonly running = new Map<Promise<void>, AbortController>()
  private timer: ReturnType<typeof setInterval> | undefined
  private looking: Promise<void> | undefined
  private isToLookAgain = false
  /** The queue could not be read, and that was said: a database that is away is not mentioned every two seconds. */
  private isSaid = false

  /** @param works what each kind does; kinds without work are left to other processes */
  constructor(private readonly works: Readonly<Partial<Record<JobKind, JobWork>>>) {}

  start(): void {
    this.timer = setInterval(() => this.look(), LOOK_MS).unref()
    this.look()
  }

  /** Looks for jobs at once: something was just asked for. */
  look(): void {
    this.isToLookAgain = true
    this.looking ??= this.takeAll()
      .then(() => {
        this.isSaid = false
      })
      .catch((error: unknown) => {
        if (!this.isSaid) logError('The queue of jobs could not be read', error)
        this.isSaid = true
      })
      .finally(() => {
        this.looking = undefined
        if (this.isToLookAgain) this.look()
      })
  }

  private async takeAll(): Promise<void> {
    this.isToLookAgain = false
    // After the stop the database is closed: it must not be opened again.
    while (this.timer && this.running.size < AT_ONCE) {
      const sql = await database()
      const job = await takeJob(sql, this.id, Object.keys(this.works) as JobKind[])
      if (!job) return
      const abort = new AbortController()
      const turn: Promise<void> = runJob(job, this.id, this.works[job.kind]!, abort)
        .catch((error: unknown) => logError(`The end of job ${job.kind} could not be written`, error))
        .finally(() => {
          this.running.delete(turn)
          this.look()
        })
      this.running.set(turn, abort)
    }
  }

  /** Takes no more jobs, and lets those that run be gone on with elsewhere. */
  async stop(): Promise<void> {
    clearInterval(this.timer)
    this.timer = undefined
    await this.looking
    for (const abort of this.running.values()) abort.abort(new Interrupted())
    await Promise.race([
      Promise.all(this.running.keys()),
      new Promise(resolve => {
        setTimeout(resolve, STOP_MS).unref()
      }),
    ])
  }
}
