import { v7 as uuid } from 'uuid'
import type { CardMade } from '#core/contract/devices'
import type { SendingsOfReport } from '#core/contract/sending'
import { Client, OCTOBER, SIGNED } from './client'
import { CARD_SETTINGS, EXTRACT, hashOf, PNG, recountOf, visitTo } from './samples'
import { TestDevice } from './test-device'

/** One of each thing that a route can name, all of one district of the demo. */
export interface Things {
  unit: string
  card: string
  device: string
  case: string
  /** Two cases that may be one. */
  pair: string
  person: string
  discrepancy: string
  /** A discrepancy about a case. */
  caseDoubt: string
  /** A change of units. */
  change: string
  draft: string
  register: string
  list: string
  paper: string
  /** A file of reports that was looked at. */
  reportFile: string
  /** Somebody who can be called at the unit. */
  contact: string
  /** The hash of a picture that a device sent. */
  file: string
  visit: string
  recount: string
  /** What the officer saved and does not share, and a file of it. */
  extract: string
  extractFile: string
  /** Of a program that sees the district. */
  token: string
  /** Who gets signed reports, and one of the district on its way there. */
  recipient: string
  sending: string
}

/** The people of the district, as they come to the server. */
export interface Insiders {
  officer: Client
  clerk: Client
  admin: Client
}

async function administratorOf(address: string, branch: string, code: string): Promise<Client> {
  const admin = await Client.signedIn(address, 'admin')
  const userName = `admin.${code}`
  const { body } = await admin.post<{ code: string }>('/api/people', {
    userName,
    displayName: `Administrator of ${branch}`,
    role: 'administrator',
    branch,
    ownOnly: false,
  })
  const client = new Client(address)
  const { status } = await client.post('/api/session/code', {
    userName,
    code: body.code,
    password: 'a long password',
  })
  if (status !== 200) throw new Error(`${userName} was not let in: ${status}`)
  return client
}

/** The drafts that a district's officer makes: a dataset, a register and a list, all of one name. */
export const draftsOf = (code: string) => {
  const name = { en: `Of ${code}`, fr: `De ${code}` }
  return {
    dataset: {
      dataset: code,
      number: 1,
      name,
      frequency: 'month',
      timing: { opensAhead: 0, dueDays: 7, closeDays: 10 },
      axes: [],
      sections: [],
      rules: [],
      indicators: [],
    },
    register: {
      code,
      name,
      subject: 'person',
      forms: [],
      line: [],
      identity: { identifiers: [] },
      countingDate: 'entry',
      rules: [],
    },
    list: { code, name, choices: [] },
  }
}

/**
 * Makes one of each thing in a district, at the facility about whose report there is a doubt. Everything
 * exists, so that a refusal is that of the border, and a 404 is a mistake.
 *
 * @param code of the drafts, and part of the names: each call needs one of its own.
 */
export async function makeThings(
  address: string,
  district: string,
  officerName: string,
  code: string,
): Promise<{ things: Things; people: Insiders }> {
  const officer = await Client.signedIn(address, officerName)
  const admin = await administratorOf(address, district, code)
  const { body: doubts } = await officer.get<{ lines: { id: string; unit: { code: string } }[] }>(
    `/api/discrepancies?round=${OCTOBER}`,
  )
  const [doubt] = doubts.lines
  const unit = doubt!.unit.code
  const { body: card } = await officer.post<CardMade>('/api/pairing-cards', {
    name: `Card of ${unit}`,
    unit,
    uses: 2,
    days: 1,
    settings: CARD_SETTINGS,
  })
  const device = await TestDevice.pair(address, `clerk.${unit}`, card.code)
  const own = uuid()
  const { body: sent } = await device.sendNow([
    {
      kind: 'entry',
      id: uuid(),
      madeAt: '2026-11-08T10:00:00Z',
      case: own,
      register: 'measles_contacts',
      edition: 1,
      form: 'contact',
      unit,
      answers: { contact_name: { kind: 'value', value: 'Made up' } },
    },
  ])
  if (sent.outcomes[0]!.outcome !== 'received') throw new Error('The case was not taken.')
  const pair = await makePair(officer, device, unit, code)
  const caseDoubt = await makeCaseDoubt(officer, device, unit, code)
  const picture = Buffer.concat([PNG, Buffer.from(code)])
  const file = hashOf(picture)
  await device.person.send('PUT', `/api/desk/files/${file}`, {
    start: 0,
    bytes: picture.length,
    data: picture.toString('base64'),
  })
  const { body: token } = await admin.post<{ id: string }>('/api/tokens', {
    ...{ name: 'Stock system', branch: district, gives: [], lastDay: '2026-12-31' },
  })
  const { body: person } = await admin.post<{ id: string }>('/api/people', {
    userName: `clerk.${code}`,
    displayName: 'New there',
    role: 'clerk',
    branch: unit,
    ownOnly: false,
  })
  const { body: contact } = await officer.post<{ id: string }>(`/api/facilities/${unit}/contacts`, {
    ...{ name: `Somebody of ${code}`, phone: '+999 41 20 30 17', language: 'en', nudges: false },
  })
  const { body: reports } = await officer.post<{ line: { id: string } }>('/api/report-files', {
    ...{ dataset: 'monthly_summary', name: 'october.csv', language: 'en' },
    base64: Buffer.from(`unit,period,days_open\n${unit},2026-10,17`).toString('base64'),
  })
  // One may be planned already.
  await officer.post('/api/visits', visitTo(unit))
  const { body: visits } = await officer.get<{ lines: { id: string }[] }>(`/api/visits?unit=${unit}`)
  const recount = recountOf()
  await officer.post(`/api/reports/${OCTOBER}/${unit}/recount`, recount)
  const { body: extract } = await officer.post<{ id: string }>('/api/extracts', {
    ...{ name: `Of ${code}`, definition: EXTRACT, shared: false, repeats: null, onlyNew: false },
  })
  const { body: extractFile } = await officer.post<{ id: string }>('/api/extract-files', {
    extracts: [{ name: `Of ${code}`, definition: EXTRACT }],
  })
  const [recipient, sending] = await makeSending(address, officer, code)
  const change = await renameUnit(admin, unit, `Unit of ${code}`)
  const drafts = draftsOf(code)
  await officer.send('PUT', `/api/drafts/${code}`, { version: 0, draft: drafts.dataset, reports: [] })
  await officer.send('PUT', `/api/registers/${code}`, { version: 0, draft: drafts.register })
  await officer.send('PUT', `/api/choice-lists/${code}`, { version: 0, list: drafts.list })
  const { body: paper } = await officer.post<{ id: string }>(`/api/papers/dataset/${code}`, {
    base64: PNG.toString('base64'),
  })
  const things: Things = {
    unit,
    card: card.id,
    device: device.paired.device,
    case: own,
    pair,
    person: person.id,
    discrepancy: doubt!.id,
    caseDoubt,
    contact: contact.id,
    reportFile: reports.line.id,
    visit: visits.lines[0]!.id,
    recount: recount.id,
    extract: extract.id,
    extractFile: extractFile.id,
    token: token.id,
    recipient,
    sending,
    change,
    draft: code,
    register: code,
    list: code,
    paper: paper.id,
    file,
  }
  const missing = Object.entries(things).flatMap(([name, value]) => (value ? [] : [name]))
  if (missing.length) throw new Error(`Not made: ${missing.join(', ')}`)
  return { things, people: { officer, admin, clerk: await Client.signedIn(address, `clerk.${unit}`) } }
}

