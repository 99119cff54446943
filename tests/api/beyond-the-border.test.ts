import { beforeAll, describe, expect, inject, it } from 'vitest'
import { ROUTES, type RouteName } from '#core/contract/routes'
import { cardFor, Client, OCTOBER } from '../support/client'
import { EXTRACT, paperReport, PNG, recountOf } from '../support/samples'
import { draftsOf, makeThings, type Insiders, type Things } from '../support/things'

/**
 * Every route that names a thing, tried with one that exists in another district: a 404 would prove nothing.
 * Each is tried from inside as well, so that the refusal is that of the border.
 */
const address = inject('address')
const THEIRS = draftsOf('theirs')

let there: Things
/** Who stands outside, and who inside, of Tolben Vale. */
let outside: Insiders
let inside: Insiders

beforeAll(async () => {
  ;({ things: there, people: inside } = await makeThings(
    address,
    'tolben_vale_district',
    'officer.tolben_vale',
    'theirs',
  ))
  ;({ people: outside } = await makeThings(address, 'ashmere_district', 'officer.ashmere', 'ours'))
})

const report = () => `/api/reports/${OCTOBER}/${there.unit}`
const doubt = () => `/api/discrepancies/${there.discrepancy}`
type Trial = [who: 'officer' | 'clerk' | 'admin', path: () => string, body?: unknown]

