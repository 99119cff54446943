import '../support/use-memory'
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http'
import type { AddressInfo } from 'node:net'
import { v7 as uuid } from 'uuid'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import { readAdx } from '#core/exchange/adx'
import type { RecipientNew, SendingLine } from '#core/contract/sending'
import { must } from '#core/result'
import { judgeAgain } from '../../server/checks/judge-again'
import { now } from '../../server/clock'
import { closeDatabase, type Database } from '../../server/database'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { settle } from '../../server/discrepancies/act'
import { districtReport, signDistrict } from '../../server/district-reports/district-report'
import { UNWATCHED } from '../../server/queue/turn'
import { listCodes, pasteCodes, saveCodes, useOwnCodes } from '../../server/recipients/codes'
import {
  addRecipient,
  changeRecipient,
  endRecipient,
  listRecipients,
} from '../../server/recipients/recipients'
import { httpRepository } from '../../server/repository/http-repository'
import { codeBook } from '../../server/recipients/code-book'
import { previewReportFile } from '../../server/files/plan'
import { documentBytes, writeDocument } from '../../server/sending/write-document'
import { parsePeriod } from '#core/calendar/period-text'
import type { DocumentFormat } from '#core/exchange/value-document'
import { documentOf } from '#core/sending/document'
import { askToSend, sendAgain, stopSending } from '../../server/sending/ask'
import { sendDue } from '../../server/sending/send-due'
import { sendingsOfReport, sentDocument } from '../../server/sending/list'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const LATER = '2026-11-05T13:00:00Z'
let sql: Database

const fill = async (unit: string, values: Record<string, number>) => {
  await fillReport(personOf('clerk', unit), OCTOBER, unit, values)
  await sendReport(personOf('clerk', unit), OCTOBER, unit)
}
const sign = async (district = 'north') => {
  const access = personOf('officer', district)
  const { toSign } = await districtReport(access, OCTOBER, { unit: district })
  await signDistrict(access, OCTOBER, toSign, district)
}
/** Changes a value that the district has. */
const correct = (unit: string, cell: string, value: number, base: number) =>
  fillReport(personOf('clerk', unit), OCTOBER, unit, { [cell]: { value, base } }, { why: 'Counted again.' })

const asked = (more: Partial<RecipientNew> = {}): RecipientNew => ({
  ...{ name: `Repository ${uuid()}`, format: 'adx', extracts: 'none', address: 'stand-in' },
  ...more,
})
/** A recipient that takes the dataset under our own codes. */
const recipient = async (more: Partial<RecipientNew> = {}) => {
  const { id } = await addRecipient(admin, asked(more))
  await useOwnCodes(admin, id, 'small')
  return id
}
const give = (
  id: string,
  kind: 'item' | 'unit' | 'dataset' | 'axis' | 'band',
  ours: string,
  theirs?: string | null,
) => saveCodes(admin, id, { dataset: 'small', codes: [{ kind, ours, theirs }] })
const send = async (id: string) => {
  await askToSend(officer, OCTOBER, { recipient: id })
  await run()
}
const run = () => sendDue(UNWATCHED)
const of = async (id: string) =>
  (await sendingsOfReport(officer, OCTOBER, undefined)).recipients.find(one => one.id === id)!
const newest = async (id: string): Promise<SendingLine> => (await of(id)).sendings[0]!
const got = () =>
  sql.query<{ org_unit: string; data_element: string; axes: string; value: string }>(
    'SELECT org_unit, data_element, axes, value FROM stand_in_value ORDER BY org_unit, data_element, axes',
  )
const gotText = async () =>
  (await got()).map(
    one => `${one.org_unit} ${one.data_element}${one.axes === '[]' ? '' : one.axes} ${one.value}`,
  )
const doubts = async () => {
  await judgeAgain()
  return sql.query<{ id: string; key: string; state: string; holds: boolean }>(
    `SELECT id, doubt_key AS key, state, holds FROM discrepancy WHERE source = 'refused' ORDER BY doubt_key`,
  )
}
const at = (instant: string) =>
  vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + Date.parse(instant) - now() })