/** Sends a signed report of the officer's district on. @returns the recipient and the sending */
async function makeSending(address: string, officer: Client, code: string): Promise<[string, string]> {
  const root = await Client.signedIn(address, 'admin')
  const { body: recipient } = await root.post<{ id: string }>('/api/recipients', {
    ...{ name: `Recipient of ${code}`, format: 'json', extracts: 'none', address: 'stand-in:down' },
  })
  await root.post(`/api/recipients/${recipient.id}/codes/ours`, { dataset: 'monthly_summary' })
  const path = `/api/district-reports/${SIGNED}/sendings`
  await officer.post(path, { recipient: recipient.id })
  const { body } = await officer.get<SendingsOfReport>(path)
  const own = body.recipients.find(({ id }) => id === recipient.id)
  return [recipient.id, own?.sendings[0]?.id ?? '']
}

/** Registers one person twice. @returns the identifier of the pair */
async function makePair(officer: Client, device: TestDevice, unit: string, code: string): Promise<string> {
  const cases = [uuid(), uuid()]
  const value = (of: string) => ({ kind: 'value' as const, value: of })
  await device.sendNow(
    cases.map(of => ({
      kind: 'entry',
      id: uuid(),
      madeAt: '2026-11-08T10:00:00Z',
      case: of,
      register: 'measles_cases',
      edition: 2,
      form: 'registration',
      unit,
      answers: { full_name: value(`Madeup ${code}`), sex: value('f'), born_on: value('2021-05-03') },
    })),
  )
  const { body } = await officer.get<{ lines: { id: string }[] }>(`/api/case-pairs?case=${cases[0]}`)
  return body.lines[0]!.id
}

/** Registers somebody whose specimen was taken before the rash. @returns the discrepancy about that case */
async function makeCaseDoubt(
  officer: Client,
  device: TestDevice,
  unit: string,
  code: string,
): Promise<string> {
  const of = uuid()
  const value = (given: string) => ({ kind: 'value' as const, value: given })
  const forms = {
    registration: { full_name: value(`Doubted ${code}`), rash_on: value('2026-10-20') },
    specimen: { specimen_number: value('S-1'), taken_on: value('2026-10-02') },
  }
  await device.sendNow(
    Object.entries(forms).map(([form, answers]) => ({
      kind: 'entry',
      id: uuid(),
      madeAt: '2026-11-08T10:00:00Z',
      case: of,
      register: 'measles_cases',
      edition: 2,
      form,
      unit,
      answers,
    })),
  )
  const { body } = await officer.get<{ lines: { id: string }[] }>(`/api/case-doubts?case=${of}`)
  return body.lines[0]!.id
}

/** Gives a unit another name. @returns the identifier of the change of units. */
async function renameUnit(admin: Client, unit: string, name: string): Promise<string> {
  const { body } = await admin.get<{ spans: { to: string | null; parent: { code: string } }[] }>(
    `/api/units/${unit}`,
  )
  const parent = body.spans.find(({ to }) => to === null)!.parent.code
  const rows = [{ code: unit, name, parent }]
  const day = '2026-11-09'
  const { body: preview } = await admin.post<{ basis: number }>('/api/units/preview', { day, rows })
  const { body: change } = await admin.post<{ id: string }>('/api/units/changes', {
    day,
    rows,
    basis: preview.basis,
  })
  return change.id
}
