import { Type, type TSchema } from '@sinclair/typebox'
import * as discrepancies from './discrepancies'
import * as desk from './desk'
import * as devices from './devices'
import * as drafts from './drafts'
import { DistrictReport } from './district-reports'
import * as definitions from './definitions'
import * as people from './people'
import type { Permission } from './permission'
import * as registers from './registers'
import * as reports from './reports'
import * as rounds from './rounds'
import * as units from './units'
import {
  CellKey,
  DayText,
  Done,
  exact,
  oneOf,
  orNull,
  RoundId,
  RoundRef,
  Sentence,
  UnitCode,
  UnitRef,
  Uuid,
} from './shared'

/** What a route needs, takes and gives. The server checks by it, the API document is made from it. */
export interface RouteContract {
  summary: string
  permission: Permission
  params?: TSchema
  query?: TSchema
  body?: TSchema
  /** The largest body that it takes, unpacked, where that is more than usual: see {@link mostBytesOf}. */
  mostBytes?: number
  /** Looks at the texts of its body by itself. */
  readsTexts?: boolean
  /** The body of a good answer; a text for one that is a file. */
  answer: TSchema | { file: string }
  /** Shows a whole branch at once: closed to those who see only what they filled themselves. */
  wholeBranch?: boolean
}

/**
 * The largest body, unpacked, of a route that says nothing else, in bytes; and of one that asks for no
 * session.
 */
const LARGEST_BODY = 1_000_000
const LARGEST_OPEN_BODY = 20_000

/** How many bytes a route takes, unpacked. */
export const mostBytesOf = ({ mostBytes, permission }: RouteContract): number =>
  mostBytes ?? (permission === 'open' ? LARGEST_OPEN_BODY : LARGEST_BODY)

const route = <T extends RouteContract>(contract: T) => contract

const round = exact({ round: RoundId })
const report = exact({ round: RoundId, unit: UnitCode })
const cell = exact({ round: RoundId, unit: UnitCode, cell: CellKey })
const byId = exact({ id: Uuid })
const ofUnit = exact({ unit: Type.Optional(UnitCode) })

/**
 * Every route of the API, by method and path. A file in `server/api` without a line here answers nothing and
 * fails a test.
 */