const later = (minutes: number) => at(new Date(now() + minutes * 60_000).toISOString())
const code = (of: string) => ({ code: of })

beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query(`UPDATE round SET closes_at = '2026-11-30T00:00:00Z'`)
  await fill('elm', { tested: 40, positive: 4, 'seen.f': 30, 'seen.m': 0 })
  await fill('oak', { tested: 60, positive: 6, 'seen.f': 20 })
  await sign()
})
afterAll(async () => {
  vi.useRealTimers()
  await closeDatabase()
})
beforeEach(async () => {
  at(LATER)
  await sql.query('DELETE FROM stand_in_value')
  await sql.query('DELETE FROM sending_refusal')
  await sql.query('DELETE FROM sending')
})

describe('a recipient', () => {
  it('is added, changed without its key being shown, and ended', async () => {
    const made = await addRecipient(admin, asked({ name: 'National', key: 'secret-of-it' }))
    expect(made).toMatchObject({ name: 'National', hasKey: true, datasets: [], version: 1 })
    expect(JSON.stringify(await listRecipients(admin))).not.toContain('secret-of-it')
    const changed = await changeRecipient(admin, made.id, {
      version: 1,
      recipient: asked({ name: 'National 2', format: 'fhir' }),
    })
    expect(changed).toMatchObject({ name: 'National 2', format: 'fhir', hasKey: true, version: 2 })
    await expect(changeRecipient(admin, made.id, { version: 1, recipient: asked() })).rejects.toMatchObject(
      code('recipient-changed'),
    )
    await expect(addRecipient(admin, asked({ name: 'national 2' }))).rejects.toMatchObject({
      ...code('recipient-name'),
      problems: [{ at: 'body/name' }],
    })
    await endRecipient(admin, made.id)
    expect((await listRecipients(admin)).lines.map(({ id }) => id)).not.toContain(made.id)
    await expect(endRecipient(admin, made.id)).rejects.toMatchObject(code('not-found'))
  })

  it('is everybody’s: an administrator of a branch keeps none', async () => {
    const own = personOf('administrator', 'north')
    for (const act of [
      listRecipients(own),
      addRecipient(own, asked()),
      listCodes(own, uuid(), { dataset: 'small' }),
    ])
      await expect(act).rejects.toMatchObject({ status: 403, code: 'outside-branch' })
  })
})

