import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DistrictReport } from '#core/contract/district-reports'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { cardFor, Client } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { choose, setDay } from '../support/answers'
import { shot } from '../support/shot'

const GONE = /ERR_INTERNET_DISCONNECTED/
const ROUND = 'sterilising_and_power~2026-Q3'
const UNIT = 'lowgate'
/** What the paper of a supervisor asks, a line each. */
const PAPER = [
  'STERILISING',
  '1. Number of autoclaves',
  '2. Is there an autoclave that works? (yes / no)',
  '3. Why not',
  '4. Date of the last service',
  '5. Instruments are sterilised by: 1 = autoclave, 2 = dry oven, 3 = boiling',
].join('\n')
let server: RunningServer
let officer: Visitor
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address, OFFICE)
  await officer.signIn('officer.ashmere')
  clerk = await Visitor.arrive(server.address, PHONE)
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])
const isAsked = (item: string) =>
  clerk.run<boolean>('return Boolean(document.querySelector(arguments[0]))', `[data-question="${item}"]`)

describe('the weeks and quarters of the scenario', () => {
  it('have their boards and district reports: how many gave each answer, and which', async () => {
    await officer.open('/gather/weekly_diseases~2026-W45')
    await officer.reads('Lowgate Maternity Home')
    await officer.see('.lanterns svg')
    await clean(officer)
    await shot(officer, 'board-week')
    await officer.open('/report/equipment~2026-Q3')
    await officer.click('An autoclave works', '.opens')
    await officer.reads(/3 of 12: No\.\s+Amber Cross Health Centre/)
    await clean(officer)
    await shot(officer, 'equipment-report')
  })

  it('are rolled up to longer periods: the weeks of a month beside the month itself', async () => {
    await officer.open('/report/weekly_diseases~2026-W44')
    await officer.click('Over longer periods', 'summary')
    const page = await officer.reads('5 rounds')
    for (const period of ['October 2026', 'quarter 4 of 2026', '2026']) expect(page).toContain(period)
    await clean(officer)
    await shot(officer, 'longer')
    await officer.pick('longer-borders', 'of today')
    await officer.reads('5 rounds')
    await officer.open('/report/monthly_summary~2026-10')
    await officer.click('Over longer periods', 'summary')
    await officer.reads('10 rounds')
    await clean(officer)
  })

  it('are filled on a phone, the weeks ahead under what comes up', async () => {
    const phone = await Visitor.arrive(server.address, PHONE)
    try {
      await phone.signIn('clerk.garrick_point')
      const page = await phone.reads('Coming up')
      expect(page.indexOf('week 45 of 2026')).toBeGreaterThan(0)
      expect(page.indexOf('week 46 of 2026')).toBeGreaterThan(page.indexOf('Coming up'))
      await clean(phone)
      await phone.click('quarter 3 of 2026', 'a')
      await phone.click('2', '.sections button')
      await (await phone.enter('input[data-cell="microscopes"]')).sendKeys('4')
      await (await phone.enter('input[data-cell="microscopes_working"]')).sendKeys('3')
      // Computed while it is typed.
      await phone.until(
        async () =>
          (await phone.run<string>(
            'return document.querySelector("[data-answer=microscopes_share] output").innerText',
          )) === '75',
        'the share to be computed',
      )
      await clean(phone)
      await shot(phone, 'equipment-entry')
    } finally {
      await phone.leave()
    }
  })

  it('are sent on Monday morning, and the month beside them is doubted before it is sent', async () => {
    const phone = await Visitor.arrive(server.address, PHONE)
    try {
      await phone.signIn('clerk.tern_row')
      await phone.click('week 45 of 2026', 'a')
      for (const section of ['1', '2']) {
        await phone.click(section, '.sections button')
        await (await phone.enter('input[data-row="0"][data-column="0"]')).sendKeys('z')
      }
      await phone.click('Look over and send')
      await phone.click('Send the report')
      await phone.reads(/Received by the district/)
      await clean(phone)
      // Her five weeks of October say 26 with diarrhoea; the month says none.
      await phone.click('Due', 'nav a')
      await phone.click('October 2026', 'a')
      await phone.click('1', '.sections button')
      for (const age of ['u5', 'a5plus'])
        await (await phone.enter(`input[data-cell="diarrhoea.${age}"]`)).sendKeys('0')
      await phone.reads('The weekly reports of this month tell of far more diarrhoea than this report.')
      await clean(phone)
      await shot(phone, 'zz-across')
    } finally {
      await phone.leave()
    }
    await officer.open('/report/weekly_diseases~2026-W45')
    await officer.click('Over longer periods', 'summary')
    await officer.reads('November 2026')
  })
})

