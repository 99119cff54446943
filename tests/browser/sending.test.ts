import { mkdtempSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readAdx } from '#core/exchange/adx'
import type { ExtractFileList } from '#core/contract/extracts'
import type { DistrictReport } from '#core/contract/district-reports'
import type { ReportFile } from '#core/contract/reports'
import type { SendingsOfReport } from '#core/contract/sending'
import { must } from '#core/result'
import { Visitor } from '../support/browser'
import { Client, SIGNED } from '../support/client'
import { paperReport } from '../support/samples'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

const UNIT = 'tern_row'
const CELLS = ['tetanus_later', 'low_weight'] as const
let server: RunningServer
let admin: Visitor
let officer: Visitor
let api: Client

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])

/** What the facility's paper says of two cells, entered at the office. */
async function enter(values: Record<(typeof CELLS)[number], number>): Promise<void> {
  const { body } = await api.get<ReportFile>(`/api/reports/${SIGNED}/${UNIT}`)
  const cells = CELLS.map((cell, at) => ({
    ...{ id: crypto.randomUUID(), cell, base: body.cells.find(one => one.cell === cell)!.version },
    content: { kind: 'value' as const, value: Object.values(values)[at]! },
  }))
  const { status, body: said } = await api.post(
    `/api/reports/${SIGNED}/${UNIT}/paper`,
    paperReport({ paperOn: '2026-10-02', cells, why: 'The page was read again.' }),
  )
  expect([status, said]).toMatchObject([200, {}])
}
const report = async () => (await api.get<DistrictReport>(`/api/district-reports/${SIGNED}`)).body
/** Settles what the new numbers raise. */
async function settleAll(): Promise<void> {
  for (const { id } of (await report()).blocking)
    await api.post(`/api/discrepancies/${id}/settle`, {
      ...{ outcome: 'explained', text: 'It was a campaign.', corrections: [] },
    })
}
const sendings = async () =>
  (await api.get<SendingsOfReport>(`/api/district-reports/${SIGNED}/sendings`)).body.recipients[0]!.sendings

beforeAll(async () => {
  server = await startDemo()
  api = await Client.signedIn(server.address, 'officer.ashmere')
  admin = await Visitor.arrive(server.address)
  await admin.signIn('admin')
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await admin?.leave()
  await officer?.leave()
  await server?.stop()
})

describe('a recipient of signed reports', () => {
  it('is added from the page of the report, and asked for its codes', async () => {
    await admin.open('/recipients')
    await admin.reads('Nothing is sent on to another system.')
    await clean(admin)
    await admin.click('Add a recipient')
    await admin.write('#recipient-name', 'National repository')
    await admin.write('#recipient-address', 'stand-in')
    await shot(admin, 'zz-recipient-form')
    await clean(admin)
    await admin.click('Save', 'button[type=submit]')
    await admin.reads('Codes of National repository')
    await admin.pick('codes-dataset', 'Monthly facility summary')
    await admin.reads('codes are missing or not right')
    await shot(admin, 'codes')
    await clean(admin)
  })

  it('has its codes typed, pasted, taken from ours, or left out, and says what is missing', async () => {
    await admin.write('#codes-pasted', 'Days open;DAYS_OPEN\nTern Row Health Centre;tern_row\nNowhere;1')
    await admin.click('Take them')
    await admin.reads('2 codes were taken.')
    await admin.reads('nothing here has this code or name')
    await admin.write('#code-item-referred_out', 'DAYS_OPEN')
    await (await admin.see('#code-item-new_visits')).click()
    await admin.reads(/used twice/i)
    await clean(admin)
    await admin.write('#code-item-referred_out', 'referred_out')
    await admin.click('Use our codes where one is missing')
    await admin.reads('Every code is there: signed reports can be sent.')
    await shot(admin, 'zz-codes-complete')
    await clean(admin)
  })
})

