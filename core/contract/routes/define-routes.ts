import { Type } from '@sinclair/typebox'
import * as drafts from '../drafts'
import * as definitions from '../definitions'
import * as registers from '../registers'
import * as rounds from '../rounds'
import { Done, exact, orNull, RoundId, UnitCode, Uuid } from '../common'
import { route, type RouteContract } from './route'

/** Definitions: datasets, registers, lists, papers, and bundles of them. */
export const DEFINE_ROUTES = {
  'GET /api/datasets': route({
    summary: 'The newest edition of each dataset',
    permission: 'look',
    shared: 'filtered',
    answer: Type.Array(rounds.DatasetView),
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
  'POST /api/registers/:register/try-rule': route({
    summary: 'Try a rule of a draft on the cases of the branch, a piece at a time',
    permission: 'define',
    wholeBranch: true,
    params: registers.OfRegister,
    body: registers.RegisterTry,
    answer: registers.RegisterTried,
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
    answer: { file: ['image/*'] },
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
    answer: { file: ['application/json'] },
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
} satisfies Record<string, RouteContract>
