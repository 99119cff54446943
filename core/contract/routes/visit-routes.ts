import { Done, exact, RoundId, UnitCode, Uuid } from '../common'
import * as visits from '../visits'
import { route, type RouteContract } from './route'

const byId = exact({ id: Uuid })
const report = exact({ round: RoundId, unit: UnitCode })
const visit = { permission: 'visit', wholeBranch: true } as const

/** Visits to facilities, and what was counted again there. */
export const VISIT_ROUTES = {
  'GET /api/visit-proposals': route({
    summary: 'The facilities that a visit would help, with why',
    ...visit,
    query: visits.VisitProposalQuery,
    answer: visits.VisitProposals,
  }),
  'GET /api/visits': route({
    summary: 'Visits that are planned, were made, or were dropped',
    ...visit,
    query: visits.VisitQuery,
    answer: visits.VisitList,
  }),
  'POST /api/visits': route({
    summary: 'Plan a visit to a facility',
    ...visit,
    body: visits.VisitNew,
    answer: Done,
  }),
  'POST /api/visits/:id/move': route({
    summary: 'Say that a visit was made, drop it, or plan it again',
    ...visit,
    params: byId,
    body: visits.VisitMove,
    answer: Done,
  }),
  'GET /api/facilities/:unit/recounts': route({
    summary: 'The reports of a facility that can be counted again',
    ...visit,
    params: exact({ unit: UnitCode }),
    answer: visits.RecountChoices,
  }),
  'GET /api/reports/:round/:unit/recount': route({
    summary: 'What is needed to count a report again, and what was counted',
    ...visit,
    params: report,
    answer: visits.RecountSheet,
  }),
  'POST /api/reports/:round/:unit/recount': route({
    summary: 'Save what was counted again of a report',
    ...visit,
    params: report,
    body: visits.RecountNew,
    answer: Done,
  }),
  'POST /api/recounts/:id/withdraw': route({
    summary: 'Withdraw a recount that was a mistake',
    ...visit,
    params: byId,
    answer: Done,
  }),
  'GET /api/verification': route({
    summary: 'Recounted against reported in a quarter, by facility and item',
    ...visit,
    query: visits.VerificationQuery,
    answer: visits.Verification,
  }),
} satisfies Record<string, RouteContract>
