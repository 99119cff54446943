import { Type, type TSchema } from '@sinclair/typebox'
import * as discrepancies from './discrepancies'
import * as drafts from './drafts'
import { DistrictReport } from './district-reports'
import * as people from './people'
import type { Permission } from './permission'
import * as reports from './reports'
import * as rounds from './rounds'
import * as units from './units'
import { CellKey, DayText, Done, exact, oneOf, orNull, RoundId, RoundRef, Sentence, UnitCode, Uuid } from './shared'

/** What a route needs, takes and gives. The server checks by it, the API document is made from it. */
export interface RouteContract {
  summary: string
  permission: Permission
  params?: TSchema
  query?: TSchema
  body?: TSchema
  /** The largest body that it takes, where that is more than a report could need. */
  mostBytes?: number
  /** The body of a good answer; a text for one that is a file. */
  answer: TSchema | { file: string }
}

const route = <T extends RouteContract>(contract: T) => contract

const round = exact({ round: RoundId })
const report = exact({ round: RoundId, unit: UnitCode })
const cell = exact({ round: RoundId, unit: UnitCode, cell: CellKey })
const byId = exact({ id: Uuid })
const ofUnit = exact({ unit: Type.Optional(UnitCode) })

/** Every route of the API, by method and path. A file in `server/api` without a line here answers nothing and fails a test. */
export const ROUTES = {
  'GET /api/health': route({ summary: 'Is the server ready, and what is it?', permission: 'open', answer: people.Health }),
  'GET /api/openapi.json': route({ summary: 'This document', permission: 'open', answer: Type.Object({}) }),
  'GET /api/setup': route({ summary: 'Does the installation still need its first administrator?', permission: 'open', answer: people.SetupView }),
  'POST /api/setup': route({ summary: 'Make the first administrator with the one-time code', permission: 'open', body: people.FirstAdministrator, answer: Done }),
  'POST /api/session': route({ summary: 'Sign in', permission: 'open', body: people.SignIn, answer: people.SessionView }),
  'GET /api/session': route({ summary: 'Who am I? null when nobody is signed in', permission: 'open', answer: orNull(people.SessionView) }),
  'DELETE /api/session': route({ summary: 'Sign out here', permission: 'signedIn', answer: Done }),
  'DELETE /api/sessions': route({ summary: 'Sign out everywhere', permission: 'signedIn', answer: Done }),
  'GET /api/search': route({ summary: 'Units, rounds and datasets by part of a name', permission: 'look', query: exact({ q: Type.String({ minLength: 1, maxLength: 100 }) }), answer: Type.Array(people.SearchHit) }),
  'GET /api/today': route({ summary: 'Open rounds and what needs somebody', permission: 'look', query: ofUnit, answer: rounds.Today }),
  'GET /api/due': route({ summary: 'What a facility has to report', permission: 'fill', answer: rounds.DueList }),
  'GET /api/datasets': route({ summary: 'The newest edition of each dataset', permission: 'look', answer: Type.Array(rounds.DatasetView) }),
  'GET /api/rounds': route({ summary: 'Rounds that have opened, newest first', permission: 'look', answer: Type.Array(RoundRef) }),
  'GET /api/rounds/:round/board': route({ summary: 'A round, unit by unit', permission: 'look', params: round, query: ofUnit, answer: rounds.Board }),
  'POST /api/rounds/:round/accept': route({ summary: 'Accept every sent report that has no doubt left', permission: 'resolve', params: round, body: ofUnit, answer: exact({ accepted: Type.Integer() }) }),
  'GET /api/reports/:round/:unit': route({ summary: 'One report with what is needed to fill and check it', permission: 'look', params: report, answer: reports.ReportFile }),
  'POST /api/reports/:round/:unit/changes': route({ summary: 'Changes of cells; the same change twice changes nothing more', permission: 'fill', params: report, body: reports.Changes, answer: reports.ChangesReceived }),
  'POST /api/reports/:round/:unit/send': route({ summary: 'Send a report', permission: 'fill', params: report, body: reports.SendReport, answer: reports.ReportState }),
  'POST /api/reports/:round/:unit/accept': route({ summary: 'Accept a report', permission: 'resolve', params: report, answer: reports.ReportState }),
  'POST /api/reports/:round/:unit/send-back': route({ summary: 'Send a report back to its facility', permission: 'resolve', params: report, body: exact({ why: Sentence }), answer: reports.ReportState }),
  'GET /api/reports/:round/:unit/cells/:cell': route({ summary: 'History and comments of a cell', permission: 'look', params: cell, answer: reports.CellStory }),
  'POST /api/reports/:round/:unit/cells/:cell/comments': route({ summary: 'Comment on a cell', permission: 'comment', params: cell, body: exact({ text: Sentence }), answer: Done }),
  'GET /api/drafts': route({ summary: 'Drafts of datasets', permission: 'define', answer: Type.Array(drafts.DraftLine) }),
  'GET /api/drafts/:dataset': route({ summary: 'The draft of a dataset, or its newest edition to begin one from', permission: 'define', params: drafts.OfDataset, answer: drafts.DraftFile }),
  'PUT /api/drafts/:dataset': route({ summary: 'Keep a draft; only on the version that it was made on', permission: 'define', params: drafts.OfDataset, body: drafts.DraftSave, answer: drafts.DraftFile }),
  'POST /api/drafts/:dataset/publish': route({ summary: 'Publish a draft as the next edition, for ever', permission: 'define', params: drafts.OfDataset, body: exact({ version: Type.Integer({ minimum: 1 }) }), answer: exact({ number: Type.Integer() }) }),
  'GET /api/units': route({ summary: 'The tree of organisation units on a day, today without one', permission: 'look', query: exact({ day: Type.Optional(DayText) }), answer: units.UnitList }),
  'GET /api/units/export': route({ summary: 'The units of a day as CSV, GeoJSON or a FHIR bundle', permission: 'look', query: exact({ format: units.UnitFormat, day: Type.Optional(DayText) }), answer: { file: 'application/octet-stream' } }),
  'GET /api/units/:unit': route({ summary: 'One unit with all that was ever true of it', permission: 'look', params: exact({ unit: UnitCode }), answer: units.UnitFile }),
  'POST /api/units/preview': route({ summary: 'What rows or a file would change in the tree, line by line', permission: 'manageUnits', body: units.UnitSource, mostBytes: units.LARGEST_FILE, answer: units.UnitPreview }),
  'POST /api/units/changes': route({ summary: 'Apply what was previewed, all of it in one act', permission: 'manageUnits', body: units.UnitApply, mostBytes: units.LARGEST_FILE, answer: exact({ id: Uuid }) }),
  'GET /api/units/changes': route({ summary: 'The latest changes of the tree', permission: 'manageUnits', answer: Type.Array(units.UnitChangeLine) }),
  'POST /api/units/changes/:id/undo': route({ summary: 'Take a change of the tree back', permission: 'manageUnits', params: byId, answer: Done }),
  'GET /api/discrepancies': route({ summary: 'Discrepancies, largest effect first', permission: 'look', query: exact({ round: Type.Optional(RoundId), unit: Type.Optional(UnitCode) }), answer: discrepancies.DiscrepancyList }),
  'GET /api/discrepancies/:id': route({ summary: 'One discrepancy with its evidence and thread', permission: 'look', params: byId, answer: discrepancies.DiscrepancyFile }),
  'POST /api/discrepancies/:id/ask': route({ summary: 'Ask the facility', permission: 'resolve', params: byId, body: discrepancies.Ask, answer: Done }),
  'POST /api/discrepancies/:id/answer': route({ summary: 'Answer, with or without corrected values', permission: 'answer', params: byId, body: discrepancies.Answer, answer: Done }),
  'POST /api/discrepancies/:id/settle': route({ summary: 'Settle as corrected, explained or dismissed', permission: 'resolve', params: byId, body: discrepancies.Settle, answer: Done }),
  'GET /api/district-reports/:round': route({ summary: 'A round rolled up for a district', permission: 'look', params: round, query: ofUnit, answer: DistrictReport }),
  'POST /api/district-reports/:round/sign': route({ summary: 'Sign the district report', permission: 'sign', params: round, body: ofUnit, answer: Done }),
  'GET /api/district-reports/:round/csv': route({ summary: 'The district report as RFC 4180 CSV', permission: 'look', params: round, query: exact({ unit: Type.Optional(UnitCode), language: Type.Optional(oneOf('en', 'fr')) }), answer: { file: 'text/csv' } }),
} satisfies Record<string, RouteContract>

export type RouteName = keyof typeof ROUTES