describe('a signed report with two values that the recipient refuses', () => {
  it('is sent on, and each refused value is a discrepancy that opens', async () => {
    await enter({ tetanus_later: 60_000, low_weight: 70_000 })
    await settleAll()
    const { toSign } = await report()
    await api.post(`/api/district-reports/${SIGNED}/sign`, { checksum: toSign })
    await officer.open(`/report/${SIGNED}`)
    await officer.click('Send the signed report')
    await officer.reads('2 values were refused')
    await officer.reads(/partly refused/i)
    await officer.until(
      async () => (await sendings())[0]!.refusals.every(({ discrepancy }) => discrepancy !== null),
      'both to be discrepancies',
    )
    await officer.open(`/report/${SIGNED}`)
    await officer.reads(/Receipt R-/)
    await officer.run('document.querySelector("#send-on").scrollIntoView({ block: "center" })')
    await shot(officer, 'sending')
    await clean(officer)
    await officer.click('Tern Row Health Centre: Tetanus, second or later dose', '.sending a')
    await officer.reads('Refused by another system')
    await officer.reads('National repository says: Values from 0 to 50000 are taken.')
    await shot(officer, 'zz-refused')
    await clean(officer)
  })

  it('is mended, signed again, and sent again once', async () => {
    await enter({ tetanus_later: 6, low_weight: 7 })
    await settleAll()
    await officer.open(`/report/${SIGNED}`)
    await officer.click('Sign an amendment')
    await officer.click('Sign', '.p-dialog-footer button')
    await officer.reads('Amendment 2')
    await officer.click('Send the signed report')
    await officer.until(async () => (await sendings())[0]!.state === 'taken', 'the recipient to take it')
    await officer.reads(/Taken\s+Amendment 2/i)
    expect(await officer.run('return document.body.innerText')).not.toContain('Send the signed report')
    expect((await sendings()).map(({ amendment, part, state }) => [amendment, part, state])).toEqual([
      [3, 1, 'taken'],
      [2, 1, 'partly'],
    ])
    await clean(officer)
  })

  it('comes back from its file by the preview of files, and says nothing new', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'lantern-sent-'))
    await officer.downloads(folder)
    const [newest] = await sendings()
    const bytes = await api.bytes(`/api/sendings/${newest!.id}/document`)
    const { groups } = must(readAdx(bytes.toString()))
    expect(groups.find(({ orgUnit }) => orgUnit === UNIT)!.values).toContainEqual({
      ...{ dataElement: 'low_weight', axes: {}, value: '7' },
    })
    const { body } = await api.post<{ line: { counts: { reports: number } }; notes: { same: number } }>(
      '/api/report-files',
      {
        ...{ dataset: 'monthly_summary', name: 'sent.xml', base64: bytes.toString('base64'), language: 'en' },
      },
    )
    expect(body.line.counts.reports).toBe(0)
    await officer.open(`/gather/files/${SIGNED}`)
    await officer.reads('Codes in the file, where it comes from another system')
    await shot(officer, 'zz-files-codes')
    await clean(officer)
  })
})

describe('entries of a register', () => {
  it('go to a recipient that takes them, without names, and the log has the receipt', async () => {
    await admin.open('/recipients')
    await admin.click('Change', 'td button')
    await admin.pick('recipient-extracts', 'without personal answers')
    await shot(admin, 'zz-recipient-extracts')
    await clean(admin)
    await admin.click('Save', 'button[type=submit]')
    await admin.reads('Extracts: without personal answers')
    await officer.open('/extracts/build')
    await officer.pick('extract-of', 'Measles and rubella')
    await officer.pick('extract-rows', 'Entries as they were filled')
    await officer.pick('extract-format', 'FHIR responses')
    await officer.write('#extract-name', 'Measles to the nation')
    await officer.pick('extract-repeats', 'every day')
    await officer.reads('to National repository')
    await officer.reads('Personal answers stay here.')
    await shot(officer, 'zz-extract-to-recipient')
    await clean(officer)
    await officer.click('Save', 'button')
    await officer.until(async () => (await officer.at()) === '/extracts/build', 'the page')
    const sent = async () =>
      (await api.get<ExtractFileList>('/api/extract-files')).body.lines.find(({ state }) => state === 'sent')
    await officer.until(async () => (await sent()) !== undefined, 'the file to be taken')
    expect(await sent()).toMatchObject({
      ...{ extracts: [{ name: 'Measles to the nation', personal: false }], refusedCount: 0 },
      receipt: expect.stringMatching(/^R-/) as string,
    })
    expect((await sent())!.rows).toBeGreaterThan(100)
    await officer.open('/extracts')
    await officer.reads('every day, to National repository')
    await clean(officer)
    await officer.click('Files')
    await officer.reads(/To National repository\.\s+Receipt R-/)
    await shot(officer, 'zz-extract-sent')
    await clean(officer)
  })
})

describe('a recipient that does not answer', () => {
  it('is tried again by itself; the officer stops it, and goes on when the address is right', async () => {
    await admin.open('/recipients')
    await admin.click('Change', 'td button')
    await admin.write('#recipient-address', 'stand-in:down')
    await admin.click('Save', 'button[type=submit]')
    await admin.reads('stand-in:down')
    await shot(admin, 'zz-recipients')
    await clean(admin)
    await officer.open('/report/monthly_summary~2026-08')
    await officer.click('Send the signed report')
    await officer.reads('The recipient answered 503.')
    await shot(officer, 'zz-sending-down')
    await officer.click('Stop', '.sending button')
    await officer.reads(/stopped/i)
    await officer.see('.sending button')
    await admin.click('Change', 'td button')
    await admin.write('#recipient-address', 'stand-in')
    await admin.click('Save', 'button[type=submit]')
    await officer.click('Try again', '.sending button')
    await officer.reads(/Taken\s+Signed/i)
    await clean(officer)
  })

  it('speaks French', async () => {
    await officer.run('localStorage.setItem("lantern-language", "fr")')
    await officer.open(`/report/${SIGNED}`)
    await officer.reads('Transmettre')
    await officer.reads(/accepté/i)
    await clean(officer)
    await officer.run('localStorage.setItem("lantern-language", "en")')
  })
})
