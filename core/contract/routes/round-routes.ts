import { Type } from '@sinclair/typebox'
import * as caseCounts from '../case-counts'
import { Code } from '../drafts'
import * as discrepancies from '../discrepancies'
import * as people from '../people'
import * as reports from '../reports'
import * as rounds from '../rounds'
import { DistrictReport, LongerReport } from '../district-reports'
import { OverTimeQuery, ReportingOverTime } from '../over-time'
import { PaperReport, ReportStory } from '../paper-report'
import { CellKey, Done, exact, oneOf, RoundId, RoundRef, Sentence, UnitCode, UnitRef, Uuid } from '../common'
import { route, type RouteContract } from './route'

const round = exact({ round: RoundId })
const report = exact({ round: RoundId, unit: UnitCode })
const cell = exact({ round: RoundId, unit: UnitCode, cell: CellKey })
const byId = exact({ id: Uuid })
const units = Type.Array(UnitCode, { minItems: 1, maxItems: 2000 })
const ofUnit = exact({ unit: Type.Optional(UnitCode) })

/** Rounds, reports, discrepancies and district reports. */
export const ROUND_ROUTES = {
  'GET /api/search': route({
    summary: 'Units, rounds and datasets by part of a name',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    query: exact({ q: Type.String({ minLength: 1, maxLength: 100 }) }),
    answer: Type.Array(people.SearchHit),
  }),
  'GET /api/today': route({
    summary: 'Open rounds and what needs somebody',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    query: ofUnit,
    answer: rounds.Today,
  }),
  'GET /api/due': route({
    summary: 'What a facility has to report',
    permission: 'fill',
    shared: 'filtered',
    answer: rounds.DueList,
  }),
  'GET /api/rounds': route({
    summary: 'Rounds that have opened, newest first',
    permission: 'look',
    shared: 'filtered',
    answer: Type.Array(RoundRef),
    machine: {},
  }),
  'GET /api/rounds/:round/board': route({
    summary: 'A round, unit by unit',
    permission: 'look',
    shared: 'round',
    wholeBranch: true,
    params: round,
    query: ofUnit,
    answer: rounds.Board,
  }),
  'GET /api/rounds/:round/case-counts': route({
    summary: 'The reports of a round against the registers that its dataset names',
    permission: 'look',
    wholeBranch: true,
    params: round,
    query: ofUnit,
    answer: caseCounts.CaseCountBoard,
  }),
  'GET /api/rounds/:round/case-counts/:count/:unit': route({
    summary: 'One count of one facility: the cells, and the cases that count and nearly do',
    permission: 'look',
    wholeBranch: true,
    params: exact({ round: RoundId, count: Code, unit: UnitCode }),
    answer: caseCounts.CaseCountFile,
  }),
  'POST /api/rounds/:round/case-counts/:count/:unit/ask': route({
    summary: 'Ask the facility about the difference between its report and its register',
    permission: 'resolve',
    params: exact({ round: RoundId, count: Code, unit: UnitCode }),
    body: discrepancies.Ask,
    answer: exact({ discrepancy: Uuid }),
  }),
  'GET /api/rounds/:round/over-time': route({
    summary: 'How the units of a branch reported a dataset in its rounds up to one',
    permission: 'look',
    shared: 'round',
    wholeBranch: true,
    params: round,
    query: OverTimeQuery,
    answer: ReportingOverTime,
  }),
  'POST /api/rounds/:round/accept': route({
    summary: 'Accept every sent report that has no doubt left, of a branch or of some units',
    permission: 'resolve',
    params: round,
    body: exact({ unit: Type.Optional(UnitCode), units: Type.Optional(units) }),
    answer: exact({ accepted: Type.Array(UnitRef) }),
  }),
  'POST /api/rounds/:round/undo-accept': route({
    summary: 'Take back what the person accepted a moment ago',
    permission: 'resolve',
    params: round,
    body: exact({ units }),
    answer: exact({ undone: Type.Integer() }),
  }),
  'POST /api/rounds/:round/send-back': route({
    summary: 'Send some reports that the district has back to their facilities',
    permission: 'resolve',
    params: round,
    body: exact({ units, why: Sentence }),
    answer: exact({ sentBack: Type.Array(UnitRef) }),
  }),
  'GET /api/reports/:round/:unit': route({
    summary: 'One report with what is needed to fill and check it',
    permission: 'look',
    shared: 'round',
    params: report,
    answer: reports.ReportFile,
    machine: { params: { round: 'monthly_summary~2026-10', unit: 'tern_row' } },
  }),
  'POST /api/reports/:round/:unit/accept': route({
    summary: 'Accept a report',
    permission: 'resolve',
    params: report,
    answer: reports.ReportState,
  }),
  'POST /api/reports/:round/:unit/send-back': route({
    summary: 'Send a report back to its facility',
    permission: 'resolve',
    params: report,
    body: exact({ why: Sentence }),
    answer: reports.ReportState,
  }),
  'POST /api/reports/:round/:unit/let-in': route({
    summary: 'Let a facility fill and send a report after its round closed',
    permission: 'resolve',
    params: report,
    body: reports.LetIn,
    answer: reports.LetInDone,
  }),
  'POST /api/reports/:round/:unit/leave-out': route({
    summary: 'Leave out what arrived after closing',
    permission: 'resolve',
    params: report,
    body: exact({ why: Sentence }),
    answer: Done,
  }),
  'GET /api/reports/:round/:unit/conflicts': route({
    summary: 'The values that several devices gave for one cell, and who put there what stands',
    permission: 'look',
    shared: 'round',
    params: report,
    answer: reports.ConflictSides,
  }),
  'POST /api/reports/:round/:unit/conflicts': route({
    summary: 'Decide between the values that several devices gave',
    permission: 'resolve',
    params: report,
    body: reports.ConflictDecisions,
    answer: Done,
  }),
  'POST /api/reports/:round/:unit/paper': route({
    summary: 'Enter a report that a facility filled on paper',
    permission: 'enterPaper',
    params: report,
    body: PaperReport,
    answer: reports.ReportState,
  }),
  'GET /api/reports/:round/:unit/story': route({
    summary: 'Who filled a report, when and on what, and what became of it',
    permission: 'look',
    shared: 'round',
    params: report,
    answer: ReportStory,
  }),
  'GET /api/reports/:round/:unit/cells/:cell': route({
    summary: 'History and comments of a cell',
    permission: 'look',
    shared: 'round',
    params: cell,
    answer: reports.CellStory,
  }),
  'POST /api/reports/:round/:unit/cells/:cell/comments': route({
    summary: 'Comment on a cell',
    permission: 'comment',
    shared: 'round',
    params: cell,
    body: exact({ text: Sentence }),
    answer: Done,
  }),
  'GET /api/discrepancies': route({
    summary: 'Discrepancies, largest effect first',
    permission: 'look',
    shared: 'filtered',
    query: discrepancies.DiscrepancyQuery,
    answer: discrepancies.DiscrepancyList,
  }),
  'GET /api/discrepancies/:id': route({
    summary: 'One discrepancy with its evidence and thread',
    permission: 'look',
    shared: 'filtered',
    params: byId,
    answer: discrepancies.DiscrepancyFile,
  }),
  'GET /api/discrepancies/:id/cases': route({
    summary: 'The cases that its rule counts, as they are now',
    permission: 'look',
    wholeBranch: true,
    params: byId,
    answer: exact({ counts: Type.Array(discrepancies.CountedCases) }),
  }),
  'POST /api/discrepancies/:id/ask': route({
    summary: 'Ask the facility',
    permission: 'resolve',
    params: byId,
    body: discrepancies.Ask,
    answer: Done,
  }),
  'POST /api/discrepancies/:id/settle': route({
    summary: 'Settle as corrected, explained or dismissed',
    permission: 'resolve',
    params: byId,
    body: discrepancies.Settle,
    answer: Done,
  }),
  'POST /api/discrepancies/:id/reopen': route({
    summary: 'Open a settled discrepancy again, with a reason',
    permission: 'resolve',
    params: byId,
    body: discrepancies.Ask,
    answer: Done,
  }),
  'GET /api/district-reports/:round': route({
    summary: 'A round rolled up for a district',
    permission: 'look',
    shared: 'round',
    wholeBranch: true,
    params: round,
    query: exact({
      unit: Type.Optional(UnitCode),
      amendment: Type.Optional(Type.Integer({ minimum: 1, maximum: 10_000 })),
    }),
    answer: DistrictReport,
    machine: { params: { round: 'monthly_summary~2026-10' }, query: { unit: 'ashmere_district' } },
  }),
  'GET /api/district-reports/:round/longer': route({
    summary: 'The items of a round from the beginning of its month, quarter and year on',
    permission: 'look',
    shared: 'round',
    wholeBranch: true,
    params: round,
    query: exact({ unit: Type.Optional(UnitCode), borders: Type.Optional(oneOf('then', 'today')) }),
    answer: LongerReport,
  }),
  'POST /api/district-reports/:round/sign': route({
    summary: 'Sign the district report: just what was shown, by its checksum',
    permission: 'sign',
    params: round,
    body: exact({ unit: Type.Optional(UnitCode), checksum: Type.String({ pattern: '^[0-9a-f]{64}$' }) }),
    answer: Done,
  }),
  'GET /api/district-reports/:round/csv': route({
    summary: 'The district report as RFC 4180 CSV',
    permission: 'look',
    shared: 'round',
    wholeBranch: true,
    params: round,
    query: exact({ unit: Type.Optional(UnitCode), language: Type.Optional(oneOf('en', 'fr')) }),
    answer: { file: ['text/csv'] },
    machine: { params: { round: 'monthly_summary~2026-10' }, query: { unit: 'ashmere_district' } },
  }),
} satisfies Record<string, RouteContract>
