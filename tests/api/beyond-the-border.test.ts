import { createHash } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import { beforeAll, describe, expect, inject, it } from 'vitest'
import type { CardMade } from '#core/contract/devices'
import { ROUTES, type RouteName } from '#core/contract/routes'
import { Client, OCTOBER } from '../support/client'
import { TestDevice } from '../support/test-device'
import { CARD_SETTINGS, PNG } from '../support/samples'

/**
 * Every route that names a thing, tried with one that exists in another district: a 404 would prove nothing.
 * Each is
 * tried from inside as well, so that the refusal is that of the border.
 */
const address = inject('address')
const HASH = createHash('sha256').update(PNG).digest('hex')

interface There {
  unit: string
  card: string
  device: string
  case: string
  person: string
  discrepancy: string
  change: string
  draft: string
  register: string
  list: string
  paper: string
}
let there: There
/** The facility beyond the border about whose report there is a doubt. */
let place = ''
/** Who stands outside, and who inside, of Tolben Vale. */
let outside: Record<'officer' | 'clerk' | 'admin', Client>
let inside: Record<'officer' | 'clerk' | 'admin', Client>

async function administratorOf(branch: string, name: string): Promise<Client> {
  const admin = await Client.signedIn(address, 'admin')
  const made = await admin.post<{ code: string }>('/api/people', {
    userName: name,
    displayName: `Administrator ${name}`,
    role: 'administrator',
    branch,
    ownOnly: false,
  })
  expect(made.status).toBe(200)
  const client = new Client(address)
  const { status } = await client.post('/api/session/code', {
    userName: name,
    code: made.body.code,
    password: 'a long password',
  })
  expect(status).toBe(200)
  return client
}

beforeAll(async () => {
  const signedIn = (name: string) => Client.signedIn(address, name)
  outside = {
    officer: await signedIn('officer.ashmere'),
    clerk: await signedIn('clerk.millrace'),
    admin: await administratorOf('ashmere_district', 'admin.ashmere'),
  }
  inside = {
    officer: await signedIn('officer.tolben_vale'),
    clerk: await signedIn('clerk.coldwell'),
    admin: await administratorOf('tolben_vale_district', 'admin.tolben'),
  }
  const doubts = await inside.officer.get<{ lines: { id: string; unit: { code: string } }[] }>(
    `/api/discrepancies?round=${OCTOBER}`,
  )
  const [doubt] = doubts.body.lines
  place = doubt!.unit.code
  inside.clerk = await signedIn(`clerk.${place}`)
  const card = await inside.officer.post<CardMade>('/api/pairing-cards', {
    name: 'Theirs',
    unit: place,
    uses: 2,
    days: 1,
    settings: CARD_SETTINGS,
  })
  const device = await TestDevice.pair(address, `clerk.${place}`, card.body.code)
  const own = uuid()
  device.add({
    kind: 'entry',
    id: uuid(),
    madeAt: '2026-11-08T10:00:00Z',
    case: own,
    register: 'measles_contacts',
    edition: 1,
    form: 'contact',
    unit: place,
    answers: { contact_name: { kind: 'value', value: 'Made up' } },
  })
  await device.sendAll(5)
  await inside.clerk.send(
    'PUT',
    `/api/desk/files/${HASH}`,
    { start: 0, bytes: PNG.length, data: PNG.toString('base64') },
    { 'x-lantern-device': device.paired.token },
  )
  const person = await inside.admin.post<{ id: string }>('/api/people', {
    userName: 'clerk.new_there',
    displayName: 'New there',
    role: 'clerk',
    branch: place,
    ownOnly: false,
  })
  const unit = await inside.admin.get<{ spans: { to: string | null; parent: { code: string } }[] }>(
    `/api/units/${place}`,
  )
  const rows = [
    { code: place, name: 'Another name', parent: unit.body.spans.find(({ to }) => to === null)!.parent.code },
  ]
  const {
    body: { basis },
  } = await inside.admin.post<{ basis: number }>('/api/units/preview', { day: '2026-11-09', rows })
  const change = await inside.admin.post<{ id: string }>('/api/units/changes', {
    day: '2026-11-09',
    rows,
    basis,
  })
  const names = { en: 'Theirs', fr: 'Le leur' }
  const draft = {
    dataset: 'theirs',
    number: 1,
    name: names,
    frequency: 'month',
    timing: { opensAhead: 0, dueDays: 7, closeDays: 10 },
    axes: [],
    sections: [],
    rules: [],
    indicators: [],
  }
  await inside.officer.send('PUT', '/api/drafts/theirs', { version: 0, draft, reports: [] })
  const register = {
    code: 'theirs',
    name: names,
    subject: 'person',
    forms: [],
    line: [],
    identity: { identifiers: [] },
    countingDate: 'entry',
    rules: [],
  }
  await inside.officer.send('PUT', '/api/registers/theirs', { version: 0, draft: register })
  await inside.officer.send('PUT', '/api/choice-lists/theirs', {
    version: 0,
    list: { code: 'theirs', name: names, choices: [] },
  })
  const paper = await inside.officer.post<{ id: string }>('/api/papers/dataset/theirs', {
    base64: PNG.toString('base64'),
  })
  there = {
    unit: place,
    card: card.body.id,
    device: device.paired.device,
    case: own,
    person: person.body.id,
    discrepancy: doubt!.id,
    change: change.body.id,
    draft: 'theirs',
    register: 'theirs',
    list: 'theirs',
    paper: paper.body.id,
  }
  expect(Object.entries(there).filter(([, value]) => !value)).toEqual([])
})

