import { Type } from '@sinclair/typebox'
import { exact, Uuid } from '../common'
import * as jobs from '../jobs'
import { route, type RouteContract } from './route'

/** Long work, and what the installation does by itself. */
export const JOB_ROUTES = {
  'GET /api/metrics': route({
    summary:
      'What to watch, in the text format of Prometheus: with the token of a program that sees everything',
    permission: 'look',
    wholeBranch: true,
    answer: { file: ['text/plain'] },
    machine: {},
  }),
  'GET /api/jobs': route({
    summary: 'Jobs, the newest first',
    permission: 'operate',
    query: jobs.JobQuery,
    answer: jobs.JobList,
  }),
  'GET /api/jobs/plan': route({
    summary: 'What the installation does by itself: when next, and how it went last',
    permission: 'operate',
    answer: Type.Array(jobs.JobPlan),
  }),
  'POST /api/jobs': route({
    summary: 'Ask for a job now; one of the kind that already waits is answered instead',
    permission: 'operate',
    body: jobs.JobNew,
    answer: jobs.JobLine,
  }),
  'POST /api/jobs/:id/stop': route({
    summary: 'Stop a job: one that waits at once, one that runs after its present part',
    permission: 'operate',
    params: exact({ id: Uuid }),
    answer: jobs.JobLine,
  }),
} satisfies Record<string, RouteContract>
