import '../support/use-memory'
import { createServer, type IncomingMessage, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { buffer } from 'node:stream/consumers'
import { Fhir } from 'fhir'
import { v7 as uuid } from 'uuid'
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest'
import type { ExtractDefinition } from '#core/contract/extracts'
import type { RecipientExtracts } from '#core/contract/sending'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { accessById, type Access } from '../../server/access/access'
import { now } from '../../server/clock'
import { closeDatabase, type Database } from '../../server/database'
import { listExtractFiles, stopFile } from '../../server/extracts/files'
import { makeExtracts } from '../../server/extracts/make-files'
import { changeExtract, extractById, listExtracts, saveExtract } from '../../server/extracts/saved'
import { areFilesDue, sendFiles } from '../../server/extracts/send-files'
import { areExtractsDue, writeDueExtracts } from '../../server/extracts/write-due'
import { UNWATCHED } from '../../server/queue/turn'
import {
  addRecipient,
  changeRecipient,
  endRecipient,
  listRecipients,
} from '../../server/recipients/recipients'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

let sql: Database
let owner: Access
const admin = personOf('administrator', null)
const ENTRIES: ExtractDefinition = {
  ...{ of: 'measles_cases', rows: 'entry', heads: 'short', filters: {}, language: 'en', format: 'fhir' },
  ...{ choices: 'code', several: 'list', reasons: false },
  columns: [{ key: '@entry' }, { key: 'sex' }, { key: 'full_name' }],
}
const of = async (address = 'stand-in', extracts: RecipientExtracts = 'plain') =>
  addRecipient(admin, { name: `To ${uuid()}`, format: 'fhir', address, extracts })
const save = (recipient: string, more: { onlyNew?: boolean; definition?: ExtractDefinition } = {}) =>
  saveExtract(owner, {
    ...{ name: 'Measles', definition: ENTRIES, shared: false, repeats: 'day', onlyNew: false, recipient },
    ...more,
  })
/** As the jobs do it, one after the other. */
async function run(): Promise<void> {
  await writeDueExtracts(UNWATCHED)
  await makeExtracts(UNWATCHED)
  await sendFiles(UNWATCHED)
}
const comeAgain = () => sql.query('UPDATE extract SET next_at = $1', [new Date(now()).toISOString()])
const again = async () => {
  later(1)
  await comeAgain()
  await run()
}
const later = (minutes: number) => vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + minutes * 60_000 })
const files = async () => (await listExtractFiles(owner, {})).lines
const newest = async () => (await files())[0]!
const got = () =>
  sql.query<{ id: string; resource: { item?: { linkId: string }[] } }>(
    'SELECT id, resource FROM stand_in_entry ORDER BY id',
  )
const enter = async (...names: string[]) => {
  const entries = names.map(full_name => entryMade(uuid(), { sex: 'f', full_name }))
  await takeEntries(sql, entries)
  return entries.map(({ id }) => id).sort()
}
let known: string[]

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
  owner = await accessById(personOf('officer', null).id)
  known = await enter('Ione Osrow', 'Renna Valey')
})
afterAll(async () => {
  vi.useRealTimers()
  await closeDatabase()
})
afterEach(async () => {
  vi.useRealTimers()
  for (const table of ['extract_file', 'extract', 'stand_in_entry', 'stand_in_delivery'])
    await sql.query(`DELETE FROM ${table}`)
})