export const ROUTES = {
  'GET /api/health': route({
    summary: 'Is the server ready, and what is it?',
    permission: 'open',
    answer: people.Health,
  }),
  'GET /api/openapi.json': route({ summary: 'This document', permission: 'open', answer: Type.Object({}) }),
  'GET /api/setup': route({
    summary: 'Does the installation still need its first administrator?',
    permission: 'open',
    answer: people.SetupView,
  }),
  'POST /api/setup': route({
    summary: 'Make the first administrator with the one-time code',
    permission: 'open',
    body: people.FirstAdministrator,
    answer: Done,
  }),
  'POST /api/session': route({
    summary: 'Sign in',
    permission: 'open',
    body: people.SignIn,
    answer: people.SessionView,
  }),
  'GET /api/session': route({
    summary: 'Who am I? null when nobody is signed in',
    permission: 'open',
    answer: orNull(people.SessionView),
  }),
  'DELETE /api/session': route({ summary: 'Sign out here', permission: 'signedIn', answer: Done }),
  'DELETE /api/sessions': route({ summary: 'Sign out everywhere', permission: 'signedIn', answer: Done }),
  'GET /api/search': route({
    summary: 'Units, rounds and datasets by part of a name',
    permission: 'look',
    wholeBranch: true,
    query: exact({ q: Type.String({ minLength: 1, maxLength: 100 }) }),
    answer: Type.Array(people.SearchHit),
  }),
  'GET /api/today': route({
    summary: 'Open rounds and what needs somebody',
    permission: 'look',
    wholeBranch: true,
    query: ofUnit,
    answer: rounds.Today,
  }),
  'GET /api/due': route({
    summary: 'What a facility has to report',
    permission: 'fill',
    answer: rounds.DueList,
  }),
  'GET /api/datasets': route({
    summary: 'The newest edition of each dataset',
    permission: 'look',
    answer: Type.Array(rounds.DatasetView),
  }),
  'GET /api/rounds': route({
    summary: 'Rounds that have opened, newest first',
    permission: 'look',
    answer: Type.Array(RoundRef),
  }),
  'GET /api/rounds/:round/board': route({
    summary: 'A round, unit by unit',
    permission: 'look',
    wholeBranch: true,
    params: round,
    query: ofUnit,
    answer: rounds.Board,
  }),
  'POST /api/rounds/:round/accept': route({
    summary: 'Accept every sent report that has no doubt left',
    permission: 'resolve',
    params: round,
    body: ofUnit,
    answer: exact({ accepted: Type.Array(UnitRef) }),
  }),
  'POST /api/rounds/:round/undo-accept': route({
    summary: 'Take back what the person accepted a moment ago',
    permission: 'resolve',
    params: round,
    body: exact({ units: Type.Array(UnitCode, { minItems: 1, maxItems: 2000 }) }),
    answer: exact({ undone: Type.Integer() }),
  }),
  'GET /api/reports/:round/:unit': route({
    summary: 'One report with what is needed to fill and check it',
    permission: 'look',
    params: report,
    answer: reports.ReportFile,
  }),
  'POST /api/reports/:round/:unit/changes': route({
    summary: 'Changes of cells; the same change twice changes nothing more',
    permission: 'fill',
    params: report,
    body: reports.Changes,
    answer: reports.ChangesReceived,
  }),
  'POST /api/reports/:round/:unit/send': route({
    summary: 'Send a report',
    permission: 'fill',
    params: report,
    body: reports.SendReport,
    answer: reports.ReportState,
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
  'GET /api/reports/:round/:unit/cells/:cell': route({
    summary: 'History and comments of a cell',
    permission: 'look',
    params: cell,
    answer: reports.CellStory,
  }),
  'POST /api/reports/:round/:unit/cells/:cell/comments': route({
    summary: 'Comment on a cell',
    permission: 'comment',
    params: cell,
    body: exact({ text: Sentence }),
    answer: Done,
  }),
  'GET /api/drafts': route({
    summary: 'Drafts of datasets',
    permission: 'define',
    answer: Type.Array(drafts.DraftLine),
  }),
  'GET /api/drafts/:dataset': route({
    summary: 'The draft of a dataset, or its newest edition to begin one from',
    permission: 'define',
    params: drafts.OfDataset,
    answer: drafts.DraftFile,
  }),
  'PUT /api/drafts/:dataset': route({
    summary: 'Keep a draft; only on the version that it was made on',
    permission: 'define',
    params: drafts.OfDataset,
    body: drafts.DraftSave,
    answer: drafts.DraftFile,
  }),
  'POST /api/drafts/:dataset/publish': route({
    summary: 'Publish a draft as the next edition, for ever',
    permission: 'define',
    params: drafts.OfDataset,
    body: exact({
      version: Type.Integer({ minimum: 1 }),
      /** The earliest open round that gets it; null: none of them. */ from: Type.Optional(orNull(RoundId)),
    }),
    answer: exact({ number: Type.Integer() }),
  }),
  'GET /api/drafts/:dataset/editions': route({
    summary: 'The editions of a dataset, newest first',
    permission: 'look',
    params: drafts.OfDataset,
    answer: Type.Array(drafts.EditionLine),
  }),
  'GET /api/drafts/:dataset/editions/:number': route({
    summary: 'One edition as it was published',
    permission: 'look',
    params: exact({ dataset: drafts.Code, number: Type.String({ pattern: '^[0-9]{1,6}$' }) }),
    answer: Type.Object({}),
  }),
  'POST /api/drafts/:dataset/past': route({
    summary: 'Past reports as columns, for trying a rule',
    permission: 'define',
    params: drafts.OfDataset,
    body: drafts.PastAsked,
    answer: Type.Object({}),
  }),
  'GET /api/services/:dataset/:unit': route({
    summary: 'What a unit does not offer of a dataset',
    permission: 'define',
    params: exact({ dataset: drafts.Code, unit: UnitCode }),
    answer: drafts.Services,
  }),
  'PUT /api/services/:dataset/:unit': route({
    summary: 'Say what a unit does not offer from a day on',
    permission: 'define',
    params: exact({ dataset: drafts.Code, unit: UnitCode }),
    body: drafts.ServicesSave,
    answer: Done,
  }),
  'GET /api/registers': route({
    summary: 'Case registers, published or begun',
    permission: 'define',
    answer: Type.Array(registers.RegisterLine),
  }),
  'GET /api/registers/:register': route({
    summary: 'The draft of a case register, or its newest edition to begin one from',
    permission: 'define',
    params: registers.OfRegister,
    answer: registers.RegisterFile,
  }),
  'GET /api/registers/:register/editions': route({
    summary: 'The editions of a case register, newest first',
    permission: 'define',
    params: registers.OfRegister,
    answer: Type.Array(drafts.EditionLine),
  }),
  'GET /api/registers/:register/editions/:number': route({
    summary: 'One edition of a case register as it was published',
    permission: 'define',
    params: exact({ register: drafts.Code, number: Type.String({ pattern: '^[0-9]{1,6}$' }) }),
    answer: Type.Object({}),
  }),
  'PUT /api/registers/:register': route({
    summary: 'Keep the draft of a case register',
    permission: 'define',
    params: registers.OfRegister,
    body: registers.RegisterSave,
    mostBytes: 4_000_000,
    answer: registers.RegisterFile,
  }),
  'POST /api/registers/:register/publish': route({
    summary: 'Publish a case register as the next edition, for ever',
    permission: 'define',
    params: registers.OfRegister,
    body: exact({ version: Type.Integer({ minimum: 1 }) }),
    answer: exact({ number: Type.Integer() }),
  }),
  'GET /api/choice-lists': route({
    summary: 'Shared lists of choices',
    permission: 'define',
    answer: Type.Array(registers.ChoiceListFile),
  }),
  'PUT /api/choice-lists/:list': route({
    summary: 'Keep a shared list of choices',
    permission: 'define',
    params: exact({ list: drafts.Code }),
    body: registers.ChoiceListSave,
    mostBytes: 2_000_000,
    answer: Done,
  }),
  'GET /api/papers/:kind/:code': route({
    summary: 'Scanned pages of the paper that a dataset or register comes from',
    permission: 'define',
    params: definitions.OfPaper,
    answer: Type.Array(definitions.PaperLine),
  }),
  'POST /api/papers/:kind/:code': route({
    summary: 'Keep a scanned page',
    permission: 'define',
    params: definitions.OfPaper,
    body: definitions.PaperPage,
    mostBytes: definitions.LARGEST_PAGE * 1.4,
    answer: exact({ id: Uuid }),
  }),
  'GET /api/papers/:kind/:code/:id': route({
    summary: 'One scanned page',
    permission: 'define',
    params: definitions.OnePaper,
    answer: { file: 'image/*' },
  }),
  'DELETE /api/papers/:kind/:code/:id': route({
    summary: 'Take a scanned page away',
    permission: 'define',
    params: definitions.OnePaper,
    answer: Done,
  }),
  'GET /api/definitions': route({
    summary: 'Everything that is defined, as one JSON bundle',
    permission: 'define',
    answer: { file: 'application/json' },
  }),
  'POST /api/definitions/preview': route({
    summary: 'What a bundle would bring, line by line',
    permission: 'define',
    body: definitions.BundleText,
    mostBytes: definitions.LARGEST_BUNDLE,
    answer: Type.Array(definitions.BundleLine),
  }),
  'POST /api/definitions': route({
    summary: 'Take chosen parts of a bundle in, as drafts',
    permission: 'define',
    body: definitions.BundleTake,
    mostBytes: definitions.LARGEST_BUNDLE,
    answer: Type.Array(definitions.BundleLine),
  }),
  'POST /api/pairing-cards': route({
    summary: 'Make a card that pairs devices with a facility; its code is told this once',
    permission: 'manageDevices',
    body: devices.CardNew,
    answer: devices.CardMade,
  }),
  'GET /api/pairing-cards': route({
    summary: 'Pairing cards',
    permission: 'manageDevices',
    answer: Type.Array(devices.CardLine),
  }),
  'DELETE /api/pairing-cards/:id': route({
    summary: 'End a pairing card; devices that it paired stay',
    permission: 'manageDevices',
    params: byId,
    answer: Done,
  }),
  'GET /api/devices': route({
    summary: 'Paired devices, with their last contact',
    permission: 'manageDevices',
    answer: Type.Array(devices.DeviceLine),
  }),
  'POST /api/devices/:id/block': route({
    summary: 'Block a device, or let it in again',
    permission: 'manageDevices',
    params: byId,
    body: devices.Block,
    answer: Done,
  }),
  'GET /api/devices/:id/carry': route({
    summary: 'Editions, decisions and questions for a device, as one file to carry',
    permission: 'manageDevices',
    params: byId,
    query: exact({ person: Type.Optional(Uuid) }),
    answer: { file: 'text/plain' },
  }),
  'POST /api/carried': route({
    summary: 'Take in a file that was carried from a device; each change once',
    permission: 'manageDevices',
    body: desk.CarryIn,
    mostBytes: desk.LARGEST_CARRY,
    answer: desk.CarriedIn,
  }),
  'POST /api/desk/pair': route({
    summary: 'Pair this device by the code of a card',
    permission: 'open',
    body: devices.PairAsked,
    answer: devices.Paired,
  }),
  'POST /api/desk/here': route({
    summary: 'Make the browser in which a clerk is signed in a device of their unit',
    permission: 'fill',
    body: exact({ keys: devices.PairAsked.properties.keys }),
    answer: exact({ paired: devices.Paired, session: devices.DeskSession }),
  }),
  'POST /api/desk/sign-in': route({
    summary: 'Sign in at a paired device',
    permission: 'open',
    body: devices.DeskSignIn,
    answer: devices.DeskSession,
  }),
  'GET /api/desk/standing': route({
    summary: 'Is this device still let in? Answered to its token alone',
    permission: 'open',
    answer: devices.DeskStanding,
  }),
  'POST /api/desk/send': route({
    summary: 'Everything that waits on a device; the same change twice changes nothing more',
    permission: 'fill',
    body: desk.DeskSend,
    mostBytes: 2_000_000,
    readsTexts: true,
    answer: desk.DeskSent,
  }),
  'GET /api/desk/receive': route({
    summary: 'What happened since, for a device',
    permission: 'fill',
    query: desk.DeskReceive,
    answer: desk.DeskReceived,
  }),
  'PUT /api/desk/files/:hash': route({
    summary: 'A piece of a picture or sound; the same piece twice changes nothing more',
    permission: 'fill',
    params: exact({ hash: desk.FileHash }),
    body: desk.FilePiece,
    answer: desk.FileSoFar,
  }),
  'GET /api/files/:hash': route({
    summary: 'A picture or sound of a case',
    permission: 'look',
    params: exact({ hash: desk.FileHash }),
    answer: { file: 'application/octet-stream' },
  }),
  'GET /api/desk/work': route({
    summary: 'All that a facility works with, at once',
    permission: 'fill',
    answer: desk.DeskWork,
  }),
  'GET /api/desk/definitions': route({
    summary: 'What is defined, for working without a network',
    permission: 'fill',
    answer: desk.DeskDefinitions,
  }),
  'GET /api/desk/registers': route({
    summary: 'The newest editions of all case registers, for filling',
    permission: 'look',
    answer: Type.Array(desk.DeskRegister),
  }),
  'GET /api/cases': route({
    summary: 'Cases of a register in the own branch, the latest first',
    permission: 'look',
    query: exact({
      register: Type.Optional(drafts.Code),
      unit: Type.Optional(UnitCode),
      find: Type.Optional(Type.String({ minLength: 3, maxLength: 100 })),
    }),
    answer: Type.Array(desk.CaseLine),
  }),
  'GET /api/cases/:case': route({
    summary: 'One case with all its entries',
    permission: 'look',
    params: exact({ case: Uuid }),
    answer: desk.CaseFileView,
  }),
  'GET /api/people': route({
    summary: 'People of the installation',
    permission: 'managePeople',
    answer: Type.Array(people.PersonLine),
  }),
  'POST /api/people': route({
    summary: 'Make a person; answers the one-time code that lets them in',
    permission: 'managePeople',
    body: people.PersonNew,
    answer: people.OneTimeCode,
  }),
  'PUT /api/people/:id': route({
    summary: 'Change a person, or switch them off',
    permission: 'managePeople',
    params: byId,
    body: people.PersonChange,
    answer: Done,
  }),
  'POST /api/people/:id/code': route({
    summary: 'A new one-time code for a person',
    permission: 'managePeople',
    params: byId,
    answer: people.OneTimeCode,
  }),
  'POST /api/session/code': route({
    summary: 'Come in by a one-time code, and choose a password',
    permission: 'open',
    body: people.CodeSignIn,
    answer: people.SessionView,
  }),
  'GET /api/unit-groups': route({
    summary: 'Groups of units',
    permission: 'look',
    answer: Type.Array(units.UnitGroupLine),
  }),
  'PUT /api/unit-groups/:group': route({
    summary: 'Make a group, or write it anew',
    permission: 'manageUnits',
    params: exact({ group: drafts.Code }),
    body: units.UnitGroupSave,
    answer: Done,
  }),
  'PUT /api/levels': route({
    summary: 'Name the levels of the tree, and say which signs and which reports',
    permission: 'manageUnits',
    body: units.LevelsSave,
    answer: Done,
  }),
  'GET /api/places': route({
    summary: 'All units of the installation, for questions about places',
    permission: 'look',
    answer: units.UnitList,
  }),
  'GET /api/units': route({
    summary: 'The tree of organisation units on a day, today without one',
    permission: 'look',
    query: exact({ day: Type.Optional(DayText) }),
    answer: units.UnitList,
  }),
  'GET /api/units/export': route({
    summary: 'The units of a day as CSV, GeoJSON or a FHIR bundle',
    permission: 'look',
    query: exact({ format: units.UnitFormat, day: Type.Optional(DayText) }),
    answer: { file: 'application/octet-stream' },
  }),
  'GET /api/units/:unit': route({
    summary: 'One unit with all that was ever true of it',
    permission: 'look',
    params: exact({ unit: UnitCode }),
    answer: units.UnitFile,
  }),
  'POST /api/units/preview': route({
    summary: 'What rows or a file would change in the tree, line by line',
    permission: 'manageUnits',
    body: units.UnitSource,
    mostBytes: units.LARGEST_FILE,
    answer: units.UnitPreview,
  }),
  'POST /api/units/changes': route({
    summary: 'Apply what was previewed, all of it in one act',
    permission: 'manageUnits',
    body: units.UnitApply,
    mostBytes: units.LARGEST_FILE,
    answer: exact({ id: Uuid }),
  }),
  'GET /api/units/changes': route({
    summary: 'The latest changes of the tree',
    permission: 'manageUnits',
    answer: Type.Array(units.UnitChangeLine),
  }),
  'POST /api/units/changes/:id/undo': route({
    summary: 'Take a change of the tree back',
    permission: 'manageUnits',
    params: byId,
    answer: Done,
  }),
  'GET /api/discrepancies': route({
    summary: 'Discrepancies, largest effect first',
    permission: 'look',
    query: exact({ round: Type.Optional(RoundId), unit: Type.Optional(UnitCode) }),
    answer: discrepancies.DiscrepancyList,
  }),
  'GET /api/discrepancies/:id': route({
    summary: 'One discrepancy with its evidence and thread',
    permission: 'look',
    params: byId,
    answer: discrepancies.DiscrepancyFile,
  }),
  'POST /api/discrepancies/:id/ask': route({
    summary: 'Ask the facility',
    permission: 'resolve',
    params: byId,
    body: discrepancies.Ask,
    answer: Done,
  }),
  'POST /api/discrepancies/:id/answer': route({
    summary: 'Answer, with or without corrected values',
    permission: 'answer',
    params: byId,
    body: discrepancies.Answer,
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
    wholeBranch: true,
    params: round,
    query: exact({
      unit: Type.Optional(UnitCode),
      amendment: Type.Optional(Type.Integer({ minimum: 1, maximum: 10_000 })),
    }),
    answer: DistrictReport,
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
    wholeBranch: true,
    params: round,
    query: exact({ unit: Type.Optional(UnitCode), language: Type.Optional(oneOf('en', 'fr')) }),
    answer: { file: 'text/csv' },
  }),
} satisfies Record<string, RouteContract>

export type RouteName = keyof typeof ROUTES