describe('its codes', () => {
  it('are asked for the definition and for each facility that reports, and found when they are missing', async () => {
    const { id } = await addRecipient(admin, asked())
    const page = await listCodes(admin, id, { dataset: 'small' })
    expect(page.lines.map(({ kind, ours }) => `${kind} ${ours}`)).toEqual([
      ...[
        'dataset small',
        'item tested',
        'item positive',
        'item seen',
        'axis sex',
        'band sex.f',
        'band sex.m',
      ],
      ...['unit ash', 'unit elm', 'unit oak', 'unit yew'],
    ])
    expect(page.counts).toEqual({ all: 11, lacking: 11 })
    expect(await useOwnCodes(admin, id, 'small')).toMatchObject({ taken: 11 })
    await give(id, 'unit', 'ash')
    const lacking = await listCodes(admin, id, { dataset: 'small', show: 'lacking' })
    expect(lacking.lines).toMatchObject([{ kind: 'unit', ours: 'ash', lack: 'missing', theirs: null }])
    const found = await listCodes(admin, id, { dataset: 'small', find: 'ÉLM' })
    expect(found.lines.map(({ ours }) => ours)).toEqual(['elm'])
  })

  it('come by pasted lines, by code or name, and say which lines they passed over', async () => {
    const { id } = await addRecipient(admin, asked())
    const text = 'code;theirs\nelm;1001\nOak;1002\nsex.f;F\n;\nnowhere;9\ntested;\n'
    const { taken, passedOver } = await pasteCodes(admin, id, { dataset: 'small', text })
    expect(taken).toBe(3)
    expect(passedOver).toEqual([
      { line: 1, text: 'code theirs', why: 'unknown' },
      { line: 6, text: 'nowhere 9', why: 'unknown' },
      { line: 7, text: 'tested', why: 'short' },
    ])
    expect((await pasteCodes(admin, id, { dataset: 'small', text })).taken).toBe(0)
  })

  it('are refused for what is not ours, and for what cannot be left out', async () => {
    const id = await recipient()
    await expect(give(id, 'item', 'beds', 'B')).rejects.toMatchObject({
      ...code('code-unknown'),
      problems: [{ at: 'body/codes/0/ours' }],
    })
    await expect(give(id, 'dataset', 'small', null)).rejects.toMatchObject(code('code-left-out'))
  })

  it('keep a report from being sent while one is missing, twice, or none that ADX can write', async () => {
    const id = await recipient()
    await give(id, 'item', 'tested', 'POSITIVE')
    await give(id, 'item', 'positive', 'POSITIVE')
    await give(id, 'unit', 'elm')
    await give(id, 'axis', 'sex', 'Sex of people')
    expect(await of(id)).toMatchObject({ lack: 'codes', lacking: 4 })
    const refused = await askToSend(officer, OCTOBER, { recipient: id }).catch((error: unknown) => error)
    expect(refused).toMatchObject(code('send-codes'))
    expect((refused as { problems: { code: string }[] }).problems.map(one => one.code).sort()).toEqual([
      ...['code-form', 'code-missing', 'code-twice', 'code-twice'],
    ])
    expect(await sql.query('SELECT 1 FROM sending')).toEqual([])
  })
})

describe('sending a signed report on', () => {
  it.each(['adx', 'fhir', 'json', 'csv', 'xlsx'] as const)(
    'brings every number of every facility there, once: %s',
    async format => {
      const id = await recipient({ format })
      await send(id)
      expect(await gotText()).toEqual([
        ...['elm positive 4', 'elm seen[["sex","f"]] 30', 'elm seen[["sex","m"]] 0', 'elm tested 40'],
        ...['oak positive 6', 'oak seen[["sex","f"]] 20', 'oak tested 60'],
      ])
      const line = await newest(id)
      expect(line).toMatchObject({ state: 'taken', values: 7, amendment: 1, part: 1, refusalCount: 0 })
      expect(line.receipt).toBe(`R-${line.id.slice(-8)}`)
      expect(await of(id)).toMatchObject({ lack: 'sent' })
      await expect(askToSend(officer, OCTOBER, { recipient: id })).rejects.toMatchObject(code('send-sent'))
    },
  )

  it('keeps the file as it went out, for who may see the district', async () => {
    const id = await recipient({ format: 'adx' })
    await send(id)
    const sending = await newest(id)
    const { name, mediaType, bytes } = await sentDocument(officer, sending.id)
    expect([name, mediaType]).toEqual(['small-2026-10-north-1.xml', 'application/adx+xml'])
    expect(must(readAdx(bytes.toString())).groups.map(({ orgUnit }) => orgUnit)).toEqual(['elm', 'oak'])
    await expect(sentDocument(personOf('officer', 'south'), sending.id)).rejects.toMatchObject({
      status: 403,
    })
  })

  it('leaves out what is left out on purpose, and says how much', async () => {
    const id = await recipient()
    await give(id, 'unit', 'oak', null)
    await give(id, 'band', 'sex.m', null)
    await send(id)
    expect(await gotText()).toEqual(['elm positive 4', 'elm seen[["sex","f"]] 30', 'elm tested 40'])
    expect(await newest(id)).toMatchObject({ values: 3, leftOut: 4 })
  })

  it('waits for the signature, and is the officer’s of that district', async () => {
    const id = await recipient()
    await expect(askToSend(personOf('officer', 'south'), OCTOBER, { recipient: id })).rejects.toMatchObject(
      code('send-not-signed'),
    )
    await expect(
      askToSend(personOf('officer', 'south'), OCTOBER, { recipient: id, unit: 'north' }),
    ).rejects.toMatchObject({ status: 403 })
    await expect(askToSend(officer, OCTOBER, { recipient: uuid() })).rejects.toMatchObject({ status: 404 })
  })
})

