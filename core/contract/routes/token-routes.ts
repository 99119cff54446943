import { Type } from '@sinclair/typebox'
import * as tokens from '../tokens'
import { Done, exact, Uuid } from '../common'
import { route, type RouteContract } from './route'

/** Tokens for programs of other systems, and what is there for these alone. */
export const TOKEN_ROUTES = {
  'GET /api/tokens': route({
    summary: 'The tokens of the branch, the newest first',
    permission: 'managePeople',
    query: exact({ after: Type.Optional(Uuid) }),
    answer: tokens.TokenList,
  }),
  'POST /api/tokens': route({
    summary: 'Make a token; answers it, this once',
    permission: 'managePeople',
    body: tokens.TokenNew,
    answer: tokens.TokenMade,
  }),
  'POST /api/tokens/:id/end': route({
    summary: 'End a token before its time',
    permission: 'managePeople',
    params: exact({ id: Uuid }),
    answer: Done,
  }),
  'GET /api/records/reports': route({
    summary: 'Reports that the district has, with their cells, page by page',
    permission: 'extract',
    wholeBranch: true,
    query: tokens.ReportRecordsQuery,
    answer: tokens.ReportRecords,
    machine: { query: { dataset: 'monthly_summary', from: '2026-10-01', to: '2026-10-31' } },
  }),
  'GET /api/records/cases': route({
    summary: 'Cases as they stand, page by page; personal answers only for who may take them out',
    permission: 'extract',
    wholeBranch: true,
    query: tokens.CaseRecordsQuery,
    answer: tokens.CaseRecords,
    machine: { query: { register: 'measles_cases' } },
  }),
  'GET /api/changes': route({
    summary:
      'What changed since a place in the list of changes: ask for the place first, read all, then follow',
    permission: 'extract',
    wholeBranch: true,
    query: tokens.ChangesQuery,
    answer: tokens.ChangeFeed,
    machine: { query: { after: '0' } },
  }),
} satisfies Record<string, RouteContract>
