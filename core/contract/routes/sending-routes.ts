import * as sending from '../sending'
import { exact, Uuid, Done, RoundId } from '../common'
import { route, type RouteContract } from './route'

const ofRecipient = exact({ id: Uuid })

/** Signed district reports on their way to other systems. */
export const SENDING_ROUTES = {
  'GET /api/recipients': route({
    summary: 'Other systems that get signed reports',
    permission: 'operate',
    answer: sending.RecipientList,
  }),
  'POST /api/recipients': route({
    summary: 'Add a recipient of signed reports',
    permission: 'operate',
    body: sending.RecipientNew,
    answer: sending.RecipientLine,
  }),
  'PUT /api/recipients/:id': route({
    summary: 'Change the name, format, address or key of a recipient',
    permission: 'operate',
    params: ofRecipient,
    body: sending.RecipientChange,
    answer: sending.RecipientLine,
  }),
  'POST /api/recipients/:id/end': route({
    summary: 'Send nothing more to a recipient',
    permission: 'operate',
    params: ofRecipient,
    answer: Done,
  }),
  'GET /api/recipients/:id/codes': route({
    summary: 'Our codes of a dataset with those of a recipient, and which are missing',
    permission: 'operate',
    params: ofRecipient,
    query: sending.CodeQuery,
    answer: sending.CodePage,
  }),
  'POST /api/recipients/:id/codes': route({
    summary: 'Say which codes a recipient has, or what is left out',
    permission: 'operate',
    params: ofRecipient,
    body: sending.CodesGiven,
    answer: sending.CodesTaken,
  }),
  'POST /api/recipients/:id/codes/pasted': route({
    summary: 'Take codes from pasted lines: our code or name, then theirs',
    permission: 'operate',
    params: ofRecipient,
    body: sending.CodesPasted,
    answer: sending.CodesTaken,
  }),
  'POST /api/recipients/:id/codes/ours': route({
    summary: 'Use our own codes wherever a recipient has none',
    permission: 'operate',
    params: ofRecipient,
    body: exact({ dataset: sending.CodesGiven.properties.dataset }),
    answer: sending.CodesTaken,
  }),
  'GET /api/district-reports/:round/sendings': route({
    summary: 'What became of a signed report at each recipient',
    permission: 'look',
    wholeBranch: true,
    params: exact({ round: RoundId }),
    query: sending.SendQuery,
    answer: sending.SendingsOfReport,
    shared: 'round',
  }),
  'POST /api/district-reports/:round/sendings': route({
    summary: 'Send a signed report on, or what was refused of it under other codes',
    permission: 'sign',
    params: exact({ round: RoundId }),
    body: sending.SendNew,
    answer: Done,
  }),
  'POST /api/sendings/:id/again': route({
    summary: 'Try again what failed or was stopped',
    permission: 'sign',
    params: exact({ id: Uuid }),
    answer: Done,
  }),
  'POST /api/sendings/:id/stop': route({
    summary: 'Stop what waits to be sent on',
    permission: 'sign',
    params: exact({ id: Uuid }),
    answer: Done,
  }),
  'GET /api/sendings/:id/document': route({
    summary: 'The file as it went out',
    permission: 'extract',
    wholeBranch: true,
    params: exact({ id: Uuid }),
    answer: { file: ['application/*', 'text/*'] },
  }),
} satisfies Record<string, RouteContract>
