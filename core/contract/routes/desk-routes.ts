import { Type } from '@sinclair/typebox'
import * as doubts from '../case-doubts'
import * as pairs from '../case-pairs'
import * as cases from '../cases'
import * as desk from '../desk'
import { DeskRegister } from '../desk-register'
import * as devices from '../devices'
import { CaseActGiven } from '../case-life'
import { PaperEntry, PaperTaken } from '../paper-entry'
import { Done, exact, Uuid } from '../common'
import { route, type RouteContract } from './route'

const byId = exact({ id: Uuid })

/** Devices, what they send and receive, and the cases that they send. */
export const DESK_ROUTES = {
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
    summary: 'The devices of the branch, the silent ones first',
    permission: 'manageDevices',
    query: devices.DeviceQuery,
    answer: devices.DeviceList,
  }),
  'GET /api/devices/:id/contacts': route({
    summary: 'When a device was heard, and what it brought',
    permission: 'manageDevices',
    params: byId,
    query: exact({
      /** The last one of the page before. */ after: Type.Optional(Type.Integer({ minimum: 1 })),
    }),
    answer: devices.DeviceContacts,
  }),

  'POST /api/devices/:id/block': route({
    summary: 'Block a device, or let it in again',
    permission: 'manageDevices',
    params: byId,
    body: devices.Block,
    answer: Done,
  }),
  'POST /api/devices/:id/hand-over': route({
    summary: 'Give a device another name, and sign out everybody who used it',
    permission: 'manageDevices',
    params: byId,
    body: devices.HandOver,
    answer: Done,
  }),
  'POST /api/devices/:id/pair-again': route({
    summary: 'Block a device, let in what waits on it, and make a card for the one in its place',
    permission: 'manageDevices',
    params: byId,
    answer: devices.CardMade,
  }),
  'GET /api/devices/:id/carry': route({
    summary: 'Editions, decisions and questions for a device, as one file to carry',
    permission: 'manageDevices',
    params: byId,
    query: exact({ person: Type.Optional(Uuid) }),
    answer: { file: ['text/plain'] },
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
    shared: 'filtered',
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
    shared: 'filtered',
    body: desk.DeskSend,
    mostBytes: 2_000_000,
    readsTexts: true,
    answer: desk.DeskSent,
  }),
  'GET /api/desk/receive': route({
    summary: 'What happened since, for a device',
    permission: 'fill',
    shared: 'filtered',
    query: desk.DeskReceive,
    answer: desk.DeskReceived,
  }),
  'PUT /api/desk/files/:hash': route({
    summary: 'A piece of a picture or sound; the same piece twice changes nothing more',
    permission: 'fill',
    shared: 'filtered',
    params: exact({ hash: desk.FileHash }),
    body: desk.FilePiece,
    answer: desk.FileSoFar,
  }),
  'GET /api/files/:hash': route({
    summary: 'A picture or sound of a case',
    permission: 'look',
    shared: 'filtered',
    params: exact({ hash: desk.FileHash }),
    answer: { file: ['image/*', 'audio/*'] },
  }),
  'GET /api/desk/work': route({
    summary: 'All that a facility works with, at once',
    permission: 'fill',
    shared: 'filtered',
    answer: desk.DeskWork,
  }),
  'GET /api/desk/definitions': route({
    summary: 'What is defined, for working without a network',
    permission: 'fill',
    shared: 'filtered',
    answer: desk.DeskDefinitions,
  }),
  'GET /api/desk/registers': route({
    summary: 'The newest editions of all case registers, for filling',
    permission: 'look',
    shared: 'filtered',
    answer: Type.Array(DeskRegister),
  }),
  'GET /api/cases': route({
    summary: 'Cases of a register in the own branch, the latest first',
    permission: 'look',
    shared: 'filtered',
    query: cases.CaseQuery,
    answer: cases.CaseList,
  }),
  'GET /api/cases/:case': route({
    summary: 'One case with all its entries',
    permission: 'look',
    shared: 'filtered',
    params: exact({ case: Uuid }),
    answer: cases.CaseFileView,
  }),
  'POST /api/cases/paper': route({
    summary: 'Enter a case form that a facility filled on paper',
    permission: 'enterPaper',
    body: PaperEntry,
    answer: PaperTaken,
  }),
  'POST /api/cases/:case/acts': route({
    summary: 'Give a case to another facility, close it, or open it again',
    permission: 'manageCases',
    shared: 'filtered',
    params: exact({ case: Uuid }),
    body: CaseActGiven,
    answer: Done,
  }),
  'GET /api/cases/:case/openings': route({
    summary: 'Who opened a case at the office',
    permission: 'seeOpenings',
    params: exact({ case: Uuid }),
    query: cases.OpeningsQuery,
    answer: cases.CaseOpenings,
  }),
  'GET /api/case-doubts': route({
    summary: 'Discrepancies about cases, what must be fixed first',
    permission: 'look',
    shared: 'filtered',
    query: doubts.CaseDoubtQuery,
    answer: doubts.CaseDoubtList,
  }),
  'GET /api/case-doubts/:id': route({
    summary: 'One discrepancy about a case, with its thread',
    permission: 'look',
    shared: 'filtered',
    params: byId,
    answer: doubts.CaseDoubtFile,
  }),
  'GET /api/case-pairs': route({
    summary: 'Cases that may be one subject, the likeliest first',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    query: pairs.PairQuery,
    answer: pairs.PairList,
  }),
  'GET /api/case-pairs/:id': route({
    summary: 'Two cases that may be one subject, with both files',
    permission: 'look',
    shared: 'filtered',
    wholeBranch: true,
    params: byId,
    answer: pairs.PairFile,
  }),
  'POST /api/case-pairs/:id/merge': route({
    summary: 'Make one of two cases a part of the other',
    permission: 'resolve',
    params: byId,
    body: pairs.PairMerge,
    answer: Done,
  }),
  'POST /api/case-pairs/:id/apart': route({
    summary: 'Say that two cases are two subjects',
    permission: 'resolve',
    params: byId,
    body: pairs.PairApart,
    answer: Done,
  }),
  'POST /api/case-pairs/:id/undo': route({
    summary: 'Take back what was decided about two cases',
    permission: 'resolve',
    params: byId,
    answer: Done,
  }),
} satisfies Record<string, RouteContract>