describe('a signed report that somebody changed where it is stored', () => {
  it('goes nowhere', async () => {
    const id = await recipient()
    const put = (snapshot: string, from: string) =>
      sql.query('UPDATE signature SET snapshot = replace(snapshot, $2, $1) WHERE round = $3', [
        ...[snapshot, from, OCTOBER],
      ])
    await put('"tested":41', '"tested":40')
    await expect(askToSend(officer, OCTOBER, { recipient: id })).rejects.toMatchObject(code('send-not-sound'))
    await put('"tested":40', '"tested":41')
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken' })
  })
})

describe('what a recipient refuses', () => {
  it('because of a code is sent again under another, and nothing else with it', async () => {
    const id = await recipient()
    await give(id, 'item', 'positive', 'POSITIVES')
    await send(id)
    expect(await newest(id)).toMatchObject({
      ...{ state: 'partly', refusalCount: 2 },
      refusals: [
        { about: 'code', unit: { code: 'elm' }, cell: 'positive', value: 4, over: false, discrepancy: null },
        { unit: { code: 'oak' }, message: 'The data element POSITIVES is not known here.' },
      ],
    })
    expect(await doubts()).toEqual([])
    // Nothing is another yet: there is nothing to send again.
    expect(await of(id)).toMatchObject({ lack: 'sent' })
    await give(id, 'item', 'positive', 'POSITIVE')
    expect(await of(id)).toMatchObject({ lack: null, onlyRefused: true })
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken', values: 2, part: 2 })
    expect((await of(id)).sendings[1]!.refusals.map(({ over }) => over)).toEqual([true, true])
    expect(await gotText()).toHaveLength(7)
    expect(await of(id)).toMatchObject({ lack: 'sent' })
  })

  it('because of two codes stays refused for the one that is not mended, also after the other', async () => {
    const id = await recipient()
    await give(id, 'item', 'positive', 'POSITIVES')
    await give(id, 'item', 'tested', 'TESTS')
    await send(id)
    expect(await newest(id)).toMatchObject({ refusalCount: 4 })
    await give(id, 'item', 'positive', 'POSITIVE')
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken', values: 2, part: 2 })
    expect((await of(id)).sendings[1]!.refusals.filter(({ over }) => !over).map(({ cell }) => cell)).toEqual([
      'tested',
      'tested',
    ])
    await give(id, 'item', 'tested', 'TESTED')
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken', values: 2, part: 3 })
    // What is left out by now goes nowhere.
    expect(await of(id)).toMatchObject({ lack: 'sent' })
    expect(await gotText()).toHaveLength(7)
  })

  it('because of a value is a discrepancy, which goes when the value is corrected; the amendment is sent once', async () => {
    await correct('elm', 'tested', 60_000, 1)
    await sign()
    const id = await recipient()
    await send(id)
    const [refused] = (await newest(id)).refusals
    expect(refused).toMatchObject({ about: 'value', cell: 'tested', value: 60_000, discrepancy: null })
    const [doubt] = await doubts()
    expect(doubt).toMatchObject({ key: `refused:${id}:tested`, state: 'open', holds: true })
    expect((await newest(id)).refusals[0]!.discrepancy).toBe(doubt!.id)
    const { lines } = await listDiscrepancies(officer, { filter: 'explain' })
    expect(lines.find(one => one.id === doubt!.id)?.title.en).toBe('tested: refused by another system')
    // It stops the next signing until somebody has settled it.
    expect((await districtReport(officer, OCTOBER)).blocking.map(one => one.id)).toEqual([doubt!.id])

    await correct('elm', 'tested', 44, 2)
    expect(await doubts()).toMatchObject([{ holds: false }])
    await sign()
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken', amendment: 3, refusalCount: 0 })
    expect(await gotText()).toContain('elm tested 44')
    expect((await of(id)).sendings).toHaveLength(2)
  })

  it('because of a value that is right is explained, and sent no second time', async () => {
    await correct('oak', 'tested', 70_000, 1)
    await sign()
    const id = await recipient()
    await send(id)
    const own = (await doubts()).find(({ key }) => key === `refused:${id}:tested`)!
    await settle(officer, own.id, 'explained', 'A campaign of the whole district.', [])
    expect(await of(id)).toMatchObject({ lack: 'sent' })
    await correct('oak', 'tested', 60, 2)
    await sign()
  })
})

