import { mkdirSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { parse } from 'csv-parse/sync'
import { Key } from 'selenium-webdriver'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import type { DistrictReport } from '#core/contract/district-reports'
import { cellsOf } from '#core/report/edition'
import { layOut } from '#core/report/layout'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

let server: RunningServer
let officer: Visitor
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address, OFFICE)
  clerk = await Visitor.arrive(server.address, PHONE)
})
afterAll(async () => {
  await officer?.leave()
  await clerk?.leave()
  await server?.stop()
})
afterEach(async () => {
  expect(await officer.consoleErrors(), 'errors in the officer’s console').toEqual([])
  expect(await clerk.consoleErrors(), 'errors in the clerk’s console').toEqual([])
})

const clean = async (visitor: Visitor) => expect(await visitor.axe()).toEqual([])

/** Tern Row is late: the clerk fills its October report from here on. */
const UNIT = 'tern_row'
const SECTIONS = ['outpatients', 'antenatal', 'births', 'immunisation', 'stock']

describe('the seven steps', () => {
  it('2. the officer signs in and Today says what needs her', async () => {
    await officer.open('/sign-in')
    await officer.see('#user-name')
    await clean(officer)
    await officer.signIn('officer.ashmere')
    const page = await officer.reads('What needs you')
    expect(page).toContain('Monthly facility summary, October 2026')
    expect(page).toMatch(/17\s+of 22/)
    expect(page).toMatch(/9 discrepancies to settle/)
    await clean(officer)
    await shot(officer, 'today')
  })

  it('3. Gather shows the board of the October round', async () => {
    await officer.click('Gather')
    await officer.reads('week 45 of 2026')
    await officer.pick('round-dataset', 'Monthly facility summary')
    await officer.see('tbody tr.p-datatable-selectable-row')
    const page = await officer.reads('Lowgate Maternity Home')
    expect(page).toContain('Sedge Bay Health Centre')
    expect(page).toMatch(/late: not sent yet/i)
    expect(
      await officer.run<number>(
        'return document.querySelectorAll("tbody tr.p-datatable-selectable-row").length',
      ),
    ).toBe(22)
    expect(await officer.run<number>('return document.querySelectorAll("tbody .lanterns svg").length')).toBe(
      22 * 12 - 6,
    )
    await clean(officer)
    await shot(officer, 'board')
    await officer.keys('[')
    await officer.reads('September 2026')
    await officer.keys(']')
    await officer.reads('October 2026')
  })

  it('4. a facility’s report opens by keyboard, with sections, last month, range, history and comments', async () => {
    await officer.run('document.querySelector("tbody tr.p-datatable-selectable-row").focus()')
    await officer.type(Key.ARROW_DOWN, Key.ENTER)
    await officer.reads('Under each box: last time')
    expect(await officer.run<string>('return location.pathname + location.search')).toMatch(
      /^\/gather\/monthly_summary~2026-10\?unit=\w+/,
    )
    await officer.open(`/facility/${OCTOBER}/sedge_bay`)
    await officer.click('Antenatal care')
    const cell = await officer.see('input[data-cell="antenatal_first.a20plus"]')
    await cell.click()
    const page = await officer.reads('blank → 250')
    expect(page).toContain('Usual here')
    expect(page).toContain('Last time')
    await cell.sendKeys('c')
    await officer.type('Asked by telephone', Key.ENTER)
    await officer.reads('Asked by telephone')
    await clean(officer)
    await shot(officer, 'facility-report')
  })

  it('5. the clerk sees what is due and fills the October report by keyboard, with each doubt while typing', async () => {
    await clerk.signIn(`clerk.${UNIT}`)
    await clerk.reads('Due now')
    await clean(clerk)
    await shot(clerk, 'due')
    await clerk.click('October 2026')
    await clerk.reads('Section 1 of 5')
    await clean(clerk)

    const { body: file } = await (
      await Client.signedIn(server.address, `clerk.${UNIT}`)
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
    const last = (cell: string) => file.history.numbers[cell]![0]
    // Last month's figures again, but stock that goes on from where it ended and is neither used nor
    // received.
    const typed = (cell: string) => {
      const [item, band] = cell.split('.') as [string, string]
      if (item === 'stock_opening' || item === 'stock_closing') return last(`stock_closing.${band}`)
      if (['stock_received', 'stock_wasted'].includes(item)) return 0
      return item === 'stock_used' ? 0 : last(cell)
    }
    for (const [at, code] of SECTIONS.entries()) {
      await clerk.reads(`Section ${at + 1} of 5`)
      const section = file.edition.sections.find(one => one.code === code)!
      await (await clerk.see('input[data-row="0"][data-column="0"]')).click()
      const cells = layOut(file.edition, section).flatMap(block =>
        block.kind === 'list'
          ? block.cells
          : block.kind === 'matrix'
            ? block.rows.flatMap(row => row.cells)
            : block.rows.flat(),
      )
      for (const { key } of cells) {
        expect(await clerk.run<string>('return document.activeElement.dataset.cell')).toBe(key)
        const value = typed(key)
        await clerk.type(...(value === null ? ['x'] : [String(value)]), Key.TAB)
      }
      if (code === 'births') {
        await typeInto('live_births.f', '640')
        await clerk.reads('There are more births than deliveries')
        await clerk.reads(/What these numbers come to.*Stillbirths.*per 1,000 births/s)
        await shot(clerk, 'entry')
        await clerk.run('document.querySelector(".indicators").scrollIntoView({ block: "center" })')
        await shot(clerk, 'zz-comes-to')
        await clean(clerk)
      }
      if (code !== 'stock') await clerk.click('Next section')
    }
    expect(cellsOf(file.edition).length).toBeGreaterThan(110)
  })

  const typeInto = async (cell: string, text: string) => {
    const field = await clerk.enter(`input[data-cell="${cell}"]`)
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text)
  }

  it('5b. a must-fix doubt stops the sending and says why; an explain doubt asks for a sentence', async () => {
    await clerk.click('Look over and send')
    const page = await clerk.reads('1 value cannot be right')
    expect(page).toContain('Not yet: correct what cannot be right')
    expect(page).toContain('More births than deliveries')
    expect(await (await clerk.see('.go')).isEnabled()).toBe(false)
    await clean(clerk)
    await clerk.click('Correct it')
    await clerk.reads('Section 3 of 5')
    const { body: file } = await (
      await Client.signedIn(server.address, `clerk.${UNIT}`)
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
    await typeInto('live_births.f', String(file.history.numbers['live_births.f']![0]))
    await clerk.click('4', '.sections button')
    await clerk.reads('Section 4 of 5')
    await clerk.click('5', '.sections button')
    await clerk.reads('Section 5 of 5')
    await clerk.click('Look over and send')
    await clerk.reads('More measles doses given than used')
    await clerk.reads('Not yet: 1 sentence is missing.')
    const sentence = await clerk.see('textarea')
    await sentence.sendKeys('The stock card was not filled this month.')
    await shot(clerk, 'zz-send')
    await clerk.click('Send the report')
    await clerk.reads('Received by the district at')
    await clean(clerk)
  })

  it('6. the doubt is a discrepancy with its numbers, 13 months and its effect; asked, answered, corrected, settled', async () => {
    await officer.click('Resolve')
    await officer.click('Tern Row Health Centre')
    const page = await officer.reads('The stock card was not filled this month.')
    expect(page).toContain('What the rule compared')
    expect(page).toContain('last 13 rounds')
    expect(page).toContain('Effect on Ashmere')
    await clean(officer)
    await officer.keys('a')
    await officer.see('textarea')
    await officer.type('How many vials were opened?')
    await officer.click('Send the question')
    await officer.reads('asked')
    await clerk.click('Questions')
    await clerk.reads('1 question is open')
    await clean(clerk)
    await clerk.click('More measles doses given than used')
    await clerk.reads('How many vials were opened?')
    await clean(clerk)
    const used = await clerk.see('[id="right-stock_used.measles"]')
    await used.sendKeys(Key.chord(Key.CONTROL, 'a'), '400')
    await (await clerk.see('#answer-text')).sendKeys('Forty vials of ten.')
    await clerk.click('Send the answer and the correction')
    await clerk.reads(/Forty vials of ten\./)
    await officer.driver.navigate().refresh()
    await officer.reads('passes now')
    await officer.keys('c')
    await officer.see('textarea')
    await officer.click('Settle as corrected', 'form button')
    await officer.until(
      async () =>
        !(
          await officer.run<string>(
            'return document.querySelector(".left")?.innerText ?? "More measles doses given than used\\nTern Row"',
          )
        ).includes('More measles doses given than used\nTern Row'),
      'the settled one to leave the list',
    )
  })

  it('6b. a value ten times too high says what may be meant', async () => {
    await officer.open('/resolve')
    await officer.reads('to resolve')
    await officer.click('Sedge Bay Health Centre')
    await officer.reads(/Perhaps \d+, with a zero too many\?/)
    await shot(officer, 'zz-slip')
    await clean(officer)
  })

  it('7. the district report is signed when nothing blocks, and stays as it is afterwards', async () => {
    await officer.open('/resolve')
    await officer.reads('to resolve')
    await officer.click('Lowgate Maternity Home')
    await officer.reads('Could the boys be written the wrong way round?')
    await officer.see('.chart canvas')
    await shot(officer, 'discrepancy')
    await officer.open('/resolve')
    for (;;) {
      const page = await officer.reads(/\d+ to resolve/)
      const left = Number(/(\d+) to resolve/.exec(page)![1])
      if (left === 0) break
      await officer.see('.detail')
      await officer.keys('e')
      const field = await officer.see('form textarea')
      await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Seen with the facility by telephone.')
      await officer.click('Settle as explained', 'form button')
      await officer.reads(`${left - 1} to resolve`)
    }
    await officer.click('Report', 'nav a')
    await officer.reads('Ashmere, district report')
    await officer.pick('round-dataset', 'Monthly facility summary')
    await officer.reads('October 2026')
    await officer.reads(/ready to sign/i)
    await clean(officer)
    await officer.click('Sign the district report')
    await officer.reads('are frozen as they are now')
    await clean(officer)
    await officer.click('Sign', '.p-dialog-footer button:last-child')
    await officer.reads('Proof of signature')
    await shot(officer, 'district-report')

    const inOffice = await Client.signedIn(server.address, 'officer.ashmere')
    const signed = (await inOffice.get<DistrictReport>(`/api/district-reports/${OCTOBER}`)).body
    // The clerk finds a missed page and changes a value, with the reason.
    await clerk.open(`/desk/report/${OCTOBER}?section=outpatients`)
    await (await clerk.see('#why-change')).sendKeys('A page of the register was missed.')
    await typeInto('injuries.f', '31')
    await clerk.type(Key.TAB)
    await clerk.reads('Received by the district')
    await officer.driver.navigate().refresh()
    const page = await officer.reads('changed since signing')
    expect(page).toContain('Injuries, female')
    const after = (await inOffice.get<DistrictReport>(`/api/district-reports/${OCTOBER}`)).body
    expect(after.figures).toEqual(signed.figures)
  })

  it('7b. the CSV downloads through the page', async () => {
    const folder = join(process.cwd(), '.data', 'downloads')
    mkdirSync(folder, { recursive: true })
    await officer.downloads(folder)
    await officer.click('Download CSV')
    const file = join(folder, 'ashmere_district-monthly_summary-2026-10.csv')
    await officer.until(
      () => Promise.resolve(readdirSync(folder).includes('ashmere_district-monthly_summary-2026-10.csv')),
      'the file to arrive',
    )
    const rows = parse(readFileSync(file, 'utf8'), { columns: true }) as Record<string, string>[]
    expect(rows.length).toBeGreaterThan(120)
    expect(rows[0]).toMatchObject({ district: 'Ashmere', period: '2026-10', reports_expected: '22' })
  })
})
