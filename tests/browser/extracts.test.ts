import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { parse } from 'csv-parse/sync'
import { By, Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

let server: RunningServer
let officer: Visitor
const folder = mkdtempSync(join(tmpdir(), 'lantern-extracts-'))

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address)
  await officer.downloads(folder)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})
const clean = async (visitor = officer, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])

/** The file that was downloaded, once all of it is there. */
async function downloaded(visitor: Visitor, name: RegExp): Promise<Buffer> {
  const find = () => readdirSync(folder).find(file => name.test(file))
  await visitor.until(() => Promise.resolve(find() !== undefined), `${String(name)} to be downloaded`)
  const file = join(folder, find()!)
  expect(existsSync(file)).toBe(true)
  return readFileSync(file)
}
/** The heads of the first table, as they will stand in the file. */
const heads = (visitor: Visitor) =>
  visitor.run<string[]>(
    'return [...document.querySelectorAll("table .heads th")].slice(0, 40).map(one => one.innerText)',
  )
const focusHead = (visitor: Visitor, label: string) =>
  visitor.run(
    `[...document.querySelectorAll('th .textual')].find(one => one.innerText.trim() === arguments[0]).focus()`,
    label,
  )

describe('an extract', () => {
  it('is put together with the file in sight: columns ticked, moved by keys, renamed and taken out', async () => {
    await officer.open('/extracts')
    await officer.reads('Nothing is saved yet')
    await clean()
    await officer.click('New extract')
    await officer.pick('extract-of', 'Monthly facility summary')
    await officer.see('table tbody td')
    await officer.until(
      async () => (await heads(officer)).includes('new_visits_u1_f'),
      'the columns of the summary',
    )
    const before = await heads(officer)
    expect(before.slice(0, 3)).toEqual(['unit', 'unit_name', 'period'])

    await focusHead(officer, 'Period')
    await officer.type(Key.chord(Key.ALT, Key.ARROW_LEFT))
    await officer.until(async () => (await heads(officer))[1] === 'period', 'the period to be moved')
    await officer.type(Key.chord(Key.ALT, Key.ARROW_LEFT))
    await officer.type(Key.ENTER)
    await officer.write('#column-name', 'Month')
    await officer.type(Key.ENTER)
    await officer.until(async () => (await heads(officer))[0] === 'Month', 'the column to be renamed')
    await focusHead(officer, 'Facility')
    await officer.type(Key.DELETE)
    await officer.until(async () => (await heads(officer))[2] === before[3], 'the column to be taken out')
    await officer.reads('Not saved; kept in this browser')
    await officer.write('.outline .p-inputtext', 'on time')
    await officer.click('On time', '.outline .one')
    await officer.until(async () => (await heads(officer)).includes('on_time'), 'the column to be added')
    await clean()
  })

  it('says at the condition what is wrong, and takes only rows that meet it', async () => {
    const rowCount = async () =>
      Number(/([\d,]+) rows/.exec(await officer.reads(/[\d,]+ rows/))![1]!.replace(',', ''))
    const all = await rowCount()
    await officer.click('Only rows that meet a condition')
    await officer.enter('#extract-where')
    await officer.type('live_birth > 40')
    await officer.reads(/live_births/)
    await officer.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform()
    await officer.type('deliveries > 40', Key.ESCAPE)
    await officer.until(async () => (await rowCount()) < all, 'the number of rows that meet it')
    expect(await rowCount()).toBeGreaterThan(0)
    await shot(officer, 'zz-extract-where')
    await clean()
    await officer.driver.actions().keyDown(Key.CONTROL).sendKeys('a').keyUp(Key.CONTROL).perform()
    await officer.type(Key.BACK_SPACE)
    await officer.reads(/\d+ rows/)
  })

  it('is saved, taken out, and the file says what the reports say', async () => {
    await officer.write('#extract-name', 'Deliveries by month')
    await officer.write('.outline .p-inputtext', ' ')
    await officer.click('Save')
    await officer.reads('Only what came since I last took it out')
    await officer.run('scrollTo(0, 0)')
    await shot(officer, 'extract')
    const count = Number(/([\d,]+) rows/.exec(await officer.reads(/[\d,]+ rows/))![1]!.replaceAll(',', ''))
    await officer.click('Take out')
    await officer.click('Download (')
    const rows = parse(await downloaded(officer, /^Deliveries by month .*\.csv$/), {
      bom: true,
      columns: true,
    }) as Record<string, string>[]
    expect(rows).toHaveLength(count)
    const client = await Client.signedIn(server.address, 'officer.ashmere')
    for (const { Month, unit, ...row } of rows.slice(-3)) {
      const { body } = await client.get<ReportFile>(`/api/reports/monthly_summary~${Month}/${unit}`)
      for (const { cell, content } of body.cells)
        if (
          content.kind === 'value' &&
          typeof content.value === 'number' &&
          row[cell.replaceAll('.', '_')] !== undefined
        )
          expect([cell, row[cell.replaceAll('.', '_')]]).toEqual([cell, String(content.value)])
    }
  })

  it('goes with another one into one zip', async () => {
    await officer.open('/extracts/build')
    await officer.pick('extract-of', 'Measles and rubella')
    await officer.until(async () => (await heads(officer)).includes('rash_on'), 'the columns of the register')
    expect(await heads(officer)).not.toContain('full_name')
    await officer.write('.outline .p-inputtext', 'full_name')
    await officer.click('full_name', '.outline .one')
    await officer.until(async () => (await heads(officer)).includes('full_name'), 'the name to be a column')
    await shot(officer, 'zz-extract-cases')
    await clean()
    await officer.write('#extract-name', 'Measles cases')
    await officer.click('Share it', 'label')
    await officer.click('Save')
    await officer.open('/extracts')
    await officer.reads('Measles cases')
    for (const box of await officer.driver.findElements(By.css('tbody .p-checkbox-input'))) await box.click()
    await shot(officer, 'zz-extracts-saved')
    await officer.click('Take 2 out in one zip')
    await officer.click('Download (')
    expect((await downloaded(officer, /^extracts .*\.zip$/)).subarray(0, 2).toString()).toBe('PK')
    await officer.click('Who took out what')
    await officer.reads('Deliveries by month, Measles cases'.split(',')[0]!)
    await officer.reads(/personal/i)
    await shot(officer, 'zz-extracts-log')
    await clean()
  })

  it('takes what one device sent alone, and a table of the form as a sheet of its own', async () => {
    const rows = async () =>
      Number(/([\d,]+) rows?/.exec(await officer.reads(/[\d,]+ rows?/))![1]!.replaceAll(',', ''))
    await officer.open('/extracts/build')
    await officer.pick('extract-of', 'Measles and rubella')
    await officer.pick('extract-rows', 'Entries as they were filled')
    await officer.until(async () => (await heads(officer)).includes('rash_on'), 'the entries of the register')
    const all = await rows()
    await (await officer.enter('#extract-device')).sendKeys('sedge')
    await officer.click('Sedge Bay', '.p-autocomplete-option')
    await officer.until(async () => (await rows()) < all, 'fewer entries')
    await shot(officer, 'zz-extract-device')
    await clean()
    await officer.driver.navigate().refresh()
    await officer.until(
      async () =>
        (await officer.run<string>('return document.querySelector("#extract-device")?.value ?? ""')) ===
        'Phone 1 · Sedge Bay Health Centre',
      'the device that was chosen',
    )
    await officer.pick('extract-of', 'Water and hygiene visits')
    await officer.until(
      async () => (await heads(officer)).includes('basins_waiting'),
      'the places of the table',
    )
    await officer.pick('extract-tables', 'sheets of their own')
    await officer.reads('Sheet of its own: rooms')
    expect(await heads(officer)).not.toContain('basins_waiting')
    const rooms = () =>
      officer.run<string[]>(
        `return [...document.querySelectorAll('[aria-label="Sheet of its own: rooms"] .heads th')].map(one => one.textContent)`,
      )
    const [first, second, ...others] = (await rooms()).slice(-4)
    await officer.run(`document.getElementById('head-rooms-rooms.${first}').focus()`)
    await officer.type(Key.chord(Key.ALT, Key.ARROW_RIGHT))
    await officer.until(async () => (await rooms()).slice(-4)[0] === second, 'the column to have moved')
    await officer.keys(Key.ENTER)
    await officer.enter('#column-name')
    await officer.type(Key.chord(Key.CONTROL, 'a'), 'counted in rooms', Key.ENTER)
    await officer.until(
      async () =>
        JSON.stringify((await rooms()).slice(-4)) === JSON.stringify([second, 'counted in rooms', ...others]),
      'the column to be renamed',
    )
    await officer.run('scrollTo(0, 0)')
    await shot(officer, 'zz-extract-tables')
    await clean()
    await officer.click('Discard changes')
  })

  it('has no personal column for a reader, who is told so', async () => {
    const reader = await Visitor.arrive(server.address, undefined, 'fr')
    await reader.downloads(folder)
    await reader.signIn('reader')
    await reader.open('/extracts')
    await reader.click('Measles cases', 'a')
    await reader.reads(/omis : vous ne pouvez pas sortir les réponses personnelles|omis.*personnelles/)
    expect(await heads(reader)).not.toContain('full_name')
    await shot(reader, 'zz-extract-reader')
    await clean(reader)
    await reader.leave()
  })
})

describe('the data dictionary', () => {
  it('leads from a question to its column, and says what an indicator is computed from', async () => {
    await officer.open('/extracts/dictionary?of=monthly_summary')
    await officer.reads('Indicators')
    await officer.reads(/From the columns .*deliveries_u20/)
    await shot(officer, 'dictionary')
    await clean()
    await officer.pick('dictionary-of', 'Measles and rubella')
    await officer.write('#dictionary-find', 'day of the rash')
    await officer.reads('rash_on')
    await officer.click('As a file')
    const table = parse(await downloaded(officer, /^measles_cases-dictionary\.csv$/), {
      bom: true,
      relax_column_count: true,
    }) as string[][]
    expect(table.find(([column]) => column === 'sex')).toContain('f = Female; m = Male')
  })
})