describe('a recipient that misbehaves', () => {
  it('takes it and breaks off in its answer: it is asked the next time, and has it once', async () => {
    const id = await recipient({ address: 'stand-in:half' })
    await send(id)
    expect(await newest(id)).toMatchObject({
      state: 'sending',
      problem: 'broke-off',
    })
    expect(await gotText()).toHaveLength(7)
    await sql.query('DELETE FROM stand_in_value')
    later(3)
    await run()
    expect(await newest(id)).toMatchObject({ state: 'taken', tries: 2 })
    // It was asked, and not sent again.
    expect(await got()).toEqual([])
  })

  it('is down: it is tried after 2, 4, 8, … minutes, then it waits for a person', async () => {
    const [lines, traces] = [vi.spyOn(process.stdout, 'write'), vi.spyOn(process.stderr, 'write')]
    const id = await recipient({ address: 'stand-in:down' })
    await send(id)
    for (const minutes of [2, 4, 8, 16, 32, 64, 128]) {
      later(minutes - 1)
      await run()
      later(1)
      await run()
    }
    // It is not our fault: one line for each try, and no place in our code.
    const said = lines.mock.calls.filter(([text]) => String(text).includes('answered 503\n'))
    expect([said.length, traces.mock.calls.length]).toEqual([8, 0])
    for (const spy of [lines, traces]) spy.mockRestore()
    expect(await newest(id)).toMatchObject({ state: 'failed', tries: 8, nextAt: null })
    expect(await of(id)).toMatchObject({ lack: 'waits' })
    const { version, name, format } = (await listRecipients(admin)).lines.find(one => one.id === id)!
    await changeRecipient(admin, id, {
      version,
      recipient: { name, format, extracts: 'none', address: 'stand-in' },
    })
    await sendAgain(officer, (await newest(id)).id)
    await run()
    expect(await newest(id)).toMatchObject({ state: 'taken', tries: 1 })
  })

  it('is left behind by the next amendment, and the one before is not tried again', async () => {
    const id = await recipient({ address: 'stand-in:down' })
    await send(id)
    const { id: first } = await newest(id)
    await stopSending(officer, first)
    await correct('elm', 'positive', 5, 1)
    await sign()
    expect(await of(id)).toMatchObject({ lack: null })
    await askToSend(officer, OCTOBER, { recipient: id })
    await expect(sendAgain(officer, first)).rejects.toMatchObject(code('send-state'))
    await stopSending(officer, (await newest(id)).id)
    await endRecipient(admin, id)
  })

  it('is stopped while it waits, and goes on when somebody says so', async () => {
    const id = await recipient({ address: 'stand-in:down' })
    await send(id)
    const { id: sending } = await newest(id)
    await stopSending(officer, sending)
    later(5)
    await run()
    expect(await newest(id)).toMatchObject({ state: 'stopped', tries: 0 })
    await expect(stopSending(officer, sending)).rejects.toMatchObject(code('send-state'))
    await expect(sendAgain(personOf('officer', 'south'), sending)).rejects.toMatchObject({ status: 403 })
    await endRecipient(admin, id)
  })

  it('knows the dataset under no such name: nothing was taken, and it can be sent once that is mended', async () => {
    const id = await recipient()
    await give(id, 'dataset', 'small', 'TINY')
    await send(id)
    expect(await newest(id)).toMatchObject({
      ...{ state: 'refused', receipt: null },
      problem: 'The dataset TINY is not known here.',
    })
    await give(id, 'dataset', 'small', 'SMALL')
    await send(id)
    expect(await newest(id)).toMatchObject({ state: 'taken', part: 2, values: 7 })
  })
})

