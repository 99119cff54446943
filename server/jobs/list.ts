import type { JobKind, JobLine, JobList, JobPlan, JobQuery } from '#core/contract/jobs'
import { mustHoldAll, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { askForJob } from '../queue/job-table'
import { conflict, notFound } from '../refusal'
import { possibleKinds } from './kinds'
import { lookForJobs, nextRunOf } from './start'

/** How many a page has. */
const PAGE = 50

const SELECT = `SELECT j.id, j.kind, j.state, p.display_name AS "askedBy", j.asked_at AS "askedAt", j.started_at AS "startedAt", j.ended_at AS "endedAt",
  j.done, j.total, j.state = 'running' AND j.stop_asked_at IS NOT NULL AS stopping, j.tries, j.result, j.problem
  FROM job j LEFT JOIN person p ON p.id = j.asked_by`

const FILTERS: Record<NonNullable<JobQuery['filter']>, string> = {
  unended: `j.state IN ('waiting', 'running')`,
  asked: 'j.asked_by IS NOT NULL',
  failed: `j.state = 'failed'`,
}

/** A page of jobs, the newest first. */
export async function listJobs(access: Access, { filter, after }: JobQuery): Promise<JobList> {
  mustHoldAll(access)
  const sql = await database()
  const lines = await sql.query<JobLine>(
    `${SELECT} WHERE ${filter ? FILTERS[filter] : 'true'}
       AND ($1::uuid IS NULL OR (j.asked_at, j.id) < (SELECT asked_at, id FROM job WHERE id = $1))
     ORDER BY j.asked_at DESC, j.id DESC LIMIT ${PAGE + 1}`,
    [after ?? null],
  )
  return { lines: lines.slice(0, PAGE), more: lines.length > PAGE }
}

/** What the installation does by itself, and how it went last. */
export async function jobPlan(access: Access): Promise<JobPlan[]> {
  mustHoldAll(access)
  const sql = await database()
  const setups = await possibleKinds()
  const last = await sql.query<JobLine>(
    `SELECT l.* FROM unnest($1::text[]) AS k (kind)
     CROSS JOIN LATERAL (${SELECT} WHERE j.kind = k.kind ORDER BY j.asked_at DESC, j.id DESC LIMIT 1) l`,
    [setups.map(([kind]) => kind)],
  )
  const lastOf = new Map(last.map(job => [job.kind, job]))
  return setups.map(([kind, { isDue }]) => ({
    kind,
    nextAt: nextRunOf(kind),
    ifDue: isDue !== undefined,
    last: lastOf.get(kind) ?? null,
  }))
}

async function jobById(sql: Pick<Sql, 'query'>, id: string): Promise<JobLine> {
  const [job] = await sql.query<JobLine>(`${SELECT} WHERE j.id = $1`, [id])
  if (!job) throw notFound('job')
  return job
}

/** Asks for a job now. @throws Refusal 409 `job-not-here` when this installation has no such work */
export async function askByHand(access: Access, kind: JobKind): Promise<JobLine> {
  mustHoldAll(access)
  if (!(await possibleKinds()).some(([possible]) => possible === kind))
    throw conflict('job-not-here', 'This installation does not do that: its database server does.')
  const sql = await database()
  const job = await sql.transaction(async tx => jobById(tx, await askForJob(tx, kind, { person: access.id })))
  lookForJobs()
  return job
}

/**
 * Stops a job: one that waits at once, one that runs when it has done its present part. A second time changes
 * nothing.
 * @throws Refusal 404, 409 `job-ended`
 */
export async function stopJob(access: Access, id: string): Promise<JobLine> {
  mustHoldAll(access)
  const sql = await database()
  const [stopped] = await sql.query(
    `UPDATE job SET stop_asked_at = coalesce(stop_asked_at, $2), ended_at = CASE WHEN state = 'waiting' THEN $2 ELSE ended_at END,
       state = CASE WHEN state = 'waiting' THEN 'stopped' ELSE state END
     WHERE id = $1 AND (state IN ('waiting', 'running') OR stop_asked_at IS NOT NULL) RETURNING id`,
    [id, nowText()],
  )
  const job = await jobById(sql, id)
  if (!stopped) throw conflict('job-ended', 'This job has ended already.')
  return job
}
