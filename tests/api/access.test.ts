import { readdirSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, describe, expect, inject, it } from 'vitest'
import { may, ROLES, type Role } from '#core/contract/permission'
import { templatePath } from '#core/contract/openapi'
import { ROUTES, type RouteContract, type RouteName } from '#core/contract/routes'
import { ApiDocument } from '../support/api-document'
import { Client, OCTOBER, SIGNED } from '../support/client'
import { CARD_SETTINGS, EXTRACT, paperReport, recountOf, visitTo } from '../support/samples'
import { draftsOf, makeThings, type Things } from '../support/things'

const address = inject('address')
const API = join(import.meta.dirname, '../../server/api')

const filesIn = (folder: string): string[] =>
  readdirSync(folder).flatMap(name => {
    const path = join(folder, name)
    return statSync(path).isDirectory() ? filesIn(path) : [path]
  })

/** The route that a file serves, by Nuxt's convention. */
function routeOf(file: string): string {
  const [, path, method] = /^(.*)\.(get|post|put|patch|delete)\.ts$/.exec(file.slice(API.length)) ?? []
  return `${method?.toUpperCase()} /api${path?.replace(/\[(\w+)\]/g, ':$1')}`
}

/**
 * Where each route is tried: a place inside the branch of Ashmere's people, one outside it, and a body that
 * may be.
 */
interface Trial {
  inside?: Record<string, string>
  outside?: Record<string, string>
  query?: boolean
  body?: unknown
}

/** The settings of the demo. */
const SETTINGS = { installation: 'Varrow Coast', timeZone: 'Etc/GMT+2', firstWeekday: 1, firstMonth: 1 }

/** Things that exist: of Ashmere, and of a district beyond its border. */
let near: Things
let far: Things
/** A job of the whole installation. */
let job = ''
const report = ({ unit }: Things) => ({ round: OCTOBER, unit })
/** A thing of each side of the border. @param of its names in the path. */
const bothSides = (of: (things: Things) => Record<string, string>) => ({ inside: of(near), outside: of(far) })
const NEAR = draftsOf('near')

