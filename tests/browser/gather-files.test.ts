import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import ExcelJS from 'exceljs'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { cellsOf, type Edition } from '#core/report/edition'
import { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'
import { TestDevice } from '../support/test-device'

const WEEK = 'weekly_diseases~2026-W45'
let server: RunningServer
let officer: Visitor
let client: Client
const folder = mkdtempSync(join(tmpdir(), 'lantern-files-'))

type Row = { unit: { code: string; name: string }; state: string }
const rowsOf = async (round: string) =>
  (await client.get<{ rows: Row[] }>(`/api/rounds/${round}/board`)).body.rows
let awaited: Row[]

beforeAll(async () => {
  server = await startDemo()
  client = await Client.signedIn(server.address, 'officer.ashmere')
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
  awaited = (await rowsOf(WEEK)).filter(({ state }) => state === 'awaited')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true })
})

const clean = async (but?: RegExp) => expect(await officer.faults(but)).toEqual([])
const text = () => officer.run<string>('return document.body.innerText')
/** Fills the workbook that the application gives: three facilities, one of them with a mistake. */
async function filledWorkbook(): Promise<string> {
  const template = await client.bytes(`/api/rounds/${WEEK}/template?format=xlsx&language=en`)
  const book = new ExcelJS.Workbook()
  await book.xlsx.load(template as never)
  const sheet = book.getWorksheet('Reports')!
  const places = sheet.getRow(2).cellCount
  for (const [at, { unit }] of awaited.slice(0, 3).entries())
    sheet.eachRow(row => {
      if (row.getCell(1).value !== unit.code) return
      for (let place = 4; place <= places; place++)
        row.getCell(place).value = at === 2 && place === 4 ? 'many' : 0
    })
  const file = join(folder, 'hospital.xlsx')
  writeFileSync(file, Buffer.from(await book.xlsx.writeBuffer()))
  return file
}

describe('a workbook of many reports', () => {
  it('is looked at before anything changes: what it would change, and what was refused where', async () => {
    await officer.open(`/gather/${WEEK}`)
    await officer.click('Reports from files', 'a')
    await officer.reads('File to fill, XLSX')
    await shot(officer, 'zz-files-empty')
    await clean()
    await officer.driver.findElement({ css: '#report-file' }).sendKeys(await filledWorkbook())
    await officer.reads('Take 3 reports in')
    await officer.reads('1 thing was refused')
    await officer.reads('Reports, D')
    await officer.reads('“many” is not a number')
    await shot(officer, 'zz-files')
    await clean()
    expect((await rowsOf(WEEK)).filter(({ state }) => state === 'awaited')).toHaveLength(awaited.length)
  })

  it('is taken in with a sentence, and taken back in one act', async () => {
    await officer.write('#file-why', 'The workbook of the hospital, received on 9 November')
    await officer.click('Take 3 reports in')
    await officer.reads('3 reports were taken in.')
    const sent = (await rowsOf(WEEK)).filter(
      ({ unit, state }) => state === 'sent' && awaited.some(one => one.unit.code === unit.code),
    )
    expect(sent).toHaveLength(3)
    await shot(officer, 'zz-files-taken')
    await clean()
    await officer.click('Take the file back')
    await officer.reads('The values go back to what they were before.')
    await officer.run(`[...document.querySelectorAll('.p-dialog button')].at(-1).click()`)
    await officer.reads('3 reports were taken back.')
    expect((await rowsOf(WEEK)).filter(({ state }) => state === 'draft').length).toBeGreaterThanOrEqual(3)
    await shot(officer, 'zz-files-undone')
    await clean()
  })

  it('with a password, or of another kind, says what to do with it', async () => {
    const file = join(folder, 'old.xls')
    writeFileSync(file, Buffer.from('d0cf11e0a1b11ae1', 'hex'))
    await officer.driver.findElement({ css: '#report-file' }).sendKeys(file)
    await officer.reads('Save it as .xlsx without a password.')
    await clean(/422/)
  })
})

describe('two devices with one report', () => {
  it('are told on Today, and decided side by side by who saw both', async () => {
    const { unit } = awaited[4]!
    const [first, second] = [
      await TestDevice.at(server.address, unit.code),
      await TestDevice.at(server.address, unit.code),
    ]
    const { body: report } = await client.get<{ edition: Edition }>(`/api/reports/${WEEK}/${unit.code}`)
    const cells = cellsOf(report.edition)
      .map(({ key }) => key)
      .slice(0, 2)
    const change = (cell: string, value: number) => ({
      ...{ kind: 'cell' as const, id: uuid(), madeAt: '2026-11-09T09:00:00Z', round: WEEK, unit: unit.code },
      ...{ cell, base: 0, content: { kind: 'value' as const, value } },
    })
    await first.sendNow(cells.map(cell => change(cell, 3)))
    await second.sendNow(cells.map(cell => change(cell, 5)))
    await officer.open('/')
    await officer.reads('Two versions of one value: decide')
    await officer.click(unit.name, 'a')
    await officer.reads('Choose first')
    await shot(officer, 'zz-conflicts')
    await clean()
    expect(
      await officer.run<boolean>(
        `return [...document.querySelectorAll('button')].some(one => one.disabled && one.innerText.includes('Choose first'))`,
      ),
    ).toBe(true)
    await officer.run(`document.querySelectorAll('input[type=radio]')[1].click()`)
    await officer.click('Settle 1 value')
    await officer.until(async () => (await text()).match(/Choose first/) !== null, 'the one that is left')
    await officer.click('All that stands')
    await officer.click('Settle 1 value')
    await officer.until(
      async () => !(await text()).includes('Two versions of one value'),
      'nothing left to decide',
    )
    const { body } = await client.get<{ cells: { cell: string; content: object }[]; conflicts: object[] }>(
      `/api/reports/${WEEK}/${unit.code}`,
    )
    expect(body.conflicts).toEqual([])
    expect(body.cells.filter(({ cell }) => cells.includes(cell)).map(({ content }) => content)).toEqual(
      expect.arrayContaining([
        { kind: 'value', value: 5 },
        { kind: 'value', value: 3 },
      ]),
    )
  })
})