/** The routes that name a thing of a branch. What destroys something comes last. */
const TRIALS: Partial<Record<RouteName, Trial>> = {
  'GET /api/reports/:round/:unit': ['officer', report],
  'POST /api/reports/:round/:unit/accept': ['officer', () => `${report()}/accept`],
  'POST /api/reports/:round/:unit/send-back': ['officer', () => `${report()}/send-back`, { why: 'a trial' }],
  'POST /api/reports/:round/:unit/let-in': [
    'officer',
    () => `${report()}/let-in`,
    { day: '2026-11-12', why: 'a trial' },
  ],
  'POST /api/reports/:round/:unit/leave-out': ['officer', () => `${report()}/leave-out`, { why: 'a trial' }],
  'POST /api/reports/:round/:unit/paper': ['officer', () => `${report()}/paper`, paperReport()],
  'GET /api/report-files/:id': ['officer', () => `/api/report-files/${there.reportFile}`],
  'POST /api/report-files/:id/apply': [
    'officer',
    () => `/api/report-files/${there.reportFile}/apply`,
    { why: 'a trial' },
  ],
  'POST /api/report-files/:id/undo': ['officer', () => `/api/report-files/${there.reportFile}/undo`],
  'POST /api/report-files/:id/stop': ['officer', () => `/api/report-files/${there.reportFile}/stop`],
  'GET /api/extracts/:id': ['officer', () => `/api/extracts/${there.extract}`],
  'PUT /api/extracts/:id': [
    'officer',
    () => `/api/extracts/${there.extract}`,
    { name: 'Taken over', definition: EXTRACT, shared: true, repeats: null, onlyNew: false, version: 1 },
  ],
  'GET /api/extract-files/:id': ['officer', () => `/api/extract-files/${there.extractFile}`],
  'GET /api/extract-files/:id/content': ['officer', () => `/api/extract-files/${there.extractFile}/content`],
  'POST /api/extract-files/:id/stop': ['officer', () => `/api/extract-files/${there.extractFile}/stop`],
  'DELETE /api/extracts/:id': ['officer', () => `/api/extracts/${there.extract}`],
  'GET /api/sendings/:id/document': ['officer', () => `/api/sendings/${there.sending}/document`],
  'POST /api/sendings/:id/stop': ['officer', () => `/api/sendings/${there.sending}/stop`],
  'POST /api/sendings/:id/again': ['officer', () => `/api/sendings/${there.sending}/again`],
  'POST /api/tokens/:id/end': ['admin', () => `/api/tokens/${there.token}/end`],
  'POST /api/visits/:id/move': [
    'officer',
    () => `/api/visits/${there.visit}/move`,
    { to: 'dropped', text: 'a trial' },
  ],
  'GET /api/facilities/:unit/recounts': ['officer', () => `/api/facilities/${there.unit}/recounts`],
  'GET /api/reports/:round/:unit/recount': ['officer', () => `${report()}/recount`],
  'POST /api/reports/:round/:unit/recount': ['officer', () => `${report()}/recount`, recountOf()],
  'POST /api/recounts/:id/withdraw': ['officer', () => `/api/recounts/${there.recount}/withdraw`],
  'GET /api/reports/:round/:unit/conflicts': ['officer', () => `${report()}/conflicts`],
  'POST /api/reports/:round/:unit/conflicts': [
    'officer',
    () => `${report()}/conflicts`,
    {
      decisions: [
        {
          ...{ cell: 'live_births.girls', base: 0, content: { kind: 'blank' } },
          seen: ['0189f7a0-0000-7000-8000-000000000000'],
        },
      ],
    },
  ],
  'GET /api/reports/:round/:unit/story': ['officer', () => `${report()}/story`],
  'GET /api/reports/:round/:unit/cells/:cell': ['officer', () => `${report()}/cells/days_open`],
  'POST /api/reports/:round/:unit/cells/:cell/comments': [
    'officer',
    () => `${report()}/cells/days_open/comments`,
    { text: 'a trial' },
  ],
  'GET /api/discrepancies/:id': ['officer', doubt],
  'GET /api/discrepancies/:id/cases': ['officer', () => `${doubt()}/cases`],
  'POST /api/discrepancies/:id/ask': ['officer', () => `${doubt()}/ask`, { text: 'a trial' }],
  'POST /api/discrepancies/:id/settle': [
    'officer',
    () => `${doubt()}/settle`,
    { outcome: 'explained', text: 'a trial', corrections: [] },
  ],
  'POST /api/discrepancies/:id/reopen': ['officer', () => `${doubt()}/reopen`, { text: 'a trial' }],
  'GET /api/services/:dataset/:unit': ['officer', () => `/api/services/monthly_summary/${there.unit}`],
  'PUT /api/services/:dataset/:unit': [
    'officer',
    () => `/api/services/theirs/${there.unit}`,
    { from: '2026-11-01', items: [] },
  ],
  'PUT /api/units/:unit/outline': ['admin', () => `/api/units/${there.unit}/outline`, { geometry: null }],
  'GET /api/facilities/:unit': ['officer', () => `/api/facilities/${there.unit}`],
  'POST /api/facilities/:unit/contacts': [
    'officer',
    () => `/api/facilities/${there.unit}/contacts`,
    { name: 'Made up', phone: '+999 41 20 30 18', language: 'en', nudges: true },
  ],
  'DELETE /api/facilities/:unit/contacts/:id': [
    'officer',
    () => `/api/facilities/${there.unit}/contacts/${there.contact}`,
  ],
  'GET /api/units/:unit': ['officer', () => `/api/units/${there.unit}`],
  'GET /api/cases/:case': ['officer', () => `/api/cases/${there.case}`],
  'POST /api/cases/:case/acts': [
    'officer',
    () => `/api/cases/${there.case}/acts`,
    { act: 'close', on: '2026-11-01', outcome: 'lost' },
  ],
  'GET /api/cases/:case/openings': ['officer', () => `/api/cases/${there.case}/openings`],
  'GET /api/rounds/:round/case-counts/:count/:unit': [
    'officer',
    () => `/api/rounds/weekly_diseases~2026-W44/case-counts/measles_u5/${there.unit}`,
  ],
  'POST /api/rounds/:round/case-counts/:count/:unit/ask': [
    'officer',
    () => `/api/rounds/weekly_diseases~2026-W44/case-counts/measles_u5/${there.unit}/ask`,
    { text: 'a trial' },
  ],
  'GET /api/case-doubts/:id': ['officer', () => `/api/case-doubts/${there.caseDoubt}`],
  'GET /api/case-pairs/:id': ['officer', () => `/api/case-pairs/${there.pair}`],
  'POST /api/case-pairs/:id/merge': [
    'officer',
    () => `/api/case-pairs/${there.pair}/merge`,
    { kept: '0189f7a0-0000-7000-8000-000000000000' },
  ],
  'POST /api/case-pairs/:id/apart': [
    'officer',
    () => `/api/case-pairs/${there.pair}/apart`,
    { text: 'a trial' },
  ],
  'POST /api/case-pairs/:id/undo': ['officer', () => `/api/case-pairs/${there.pair}/undo`],
  'GET /api/files/:hash': ['officer', () => `/api/files/${there.file}`],
  'GET /api/devices/:id/contacts': ['officer', () => `/api/devices/${there.device}/contacts`],
  'GET /api/devices/:id/carry': ['officer', () => `/api/devices/${there.device}/carry`],
  'POST /api/devices/:id/hand-over': [
    'officer',
    () => `/api/devices/${there.device}/hand-over`,
    { name: 'A trial' },
  ],
  'POST /api/devices/:id/pair-again': ['officer', () => `/api/devices/${there.device}/pair-again`],
  'POST /api/devices/:id/block': ['officer', () => `/api/devices/${there.device}/block`, { blocked: true }],
  'DELETE /api/pairing-cards/:id': ['officer', () => `/api/pairing-cards/${there.card}`],
  'PUT /api/people/:id': [
    'admin',
    () => `/api/people/${there.person}`,
    {
      displayName: 'Taken over',
      role: 'clerk',
      branch: 'tolben_vale_district',
      ownOnly: false,
      without: [],
      sharing: null,
      active: true,
    },
  ],
  'POST /api/people/:id/code': ['admin', () => `/api/people/${there.person}/code`],
  'PUT /api/drafts/:dataset': [
    'officer',
    () => '/api/drafts/theirs',
    { version: 1, reports: [], draft: THEIRS.dataset },
  ],
  'POST /api/drafts/:dataset/publish': ['officer', () => '/api/drafts/theirs/publish', { version: 2 }],
  'PUT /api/registers/:register': [
    'officer',
    () => '/api/registers/theirs',
    { version: 1, draft: THEIRS.register },
  ],
  'POST /api/registers/:register/publish': ['officer', () => '/api/registers/theirs/publish', { version: 2 }],
  'PUT /api/choice-lists/:list': [
    'officer',
    () => '/api/choice-lists/theirs',
    { version: 1, list: THEIRS.list },
  ],
  'POST /api/papers/:kind/:code': [
    'officer',
    () => '/api/papers/dataset/theirs',
    { base64: PNG.toString('base64') },
  ],
  'DELETE /api/papers/:kind/:code/:id': ['officer', () => `/api/papers/dataset/theirs/${there.paper}`],
  'POST /api/units/changes/:id/undo': ['admin', () => `/api/units/changes/${there.change}/undo`],
}