const TRIALS: Record<RouteName, () => Trial> = {
  'GET /api/health': () => ({}),
  'GET /api/openapi.json': () => ({}),
  'GET /api/setup': () => ({}),
  'POST /api/setup': () => ({
    body: {
      code: 'X',
      installation: 'Xy',
      timeZone: 'UTC',
      userName: 'xyz',
      displayName: 'Xy',
      password: '1234567890',
    },
  }),
  'POST /api/session': () => ({ body: { userName: 'nobody.here', password: 'x' } }),
  'GET /api/session': () => ({}),
  'DELETE /api/session': () => ({}),
  'DELETE /api/sessions': () => ({}),
  'GET /api/search': () => ({}),
  'GET /api/datasets': () => ({}),
  'GET /api/rounds': () => ({}),
  'GET /api/due': () => ({}),
  'GET /api/places': () => ({}),
  'GET /api/today': () => ({ query: true }),
  'GET /api/discrepancies': () => ({ query: true }),
  'GET /api/rounds/:round/over-time': () => ({ inside: { round: OCTOBER }, query: true }),
  'GET /api/rounds/:round/board': () => ({ inside: { round: OCTOBER }, query: true }),
  'POST /api/rounds/:round/case-counts/:count/:unit/ask': () => ({
    ...bothSides(({ unit }) => ({ round: 'weekly_diseases~2026-W44', count: 'measles_u5', unit })),
    body: { text: 'a trial' },
  }),
  'GET /api/reports/:round/:unit/conflicts': () => bothSides(report),
  'POST /api/reports/:round/:unit/conflicts': () => ({
    ...bothSides(report),
    body: {
      decisions: [
        {
          ...{ cell: 'live_births.girls', base: 0, content: { kind: 'blank' } },
          seen: ['0189f7a0-0000-7000-8000-000000000000'],
        },
      ],
    },
  }),
  'GET /api/rounds/:round/template': () => ({ inside: { round: OCTOBER }, query: false }),
  'POST /api/report-files': () => ({
    body: { dataset: 'monthly_summary', name: 'a.csv', base64: 'YSxi', language: 'en' },
  }),
  'GET /api/report-files': () => ({}),
  'GET /api/extract-sources': () => ({}),
  'GET /api/extract-fields': () => ({}),
  'GET /api/extract-makers': () => ({}),
  'GET /api/dictionary': () => ({}),
  'POST /api/extract-previews': () => ({ body: EXTRACT }),
  'GET /api/extracts': () => ({}),
  'POST /api/extracts': () => ({
    body: { name: 'A trial', definition: EXTRACT, shared: false, repeats: null, onlyNew: false },
  }),
  'GET /api/extracts/:id': () => ({ inside: { id: near.extract } }),
  'PUT /api/extracts/:id': () => ({
    inside: { id: near.extract },
    body: { name: 'A trial', definition: EXTRACT, shared: false, repeats: null, onlyNew: false, version: 99 },
  }),
  'DELETE /api/extracts/:id': () => ({ inside: { id: near.extract } }),
  'GET /api/extract-files': () => ({}),
  'POST /api/extract-files': () => ({ body: { extracts: [{ name: 'A trial', definition: EXTRACT }] } }),
  'GET /api/extract-files/:id': () => ({ inside: { id: near.extractFile } }),
  'POST /api/extract-files/:id/stop': () => ({ inside: { id: near.extractFile } }),
  'GET /api/extract-files/:id/content': () => ({ inside: { id: near.extractFile } }),
  'GET /api/report-files/:id': () => ({ ...bothSides(({ reportFile }) => ({ id: reportFile })) }),
  'POST /api/report-files/:id/apply': () => ({
    ...bothSides(({ reportFile }) => ({ id: reportFile })),
    body: { why: 'a trial' },
  }),
  'POST /api/report-files/:id/undo': () => ({ ...bothSides(({ reportFile }) => ({ id: reportFile })) }),
  'POST /api/report-files/:id/stop': () => ({ ...bothSides(({ reportFile }) => ({ id: reportFile })) }),
  'POST /api/rounds/:round/nudges/preview': () => ({
    inside: { round: OCTOBER },
    body: { units: ['nowhere'] },
  }),
  'POST /api/rounds/:round/nudges': () => ({ inside: { round: OCTOBER }, body: { units: ['nowhere'] } }),
  'GET /api/nudges': () => ({ query: true }),
  'POST /api/nudges/stop': () => ({ body: { ids: ['0189f7a0-0000-7000-8000-000000000000'] } }),
  'GET /api/nudges/rules': () => ({}),
  'PUT /api/nudges/text': () => ({ body: { text: null } }),
  'PUT /api/nudges/times': () => ({ body: { quietFrom: 1140, quietTo: 420, aDay: 2 } }),
  'GET /api/visit-proposals': () => ({ query: true }),
  'GET /api/visits': () => ({ query: true }),
  'POST /api/visits': () => ({ body: visitTo('nowhere') }),
  'POST /api/visits/:id/move': () => ({
    ...bothSides(({ visit }) => ({ id: visit })),
    body: { to: 'dropped', text: 'a trial' },
  }),
  'GET /api/facilities/:unit/recounts': () => ({ ...bothSides(({ unit }) => ({ unit })) }),
  'GET /api/reports/:round/:unit/recount': () => ({ ...bothSides(report) }),
  'POST /api/reports/:round/:unit/recount': () => ({ ...bothSides(report), body: recountOf() }),
  'POST /api/recounts/:id/withdraw': () => ({ ...bothSides(({ recount }) => ({ id: recount })) }),
  'GET /api/verification': () => ({ query: true }),
  'GET /api/map': () => ({ query: true }),
  'PUT /api/units/:unit/outline': () => ({
    ...bothSides(({ unit }) => ({ unit })),
    body: { geometry: null },
  }),
  'GET /api/facilities/:unit': () => ({ ...bothSides(({ unit }) => ({ unit })) }),
  'POST /api/facilities/:unit/contacts': () => ({
    ...bothSides(({ unit }) => ({ unit })),
    body: { name: 'Made up', phone: '+999 41 20 30 17', language: 'en', nudges: true },
  }),
  'DELETE /api/facilities/:unit/contacts/:id': () => ({
    ...bothSides(({ unit, contact }) => ({ unit, id: contact })),
  }),
  'POST /api/rounds/:round/send-back': () => ({
    inside: { round: 'monthly_summary~2025-06' },
    body: { units: ['nowhere'], why: 'a trial' },
  }),
  'POST /api/rounds/:round/accept': () => ({ inside: { round: 'monthly_summary~2025-06' }, query: true }),
  'POST /api/rounds/:round/undo-accept': () => ({
    inside: { round: 'monthly_summary~2025-06' },
    body: { units: ['millrace'] },
  }),
  'GET /api/district-reports/:round': () => ({ inside: { round: OCTOBER }, query: true }),
  'GET /api/district-reports/:round/longer': () => ({ inside: { round: OCTOBER }, query: true }),
  'POST /api/district-reports/:round/sign': () => ({
    inside: { round: OCTOBER },
    query: true,
    body: { checksum: 'f'.repeat(64) },
  }),
  'GET /api/district-reports/:round/csv': () => ({ inside: { round: OCTOBER }, query: true }),
  'GET /api/reports/:round/:unit': () => ({ ...bothSides(report) }),
  'POST /api/reports/:round/:unit/accept': () => ({
    ...bothSides(report),
  }),
  'POST /api/reports/:round/:unit/send-back': () => ({
    ...bothSides(report),
    body: { why: 'a trial' },
  }),
  'POST /api/reports/:round/:unit/let-in': () => ({
    ...bothSides(report),
    body: { day: '2020-01-01', why: 'a trial' },
  }),
  'POST /api/reports/:round/:unit/leave-out': () => ({
    ...bothSides(report),
    body: { why: 'a trial' },
  }),
  'POST /api/reports/:round/:unit/paper': () => ({
    ...bothSides(report),
    body: paperReport({ paperOn: '2030-01-01' }),
  }),
  'GET /api/reports/:round/:unit/story': () => ({ ...bothSides(report) }),
  'GET /api/reports/:round/:unit/cells/:cell': () => ({
    ...bothSides(of => ({ ...report(of), cell: 'days_open' })),
  }),
  'POST /api/reports/:round/:unit/cells/:cell/comments': () => ({
    ...bothSides(of => ({ ...report(of), cell: 'days_open' })),
    body: { text: 'a trial' },
  }),
  'GET /api/drafts': () => ({}),
  'GET /api/drafts/:dataset': () => ({ inside: { dataset: 'monthly_summary' } }),
  'PUT /api/drafts/:dataset': () => ({
    inside: { dataset: 'near' },
    body: { version: 99, reports: [], draft: NEAR.dataset },
  }),
  'POST /api/drafts/:dataset/publish': () => ({ inside: { dataset: 'near' }, body: { version: 99 } }),
  'GET /api/drafts/:dataset/editions': () => ({ inside: { dataset: 'monthly_summary' } }),
  'GET /api/drafts/:dataset/editions/:number': () => ({
    inside: { dataset: 'monthly_summary', number: '1' },
  }),
  'POST /api/drafts/:dataset/past': () => ({
    inside: { dataset: 'monthly_summary' },
    body: { cells: ['days_open'], rounds: 2, lookBack: [0] },
  }),
  'GET /api/services/:dataset/:unit': () => ({
    ...bothSides(({ unit }) => ({ dataset: 'monthly_summary', unit })),
  }),
  'PUT /api/services/:dataset/:unit': () => ({
    ...bothSides(({ unit }) => ({ dataset: 'monthly_summary', unit })),
    body: { from: '2026-11-01', items: ['trial'] },
  }),
  'GET /api/registers': () => ({}),
  'GET /api/registers/:register': () => ({ inside: { register: 'near' } }),
  'GET /api/registers/:register/editions': () => ({ inside: { register: 'measles_cases' } }),
  'GET /api/registers/:register/editions/:number': () => ({
    inside: { register: 'measles_cases', number: '1' },
  }),
  'PUT /api/registers/:register': () => ({
    inside: { register: 'near' },
    body: { version: 99, draft: NEAR.register },
  }),
  'POST /api/registers/:register/publish': () => ({ inside: { register: 'near' }, body: { version: 99 } }),
  'POST /api/registers/:register/try-rule': () => ({
    inside: { register: 'near' },
    body: { draft: NEAR.register, rule: 'none' },
  }),
  'GET /api/choice-lists': () => ({}),
  'PUT /api/choice-lists/:list': () => ({
    inside: { list: 'near' },
    body: { version: 99, list: NEAR.list },
  }),
  'GET /api/papers/:kind/:code': () => ({ inside: { kind: 'dataset', code: 'monthly_summary' } }),
  'POST /api/papers/:kind/:code': () => ({
    inside: { kind: 'dataset', code: 'near' },
    body: { base64: 'bm90IGEgcGljdHVyZSBhdCBhbGw=' },
  }),
  'GET /api/papers/:kind/:code/:id': () => ({
    inside: { kind: 'dataset', code: 'near', id: near.paper },
  }),
  'DELETE /api/papers/:kind/:code/:id': () => ({
    inside: { kind: 'dataset', code: 'near', id: near.paper },
  }),
  'GET /api/definitions': () => ({}),
  'POST /api/definitions/preview': () => ({ body: { text: '{}' } }),
  'POST /api/definitions': () => ({ body: { text: '{}', take: [] } }),
  'POST /api/pairing-cards': () => ({
    body: {
      name: 'A trial',
      unit: near.unit,
      uses: 1,
      days: 1,
      settings: CARD_SETTINGS,
    },
  }),
  'GET /api/pairing-cards': () => ({}),
  'DELETE /api/pairing-cards/:id': () => ({ ...bothSides(({ card }) => ({ id: card })) }),
  'GET /api/devices': () => ({}),
  'GET /api/devices/:id/contacts': () => bothSides(({ device }) => ({ id: device })),
  'POST /api/devices/:id/hand-over': () => ({
    ...bothSides(({ device }) => ({ id: device })),
    body: { name: 'A trial' },
  }),
  'POST /api/devices/:id/pair-again': () => ({ ...bothSides(({ device }) => ({ id: device })) }),
  'POST /api/devices/:id/block': () => ({
    ...bothSides(({ device }) => ({ id: device })),
    body: { blocked: true },
  }),
  'POST /api/desk/pair': () => ({ body: { code: 'XXXX-XXXX-XXXX' } }),
  'POST /api/desk/send': () => ({
    body: {
      device: near.device,
      clock: '2026-11-09T10:00:00Z',
      changes: [
        {
          kind: 'cell',
          id: '019a0000-0000-7000-8000-0000000000a1',
          madeAt: '2026-11-09T10:00:00Z',
          round: OCTOBER,
          unit: near.unit,
          cell: 'days_open',
          base: 0,
          content: { kind: 'blank' },
        },
      ],
    },
  }),
  'GET /api/desk/receive': () => ({}),
  'GET /api/desk/registers': () => ({}),
  'GET /api/cases': () => ({}),
  'GET /api/cases/:case': () => bothSides(of => ({ case: of.case })),
  'POST /api/cases/paper': () => ({
    body: {
      id: '00000000-0000-4000-8000-0000000000aa',
      case: '00000000-0000-4000-8000-0000000000ab',
      register: 'newborns',
      edition: 1,
      form: 'birth',
      unit: 'nowhere',
      answers: {},
      paperOn: '2026-11-01',
    },
  }),
  'POST /api/cases/:case/acts': () => ({
    ...bothSides(of => ({ case: of.case })),
    body: { act: 'reopen', text: 'Seen again.' },
  }),
  'GET /api/cases/:case/openings': () => bothSides(of => ({ case: of.case })),
  'GET /api/rounds/:round/case-counts': () => ({ inside: { round: OCTOBER }, query: true }),
  'GET /api/rounds/:round/case-counts/:count/:unit': () =>
    bothSides(({ unit }) => ({ round: 'weekly_diseases~2026-W44', count: 'measles_u5', unit })),
  'GET /api/case-doubts': () => ({}),
  'GET /api/case-doubts/:id': () => bothSides(({ caseDoubt }) => ({ id: caseDoubt })),
  'GET /api/case-pairs': () => ({}),
  'GET /api/case-pairs/:id': () => bothSides(({ pair }) => ({ id: pair })),
  'POST /api/case-pairs/:id/merge': () => ({
    ...bothSides(({ pair }) => ({ id: pair })),
    body: { kept: near.case },
  }),
  'POST /api/case-pairs/:id/apart': () => ({
    ...bothSides(({ pair }) => ({ id: pair })),
    body: { text: 'a trial' },
  }),
  'POST /api/case-pairs/:id/undo': () => bothSides(({ pair }) => ({ id: pair })),
  'GET /api/devices/:id/carry': () => ({ ...bothSides(({ device }) => ({ id: device })) }),
  'POST /api/carried': () => ({ body: { file: 'no.file' } }),
  'POST /api/desk/here': () => ({ body: {} }),
  'POST /api/desk/sign-in': () => ({ body: { userName: 'nobody.there', password: 'x' } }),
  'GET /api/desk/standing': () => ({}),
  'GET /api/desk/work': () => ({}),
  'GET /api/desk/definitions': () => ({}),
  'PUT /api/desk/files/:hash': () => ({
    inside: { hash: '0'.repeat(64) },
    body: { start: 0, bytes: 4, data: 'AAAA' },
  }),
  'GET /api/files/:hash': () => ({ inside: { hash: near.file } }),
  'GET /api/people': () => ({}),
  'POST /api/people': () => ({
    body: { userName: 'admin', displayName: 'A trial', role: 'reader', branch: null, ownOnly: false },
  }),
  'PUT /api/people/:id': () => ({
    ...bothSides(({ person }) => ({ id: person })),
    body: {
      ...{ displayName: 'A trial', role: 'reader', branch: null, ownOnly: false, active: true },
      ...{ without: [], sharing: null },
    },
  }),
  'POST /api/people/:id/code': () => ({ ...bothSides(({ person }) => ({ id: person })) }),
  'POST /api/session/code': () => ({
    body: { userName: 'nobody.there', code: 'XXXX', password: '1234567890' },
  }),
  'PUT /api/levels': () => ({ body: { levels: [{ en: 'Only' }], districtLevel: 1, facilityLevel: 1 } }),
  'GET /api/unit-groups': () => ({}),
  'PUT /api/unit-groups/:group': () => ({
    inside: { group: 'trial' },
    body: { name: { en: 'Trial' }, members: [{ unit: 'millrace', from: '2026-11-02', to: '2026-11-01' }] },
  }),
  'GET /api/units': () => ({}),
  'GET /api/units/changes': () => ({}),
  'GET /api/units/export': () => ({}),
  'GET /api/units/:unit': () => ({ ...bothSides(({ unit }) => ({ unit })) }),
  'POST /api/units/preview': () => ({
    body: { day: '2026-11-09', rows: [{ code: 'millrace', name: 'A trial', parent: 'hollin_valley_zone' }] },
  }),
  'POST /api/units/changes': () => ({
    body: {
      day: '2026-11-09',
      basis: 999,
      rows: [{ code: 'millrace', name: 'A trial', parent: 'hollin_valley_zone' }],
    },
  }),
  'POST /api/units/changes/:id/undo': () => ({ ...bothSides(({ change }) => ({ id: change })) }),
  'GET /api/discrepancies/:id': () => ({
    ...bothSides(({ discrepancy }) => ({ id: discrepancy })),
  }),
  'GET /api/discrepancies/:id/cases': () => ({
    ...bothSides(({ discrepancy }) => ({ id: discrepancy })),
  }),
  'POST /api/discrepancies/:id/ask': () => ({
    ...bothSides(({ discrepancy }) => ({ id: discrepancy })),
    body: { text: 'a trial' },
  }),
  'POST /api/discrepancies/:id/settle': () => ({
    ...bothSides(({ discrepancy }) => ({ id: discrepancy })),
    body: { outcome: 'corrected', text: 'a trial', corrections: [] },
  }),
  'GET /api/settings': () => ({}),
  'POST /api/settings/consequences': () => ({ body: SETTINGS }),
  'PUT /api/settings': () => ({ body: { before: SETTINGS, after: SETTINGS } }),
  'GET /api/recipients': () => ({}),
  'POST /api/recipients': () => ({
    body: { name: 'A trial', format: 'adx', extracts: 'none', address: 'stand-in' },
  }),
  'PUT /api/recipients/:id': () => ({
    inside: { id: near.recipient },
    body: {
      version: 1,
      recipient: { name: 'Another', format: 'adx', extracts: 'none', address: 'stand-in' },
    },
  }),
  'GET /api/recipients/:id/codes': () => ({ inside: { id: near.recipient } }),
  'POST /api/recipients/:id/codes': () => ({
    inside: { id: near.recipient },
    body: { dataset: 'monthly_summary', codes: [{ kind: 'item', ours: 'days_open', theirs: 'D' }] },
  }),
  'POST /api/recipients/:id/codes/pasted': () => ({
    inside: { id: near.recipient },
    body: { dataset: 'monthly_summary', text: 'days_open;D' },
  }),
  'POST /api/recipients/:id/codes/ours': () => ({
    inside: { id: near.recipient },
    body: { dataset: 'monthly_summary' },
  }),
  'GET /api/district-reports/:round/sendings': () => ({ inside: { round: SIGNED }, query: true }),
  'POST /api/district-reports/:round/sendings': () => ({
    ...{ inside: { round: SIGNED }, query: true },
    body: { recipient: near.recipient },
  }),
  'POST /api/sendings/:id/again': () => ({ ...bothSides(({ sending }) => ({ id: sending })) }),
  'POST /api/sendings/:id/stop': () => ({ ...bothSides(({ sending }) => ({ id: sending })) }),
  'GET /api/sendings/:id/document': () => ({ ...bothSides(({ sending }) => ({ id: sending })) }),
  // What is ended is of the others: this one is needed to the end.
  'POST /api/recipients/:id/end': () => ({ inside: { id: far.recipient } }),
  'GET /api/tokens': () => ({}),
  'POST /api/tokens': () => ({
    body: { name: 'A trial', branch: null, gives: [], lastDay: '2026-12-31' },
  }),
  'POST /api/tokens/:id/end': () => ({ ...bothSides(({ token }) => ({ id: token })) }),
  'GET /api/records/reports': () => ({ query: true }),
  'GET /api/records/cases': () => ({ query: true }),
  'GET /api/changes': () => ({}),
  'GET /api/metrics': () => ({}),
  'GET /api/jobs': () => ({}),
  'GET /api/jobs/plan': () => ({}),
  'POST /api/jobs': () => ({ body: { kind: 'openRounds' } }),
  'POST /api/jobs/:id/stop': () => ({ inside: { id: job } }),
  'POST /api/discrepancies/:id/reopen': () => ({
    ...bothSides(({ discrepancy }) => ({ id: discrepancy })),
    body: { text: 'a trial' },
  }),
}