describe('an extract that goes to a recipient', () => {
  it('arrives as FHIR R4, entry by entry, with a receipt in the log', async () => {
    const { id, name } = await of()
    expect((await listExtracts(owner, {})).recipients).toContainEqual({ id, name, personal: false })
    await save(id)
    expect(await areExtractsDue()).toBe(true)
    await run()
    const kept = await got()
    expect(kept.map(one => one.id)).toEqual(known)
    for (const { resource } of kept) expect(new Fhir().validate(resource)).toMatchObject({ valid: true })
    expect(await newest()).toMatchObject({
      ...{ state: 'sent', rows: 2, recipient: { id, name }, refusedCount: 0, problem: null },
      receipt: expect.stringMatching(/^R-/) as string,
    })
    expect(await areFilesDue()).toBe(false)
    // Its bytes are not kept: the recipient has them.
    expect(await sql.query('SELECT 1 FROM extract_part')).toEqual([])
  })

  it('has personal answers only where the recipient and its owner may have them', async () => {
    const itemsAt = async (recipient: string) => {
      await save(recipient)
      await run()
      const items = (await got()).flatMap(({ resource }) => resource.item ?? [])
      const { extracts } = await newest()
      await sql.query('DELETE FROM extract')
      return [JSON.stringify(items).includes('Osrow'), extracts[0]!.personal]
    }
    expect(await itemsAt((await of()).id)).toEqual([false, false])
    const { id } = await of('stand-in', 'personal')
    expect(await itemsAt(id)).toEqual([true, true])
    await sql.query(`UPDATE person SET without = '{extractPersonal}' WHERE id = $1`, [owner.id])
    await sql.query('DELETE FROM stand_in_entry')
    expect(await itemsAt(id)).toEqual([false, false])
    await sql.query(`UPDATE person SET without = '{}' WHERE id = $1`, [owner.id])
  })

  it('has only what came since the last one that was taken, and goes nowhere when nothing came', async () => {
    const { id } = await of()
    await save(id, { onlyNew: true })
    await run()
    later(3)
    // What came in the two minutes before the last one may have been committed late: it comes again.
    await again()
    expect(await newest()).toMatchObject({ state: 'sent', rows: 2 })
    await sql.query('DELETE FROM stand_in_entry')
    later(3)
    await again()
    expect(await files()).toHaveLength(2)
    later(3)
    const [late] = await enter('Loren Marrow')
    known = [...known, late!].sort()
    await again()
    expect((await got()).map(one => one.id)).toEqual([late])
    expect(await newest()).toMatchObject({ state: 'sent', rows: 1 })
  })

  it('leaves no gap after one that never arrived', async () => {
    const recipient = await of('stand-in:down')
    await save(recipient.id, { onlyNew: true })
    await run()
    expect(await newest()).toMatchObject({ state: 'sending', problem: 'status:503' })
    // The next one waits for it: there is one on its way at a time.
    await again()
    expect(await files()).toHaveLength(1)
    for (const minutes of [2, 4, 8, 16, 32, 64, 128]) {
      later(minutes)
      await sendFiles(UNWATCHED)
    }
    expect(await newest()).toMatchObject({ state: 'failed', nextAt: null })
    await changeRecipient(admin, recipient.id, {
      version: 1,
      recipient: { ...recipient, address: 'stand-in' },
    })
    await again()
    expect((await got()).map(one => one.id)).toEqual(known)
  })

  it('is asked about before it is sent again, where the answer broke off', async () => {
    const { id } = await of('stand-in:half')
    await save(id)
    await run()
    expect(await newest()).toMatchObject({ state: 'sending', problem: 'broke-off' })
    await sql.query('DELETE FROM stand_in_entry')
    later(3)
    await sendFiles(UNWATCHED)
    expect(await newest()).toMatchObject({ state: 'sent' })
    expect(await got()).toEqual([])
  })

  it('can be stopped on its way, by who asked', async () => {
    const { id } = await of('stand-in:down')
    await save(id)
    await run()
    const file = await newest()
    await expect(stopFile(admin, file.id)).rejects.toMatchObject({ status: 403 })
    expect(await stopFile(owner, file.id)).toMatchObject({ state: 'stopped', nextAt: null })
    later(5)
    await sendFiles(UNWATCHED)
    expect(await newest()).toMatchObject({ state: 'stopped' })
  })

  it('is refused as a whole in another format, and says why', async () => {
    const { id } = await of()
    await save(id, { definition: { ...ENTRIES, format: 'csv' } })
    await run()
    expect(await newest()).toMatchObject({
      ...{ state: 'refused', receipt: null },
      problem: 'Only entries as FHIR, a QuestionnaireResponse a line, are taken here.',
    })
  })
})