/**
 * Routes that name something which every district may see, or that have their border in the list they give.
 */
const COMMON: RouteName[] = [
  'GET /api/rounds/:round/case-counts',
  'GET /api/rounds/:round/board',
  'GET /api/rounds/:round/template',
  'GET /api/rounds/:round/over-time',
  'POST /api/rounds/:round/accept',
  'POST /api/rounds/:round/undo-accept',
  'POST /api/rounds/:round/send-back',
  'POST /api/rounds/:round/nudges',
  'POST /api/rounds/:round/nudges/preview',
  'GET /api/district-reports/:round',
  'POST /api/district-reports/:round/sign',
  'GET /api/district-reports/:round/csv',
  'GET /api/district-reports/:round/longer',
  'GET /api/drafts/:dataset',
  'GET /api/drafts/:dataset/editions',
  'GET /api/drafts/:dataset/editions/:number',
  'POST /api/drafts/:dataset/past',
  'GET /api/registers/:register',
  'GET /api/registers/:register/editions',
  'GET /api/registers/:register/editions/:number',
  'POST /api/registers/:register/try-rule',
  'GET /api/papers/:kind/:code',
  'GET /api/papers/:kind/:code/:id',
  // A piece belongs to the device that sends it; a group is refused by its members (tests of units).
  'PUT /api/desk/files/:hash',
  'PUT /api/unit-groups/:group',
  'GET /api/district-reports/:round/sendings',
  'POST /api/district-reports/:round/sendings',
  // Recipients are closed to administrators of a branch (tests of sending), and so are jobs (tests of the queue).
  'PUT /api/recipients/:id',
  'POST /api/recipients/:id/end',
  'GET /api/recipients/:id/codes',
  'POST /api/recipients/:id/codes',
  'POST /api/recipients/:id/codes/pasted',
  'POST /api/recipients/:id/codes/ours',
  'POST /api/jobs/:id/stop',
]

describe('nothing lost, 15: what exists beyond the border', () => {
  it('is tried by every route that names something', () => {
    const naming = (Object.keys(ROUTES) as RouteName[]).filter(name => name.includes(':'))
    expect(naming.filter(name => !(name in TRIALS) && !COMMON.includes(name))).toEqual([])
  })

  it.each(Object.keys(TRIALS) as RouteName[])('%s', async name => {
    const [who, path, body] = TRIALS[name]!
    const method = name.slice(0, name.indexOf(' '))
    const refused = await outside[who].send<{ code: string }>(method, path(), body)
    // A file is hidden whole: it could be of a case that nobody outside should know of.
    if (name === 'GET /api/files/:hash') expect(refused.status).toBe(404)
    else
      expect([refused.status, refused.body.code]).toEqual([
        403,
        expect.stringMatching(/^(outside-branch|not-owner|extract-not-yours)$/),
      ])
    const allowed = await inside[who].send<{ code?: string }>(method, path(), body)
    expect(['outside-branch', 'not-owner', 'no-permission', 'not-found', 'schema', 'server']).not.toContain(
      allowed.body.code,
    )
  })

  it('is not opened by a device session without the token of its device', async () => {
    const code = await cardFor(address, there.unit, 1)
    const paired = (await new Client(address).post<{ token: string }>('/api/desk/pair', { code })).body
    const { body } = await new Client(address).post<{ session: string }>(
      '/api/desk/sign-in',
      { userName: `clerk.${there.unit}`, password: 'lantern-2026' },
      { 'x-lantern-device': paired.token },
    )
    const ask = async (headers: Record<string, string>) =>
      (
        await new Client(address).send('GET', '/api/due', undefined, {
          authorization: `Bearer ${body.session}`,
          ...headers,
        })
      ).status
    expect([
      await ask({ 'x-lantern-device': paired.token }),
      await ask({}),
      await ask({ 'x-lantern-device': 'another' }),
    ]).toEqual([200, 401, 401])
  })
})