describe('reports of another system', () => {
  const SOUTH = { ash: { tested: 30, positive: 3, 'seen.f': 7 }, yew: { tested: 0 } }
  const south = personOf('officer', 'south')
  const write = async (id: string, format: DocumentFormat) => {
    const period = must(parsePeriod('2026-10'))
    const codes = await codeBook(sql, id, 'small')
    const { document } = documentOf({ edition: SMALL, period, format }, SOUTH, codes, LATER)
    const text = await writeDocument(format, document, period, { sender: 'South', units: new Map() })
    return documentBytes(format, text).toString('base64')
  }
  const look = (base64: string, codesOf?: string) =>
    previewReportFile(south, {
      ...{ dataset: 'small', name: 'theirs', base64, language: 'en' },
      ...(codesOf && { codesOf }),
    })

  it.each(['adx', 'fhir', 'json', 'csv', 'xlsx'] as const)(
    'come in by the preview of files, under their codes: %s',
    async format => {
      const id = await recipient({ format })
      await pasteCodes(admin, id, {
        dataset: 'small',
        text: 'ash,S-1\nyew,S-2\ntested,TST\nsex,Sex\nsex.f,F',
      })
      const { line, notes, parts } = await look(await write(id, format), id)
      expect([line.counts.changes, notes.refused, notes.passedOver]).toEqual([4, [], []])
      expect(parts.map(({ unit, row, changes }) => [unit.code, row, changes])).toEqual([
        ['ash', 1, 3],
        ['yew', 2, 1],
      ])
      // Under our own codes nothing of it is known here.
      const other = await look(await write(id, format))
      expect(other.notes.refused.map(({ row, heading, code: of }) => [row, heading, of])).toEqual([
        [1, 'S-1', 'file-unit-none'],
        [2, 'S-2', 'file-unit-none'],
      ])
      expect(other.notes.passedOver).toEqual(['TST', 'seen (Sex=F)'])
    },
  )

  it('are refused as a whole when they are broken, and place by place when a value cannot be', async () => {
    const text = (of: string) => look(Buffer.from(of).toString('base64'))
    await expect(text('<adx><group></adx>')).rejects.toMatchObject({ status: 422, code: 'xml-broken' })
    await expect(text('<!DOCTYPE adx><adx/>')).rejects.toMatchObject({ code: 'xml-doctype' })
    await expect(text('{"groups": 3}')).rejects.toMatchObject({ code: 'document-empty' })
    await expect(text('{"resourceType": "Patient"}')).rejects.toMatchObject({ code: 'fhir-no-bundle' })
    const group = (unit: string, value: unknown) => ({
      ...{ dataSet: 'small', period: '2026-10-01/P1M', orgUnit: unit },
      values: [{ dataElement: 'tested', axes: {}, value }],
    })
    const { notes } = await text(
      JSON.stringify({ exported: '', groups: [group('ash', 'many'), group('elm', 3), group('yew', -1)] }),
    )
    expect(notes.refused.map(({ row, heading, code: of }) => [row, heading, of])).toEqual([
      [1, 'tested', 'cell-letters'],
      [3, 'tested', 'cell-negative'],
      [2, 'elm', 'file-unit-none'],
    ])
    await expect(look(await write(await recipient(), 'adx'), uuid())).rejects.toMatchObject({ status: 404 })
  })
})