describe('a recipient', () => {
  it('gets no extracts until an administrator says so, nor after one says no', async () => {
    const closed = await of('stand-in', 'none')
    await expect(save(closed.id)).rejects.toMatchObject({ code: 'extract-no-recipient' })
    expect((await listExtracts(owner, {})).recipients.map(({ id }) => id)).not.toContain(closed.id)
    const recipient = await of()
    const saved = await save(recipient.id)
    await changeRecipient(admin, recipient.id, { version: 1, recipient: { ...recipient, extracts: 'none' } })
    await run()
    expect(await extractById(owner, saved.id)).toMatchObject({ problem: 'extract-no-recipient' })
    expect(await files()).toEqual([])
    await expect(
      changeExtract(owner, saved.id, { ...saved, version: saved.version, repeats: 'week' }),
    ).rejects.toMatchObject({ code: 'extract-no-recipient' })

    // An extract that is saved without a time keeps no place.
    await sql.query('UPDATE extract SET repeats = NULL, recipient = NULL')
    const unplanned = await saveExtract(owner, {
      ...{ name: 'Later', definition: ENTRIES, shared: false, repeats: null, onlyNew: false },
      recipient: uuid(),
    })
    expect(unplanned.recipient).toBeNull()
  })

  it.each([
    ['is ended', (id: string) => endRecipient(admin, id)],
    [
      'may get less than before',
      async (id: string) => {
        const one = (await listRecipients(admin)).lines.find(line => line.id === id)!
        await changeRecipient(admin, id, { version: one.version, recipient: { ...one, extracts: 'plain' } })
      },
    ],
  ])('that %s gets nothing that is on its way, and its bytes go', async (_how, act) => {
    const { id } = await of('stand-in:down', 'personal')
    await save(id)
    await run()
    expect(await newest()).toMatchObject({ state: 'sending' })
    await act(id)
    expect(await newest()).toMatchObject({ state: 'stopped', nextAt: null })
    expect(await sql.query('SELECT 1 FROM extract_part')).toEqual([])
  })
})

describe('a recipient behind HTTP', () => {
  let server: Server
  let asked: { method: string; url: string; type: string; body: string }[] = []
  let answer: (request: IncomingMessage) => [number, unknown]
  const address = () => `http://127.0.0.1:${(server.address() as AddressInfo).port}`
  beforeAll(async () => {
    server = createServer((request, response) => {
      void buffer(request).then(body => {
        asked.push({
          ...{ method: request.method!, url: request.url!, type: request.headers['content-type'] ?? '' },
          body: body.toString('utf8'),
        })
        const [status, said] = answer(request)
        response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(said))
      })
    })
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  })
  afterAll(() => server.close())

  it('gets the file under its reference, and its refused rows lead to their cases', async () => {
    asked = []
    answer = () => [
      200,
      {
        receipt: 'N-77',
        refused: [
          { row: known[0], message: 'The sex is missing.' },
          { row: '2', message: 'Who is this?' },
        ],
      },
    ]
    const { id } = await of(address())
    await save(id)
    await run()
    const file = await newest()
    const [one] = asked
    expect(one).toMatchObject({ method: 'PUT', type: 'application/fhir+ndjson; charset=utf-8' })
    expect(one!.url).toMatch(new RegExp(`^/extracts/${file.id}\\?whole=true&name=Measles\\+2026-11-`))
    const lines = one!.body.trimEnd().split('\n')
    expect(lines.map(line => (JSON.parse(line) as { id: string }).id).sort()).toEqual(known)
    const [first] = await sql.query<{ case: string }>(
      'SELECT case_id AS case FROM case_entry WHERE id = $1',
      [known[0]!],
    )
    expect(file).toMatchObject({
      ...{ state: 'sent', receipt: 'N-77', refusedCount: 2 },
      refused: [
        { row: known[0], message: 'The sex is missing.', case: first!.case },
        { row: '2', message: 'Who is this?', case: null },
      ],
    })
  })

  it('that answers something else is asked again, by the same reference', async () => {
    asked = []
    answer = ({ method }) => (method === 'PUT' ? [200, { thanks: true }] : [404, {}])
    const { id } = await of(address())
    await save(id)
    await run()
    expect(await newest()).toMatchObject({ state: 'sending', problem: 'not-agreed' })
    answer = ({ method }) => (method === 'PUT' ? [200, { receipt: 'N-78' }] : [404, {}])
    later(3)
    await sendFiles(UNWATCHED)
    expect(await newest()).toMatchObject({ state: 'sent', receipt: 'N-78' })
    expect(asked.map(({ method }) => method)).toEqual(['PUT', 'GET', 'PUT'])
    expect(new Set(asked.map(({ url }) => url.split('?')[0]))).toEqual(
      new Set([`/extracts/${(await newest()).id}`]),
    )
  })
})