describe('a quarterly dataset with answers of every kind', () => {
  it('is made from a pasted list, in which the kinds are guessed', async () => {
    await officer.open('/define')
    await officer.click('Begin a dataset')
    await (await officer.see('#new-title')).sendKeys('Sterilising and power')
    await officer.keys('\uE007')
    await officer.click('Paste a list')
    await officer.run(
      'arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event("input", { bubbles: true }))',
      await officer.see('#pasted'),
      PAPER,
    )
    const page = await officer.reads('Add 5 items')
    expect(page).toContain('whole number')
    await clean(officer)
    await officer.click('Add 5 items')
    await officer.pick('frequency', 'every quarter')
    await officer.write('#closes', '60')
    await officer.saved()
    await officer.click('Why not', '.item')
    await officer.pick('item-kind', 'text')
    await officer.click('Ask it only when')
    await officer.click('Put it together from parts')
    await officer.pick('item-shown-parts-name', 'Is there an autoclave that works?')
    await officer.pick('item-shown-parts-how', 'is no')
    await officer.click('Add', '.parts button')
    await officer.pick('part-required', 'always')
    await officer.saved()
    await shot(officer, 'item')
    await clean(officer)
    await officer.click('Date of the last service', '.item')
    await officer.click('Add a limit')
    await (await officer.enter('#accepted-0')).sendKeys('date_of_the_last_service <= date("2026-09-30")')
    await officer.write('#message-0-en', 'The service is later than the quarter.')
    await officer.saved()
    await clean(officer)
  })

  it('is published for this quarter', async () => {
    await officer.click('Who reports it', 'nav button')
    await setDay(officer, '#from-0', '2026-07-01')
    await officer.saved()
    await officer.click('Publish', 'nav button')
    await officer.reads('Ready to publish')
    await clean(officer)
    await officer.click('Publish edition 1')
    await officer.click('Publish it', '.p-dialog button')
    await officer.reads('Edition 1 is published.')
    await officer.click('Exchange', 'nav button')
    await officer.click('Save “Sterilising and power”')
    await officer.reads('“Sterilising and power” is saved.')
    await clean(officer)
  })

  it('is filled on a phone without a network: what does not apply is not asked, and says what it clears', async () => {
    const code = await cardFor(server.address, UNIT, 1)
    await clerk.open(`/desk/pair#${code}`)
    await clerk.click('Pair it')
    await clerk.click('Go on to the desk')
    await clerk.signInAtDesk(`clerk.${UNIT}`)
    await clerk.reads('Sterilising and power')
    await clerk.click('Device', 'nav a')
    await clerk.reads('It can work without a network')
    await clerk.click('Due', 'nav a')
    await clerk.network(false)
    await clerk.click('Sterilising and power', 'a')
    await (await clerk.enter('input[data-cell="number_of_autoclaves"]')).sendKeys('1')
    expect(await isAsked('why_not')).toBe(false)
    await choose(clerk, 'is_there_an_autoclave_that_works', 'No')
    await (await clerk.enter('[data-question="why_not"] input')).sendKeys('The seal is torn')
    await clerk.keys('\uE004')
    await setDay(clerk, '[data-question="date_of_the_last_service"] input', '2026-10-14')
    await clerk.reads('The service is later than the quarter.')
    await choose(clerk, 'instruments_are_sterilised_by', 'boiling')
    await shot(clerk, 'answers')
    await clean(clerk, GONE)
    // An answer that makes another one not apply says so first; one touch brings it back.
    await choose(clerk, 'is_there_an_autoclave_that_works', 'Yes')
    await clerk.reads('Why not')
    await clerk.click('Clear', '[role=alertdialog] button')
    await clerk.until(async () => !(await isAsked('why_not')), 'the question to go')
    await clerk.click('Bring', '[role=status] button')
    await clerk.until(
      async () =>
        (await clerk.run<string>('return document.querySelector("[data-question=why_not] input")?.value')) ===
        'The seal is torn',
      'the question to be back with its answer',
    )
    await clerk.network(true)
    await clerk.click('Look over and send')
    await clerk.reads('1 value cannot be right')
    await clerk.reads('The service is later than the quarter.')
    await shot(clerk, 'equipment-send')
    await clerk.click('It cannot be corrected')
    await (await clerk.see('[id^="cannot-"]')).sendKeys('So it stands on the sheet.')
    await clean(clerk, GONE)
    await clerk.click('Send the report')
    await clerk.reads(/Received by the district/)
    await clean(clerk, GONE)
  })

  it('is rolled up: how many have no working autoclave, and which', async () => {
    await officer.open(`/report/${ROUND}`)
    await officer.reads('Is there an autoclave that works?')
    await officer.click('Is there an autoclave that works?', '.opens')
    await officer.reads(/1 of 1: No\.\s+Lowgate/)
    await officer.reads('boiling 1')
    await clean(officer)
    const { body } = await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<DistrictReport>(`/api/district-reports/${ROUND}`)
    const lines = body.figures.sections.flatMap(section => section.lines)
    expect(lines.find(({ item }) => item === 'date_of_the_last_service')).toMatchObject({ rollUp: 'latest' })
  })

  it('is read by the officer, and a doubt about an answer is settled with the right one', async () => {
    await officer.open(`/facility/${ROUND}/${UNIT}`)
    const page = await officer.reads('The seal is torn')
    expect(page).toContain('Not possible: Date of the last service')
    await shot(officer, 'equipment-facility')
    await clean(officer)
    await officer.click('Not possible: Date of the last service', 'a')
    await officer.reads('So it stands on the sheet.')
    await officer.click('Correct', 'label, button')
    await setDay(officer, 'input[type=date]', '2026-09-14')
    await (
      await officer.see('.p-textarea')
    ).sendKeys('October was a slip: the technician confirms 14 September.')
    await shot(officer, 'equipment-doubt')
    await clean(officer)
    await officer.click('Settle as corrected', 'form button')
    await officer.open(`/report/${ROUND}`)
    await officer.reads('14 Sept 2026')
  })
})