const report = () => `/api/reports/${OCTOBER}/${there.unit}`
const doubt = () => `/api/discrepancies/${there.discrepancy}`
const names = { en: 'Other', fr: 'Autre' }
type Trial = [who: 'officer' | 'clerk' | 'admin', path: () => string, body?: unknown]

/** The routes that name a thing of a branch. What destroys something comes last. */
const TRIALS: Partial<Record<RouteName, Trial>> = {
  'GET /api/reports/:round/:unit': ['officer', report],
  'POST /api/reports/:round/:unit/changes': [
    'clerk',
    () => `${report()}/changes`,
    {
      origin: 'desk',
      changes: [
        { id: uuid(), cell: 'days_open', base: 99, content: { kind: 'value', value: 1 }, why: 'a trial' },
      ],
    },
  ],
  'POST /api/reports/:round/:unit/send': ['clerk', () => `${report()}/send`, { explanations: {} }],
  'POST /api/reports/:round/:unit/accept': ['officer', () => `${report()}/accept`],
  'POST /api/reports/:round/:unit/send-back': ['officer', () => `${report()}/send-back`, { why: 'a trial' }],
  'POST /api/reports/:round/:unit/let-in': [
    'officer',
    () => `${report()}/let-in`,
    { day: '2026-11-12', why: 'a trial' },
  ],
  'POST /api/reports/:round/:unit/leave-out': ['officer', () => `${report()}/leave-out`, { why: 'a trial' }],
  'GET /api/reports/:round/:unit/cells/:cell': ['officer', () => `${report()}/cells/days_open`],
  'POST /api/reports/:round/:unit/cells/:cell/comments': [
    'officer',
    () => `${report()}/cells/days_open/comments`,
    { text: 'a trial' },
  ],
  'GET /api/discrepancies/:id': ['officer', doubt],
  'POST /api/discrepancies/:id/ask': ['officer', () => `${doubt()}/ask`, { text: 'a trial' }],
  'POST /api/discrepancies/:id/answer': [
    'clerk',
    () => `${doubt()}/answer`,
    { text: 'a trial', corrections: [] },
  ],
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
  'GET /api/units/:unit': ['officer', () => `/api/units/${there.unit}`],
  'GET /api/cases/:case': ['officer', () => `/api/cases/${there.case}`],
  'GET /api/files/:hash': ['officer', () => `/api/files/${HASH}`],
  'GET /api/devices/:id/carry': ['officer', () => `/api/devices/${there.device}/carry`],
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
      active: true,
    },
  ],
  'POST /api/people/:id/code': ['admin', () => `/api/people/${there.person}/code`],
  'PUT /api/drafts/:dataset': [
    'officer',
    () => '/api/drafts/theirs',
    {
      version: 1,
      reports: [],
      draft: {
        dataset: 'theirs',
        number: 1,
        name: names,
        frequency: 'month',
        timing: { opensAhead: 0, dueDays: 7, closeDays: 10 },
        axes: [],
        sections: [],
        rules: [],
        indicators: [],
      },
    },
  ],
  'POST /api/drafts/:dataset/publish': ['officer', () => '/api/drafts/theirs/publish', { version: 2 }],
  'PUT /api/registers/:register': [
    'officer',
    () => '/api/registers/theirs',
    {
      version: 1,
      draft: {
        code: 'theirs',
        name: names,
        subject: 'person',
        forms: [],
        line: [],
        identity: { identifiers: [] },
        countingDate: 'entry',
        rules: [],
      },
    },
  ],
  'POST /api/registers/:register/publish': ['officer', () => '/api/registers/theirs/publish', { version: 2 }],
  'PUT /api/choice-lists/:list': [
    'officer',
    () => '/api/choice-lists/theirs',
    { version: 1, list: { code: 'theirs', name: names, choices: [] } },
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
  'GET /api/rounds/:round/board',
  'POST /api/rounds/:round/accept',
  'POST /api/rounds/:round/undo-accept',
  'GET /api/district-reports/:round',
  'POST /api/district-reports/:round/sign',
  'GET /api/district-reports/:round/csv',
  'GET /api/drafts/:dataset',
  'GET /api/drafts/:dataset/editions',
  'GET /api/drafts/:dataset/editions/:number',
  'POST /api/drafts/:dataset/past',
  'GET /api/registers/:register',
  'GET /api/registers/:register/editions',
  'GET /api/registers/:register/editions/:number',
  'GET /api/papers/:kind/:code',
  'GET /api/papers/:kind/:code/:id',
  // A piece belongs to the device that sends it; a group is refused by its members (tests of units).
  'PUT /api/desk/files/:hash',
  'PUT /api/unit-groups/:group',
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
        expect.stringMatching(/^(outside-branch|not-owner)$/),
      ])
    const allowed = await inside[who].send<{ code?: string }>(method, path(), body)
    expect(['outside-branch', 'not-owner', 'no-permission', 'not-found', 'schema', 'server']).not.toContain(
      allowed.body.code,
    )
  })

  it('is not opened by a device session without the token of its device', async () => {
    const card = await inside.officer.post<CardMade>('/api/pairing-cards', {
      name: 'Session',
      unit: place,
      uses: 1,
      days: 1,
      settings: CARD_SETTINGS,
    })
    const paired = (
      await new Client(address).post<{ token: string }>('/api/desk/pair', { code: card.body.code })
    ).body
    const { body } = await new Client(address).post<{ session: string }>(
      '/api/desk/sign-in',
      { userName: `clerk.${place}`, password: 'lantern-2026' },
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