describe('a recipient behind HTTP', () => {
  let server: Server
  let answer: (request: IncomingMessage, response: ServerResponse) => void
  const seen: { method: string; url: string; key?: string; type?: string }[] = []
  const address = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}/national/`
  const say = (status: number, body: unknown) => (_: IncomingMessage, response: ServerResponse) =>
    void response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body))
  beforeAll(async () => {
    server = createServer((request, response) => {
      seen.push({
        ...{ method: request.method!, url: request.url! },
        ...{ key: request.headers.authorization, type: request.headers['content-type'] },
      })
      request.resume().on('end', () => answer(request, response))
    })
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  })
  afterEach(() => void (seen.length = 0))
  afterAll(() => server.closeAllConnections())

  it('gets the document under its reference with the key, and says value by value what it refuses', async () => {
    const place = { orgUnit: 'elm', dataElement: 'seen', axes: { sex: 'f' } }
    answer = say(200, { receipt: 'N-1', refused: [{ ...place, about: 'value', message: 'Too many.' }] })
    const id = await recipient({ address: address(), key: 'k-1' })
    await send(id)
    const line = await newest(id)
    expect(line).toMatchObject({
      ...{ state: 'partly', receipt: 'N-1' },
      refusals: [{ unit: { code: 'elm' }, cell: 'seen.f', value: 30, place: 'elm: seen (sex=f)' }],
    })
    expect(seen).toEqual([
      {
        ...{ method: 'PUT', url: `/national/deliveries/${line.id}?whole=true` },
        ...{ key: 'Bearer k-1', type: 'application/adx+xml' },
      },
    ])
  })

  it('may name a place that was not sent: it is shown, and belongs to nothing here', async () => {
    const refused = [{ orgUnit: 'moon', dataElement: 'x', axes: {}, about: 'value', message: 'No.' }]
    answer = say(200, { receipt: 'N-2', refused })
    const id = await recipient({ address: address() })
    await send(id)
    expect((await newest(id)).refusals).toMatchObject([{ unit: null, cell: null, place: 'moon: x' }])
  })

  it('is tried again after an error, another answer than agreed, half an answer, or a redirect', async () => {
    const repository = httpRepository(address(), null)
    const deliver = (signal = AbortSignal.timeout(5_000)) =>
      repository.deliver(
        { reference: 'r', mediaType: 'text/csv', body: Buffer.from('a'), isWhole: false },
        signal,
      )
    answer = say(500, {})
    await expect(deliver()).rejects.toMatchObject(code('status:500'))
    answer = say(200, { taken: true })
    await expect(deliver()).rejects.toMatchObject(code('not-agreed'))
    answer = say(200, { receipt: 'x', refused: [{ orgUnit: 'a' }] })
    await expect(deliver()).rejects.toMatchObject(code('not-agreed'))
    answer = (_, response) => {
      response.writeHead(200, { 'content-length': '1000' }).write('{"receipt": "N')
      response.destroy()
    }
    await expect(deliver()).rejects.toThrow()
    answer = (_, response) => void response.writeHead(302, { location: 'http://127.0.0.1:1/' }).end()
    await expect(deliver()).rejects.toThrow()
    answer = (_, response) => {
      response.writeHead(200)
      const more = () => response.write('x'.repeat(1_000_000)) && setImmediate(more)
      response.on('drain', more)
      more()
    }
    await expect(deliver()).rejects.toMatchObject(code('too-long'))
    vi.useRealTimers()
    answer = () => undefined
    await expect(deliver(AbortSignal.timeout(50))).rejects.toThrow()
  })

  it('is asked for what it said before, and has nothing where it answers 404', async () => {
    const repository = httpRepository(address(), 'k')
    answer = say(404, {})
    expect(await repository.lookUp('r', AbortSignal.timeout(5_000))).toBeNull()
    answer = say(200, { problem: 'Not today.' })
    expect(await repository.lookUp('r', AbortSignal.timeout(5_000))).toEqual({
      ...{ receipt: null, refused: [], problem: 'Not today.' },
    })
    expect(seen.map(({ method, url }) => `${method} ${url}`)).toEqual([
      'GET /national/deliveries/r',
      'GET /national/deliveries/r',
    ])
  })
})