/** The officer's branch is Ashmere, the clerk's one facility of it; the administrator and the reader see everything. */
const EVERYWHERE: ReadonlySet<Role> = new Set(['administrator', 'reader'])
const clients = {} as Record<Role, Client>
let document: ApiDocument

beforeAll(async () => {
  const ashmere = await makeThings(address, 'ashmere_district', 'officer.ashmere', 'near')
  near = ashmere.things
  far = (await makeThings(address, 'tolben_vale_district', 'officer.tolben_vale', 'far')).things
  clients.administrator = await Client.signedIn(address, 'admin')
  job = (await clients.administrator.post<{ id: string }>('/api/jobs', { kind: 'verify' })).body.id
  clients.officer = ashmere.people.officer
  clients.clerk = ashmere.people.clerk
  document = await ApiDocument.of(clients.administrator)
  clients.reader = await Client.signedIn(address, 'reader')
})

function call(client: Client, name: RouteName, where: Record<string, string>, unit?: string) {
  const [method, path] = name.split(' ') as [string, string]
  const { query, body } = TRIALS[name]()
  const contract: RouteContract = ROUTES[name]
  const full = path.replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(where[key] ?? ''))
  const asked: Record<string, string> = query && unit ? { unit } : {}
  // Which unit is asked for, the trial says.
  const { unit: _, ...example } = contract.machine?.query ?? {}
  if (method === 'GET')
    return client.get(
      `${full}?${new URLSearchParams({ ...example, ...asked, ...(name === 'GET /api/search' && { q: 'a' }), ...(name === 'GET /api/extract-fields' && { of: 'monthly_summary', rows: 'report' }), ...(name === 'GET /api/recipients/:id/codes' && { dataset: 'monthly_summary' }), ...(name.endsWith('/template') && { format: 'csv', language: 'en' }) }).toString()}`,
    )
  return client.send(method, full, contract.body ? { ...(body as object | undefined), ...asked } : undefined)
}

