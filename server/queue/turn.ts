import type { JobResult } from '#core/contract/jobs'

/** What a job may use while it runs. */
export interface JobTurn {
  /** Is aborted when the job must end soon. Work asks `signal.throwIfAborted()` between two parts. */
  signal: AbortSignal
  /** Tells people how far it is. */
  progress: (done: number, total?: number) => void
}

/**
 * The work of one kind of job. It may be ended anywhere and begun again, also while a turn that was taken for
 * dead still runs: what it does twice must be as if done once.
 */
export type JobWork = (turn: JobTurn) => Promise<JobResult>

/** A turn that nobody watches or stops: for work that is called without the queue. */
export const UNWATCHED: JobTurn = { signal: new AbortController().signal, progress: () => undefined }