const NAMES = Object.keys(ROUTES) as RouteName[]
/** Signing in and out would end the session that the other trials need; they have tests of their own. */
const GUARDED = NAMES.filter(
  name => (ROUTES[name] as RouteContract).permission !== 'open' && !name.startsWith('DELETE'),
)

describe('every route', () => {
  it('has a file, and every file is a route with a contract and its place in the API document', async () => {
    expect(filesIn(API).map(routeOf).sort()).toEqual([...NAMES].sort())
    expect(document.document.openapi).toBe('3.1.0')
    expect(document.operations.sort()).toEqual(filesIn(API).map(routeOf).map(templatePath).sort())
  })

  it.each(GUARDED)('%s answers nobody who is not signed in', async name => {
    const { status, type, body } = await call(new Client(address), name, TRIALS[name]().inside ?? {})
    expect([status, body.code]).toEqual([401, 'signed-out'])
    expect(type).toContain('application/problem+json')
  })

  describe.each(ROLES)('as %s', role => {
    it.each(GUARDED)('%s', async name => {
      const { permission } = ROUTES[name] as RouteContract
      const { inside, outside, query } = TRIALS[name]()
      const within = await call(clients[role], name, inside ?? {})
      expect(document.mistakesIn(templatePath(name), within)).toEqual([])
      if (!may({ role, without: [] }, permission)) {
        expect([within.status, within.body.code]).toEqual([403, 'no-permission'])
        return
      }
      // A refusal for another reason than access is as good as an answer here. What is named exists.
      expect([
        'no-permission',
        'outside-branch',
        'signed-out',
        'server',
        'schema',
        'not-found',
      ]).not.toContain(within.body.code)
      if (outside) {
        const { status, body } = await call(clients[role], name, outside)
        if (EVERYWHERE.has(role)) expect(body.code).not.toBe('outside-branch')
        else expect([status, body.code]).toEqual([403, 'outside-branch'])
      }
      if (query) {
        const { status, body } = await call(clients[role], name, inside ?? {}, 'tolben_vale_district')
        if (EVERYWHERE.has(role)) expect(body.code).not.toBe('outside-branch')
        else expect([status, body.code]).toEqual([403, 'outside-branch'])
      }
    })
  })
})

describe('lists', () => {
  it('hold nothing from outside the branch', async () => {
    const { body } = await clients.clerk.get<{ lines: { unit: { code: string } }[] }>('/api/discrepancies')
    expect(body.lines.filter(({ unit }) => unit.code !== near.unit)).toEqual([])
    const found = (await clients.officer.get<{ kind: string; code: string }[]>('/api/search?q=coldwell')).body
    expect(found).toEqual([])
    expect(
      (await clients.reader.get<{ code: string }[]>('/api/search?q=COLDWÉLL')).body.map(({ code }) => code),
    ).toEqual(['coldwell'])
  })
})
