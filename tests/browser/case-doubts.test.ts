import { Key } from 'selenium-webdriver'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { RuleDefinition } from '#core/rule/definition'
import { Visitor } from '../support/browser'
import { entryMade } from '../support/cases'
import { cardFor } from '../support/client'
import { deskOf, publishRegister } from '../support/desk'
import { startDemo, type RunningServer } from '../support/server'
import { shot } from '../support/shot'
import { TestDevice } from '../support/test-device'
import { field, visits } from '../support/visits'

const words = (en: string) => ({ en, fr: en })
const rule = (code: string, name: string, expression: string, strength: RuleDefinition['strength']) => ({
  code,
  name: words(name),
  expression,
  strength,
  blanks: 'notJudged' as const,
  forClerk: words('Ask the mother again.'),
  forOfficer: words('A fever of more than two weeks is rare.'),
})
const RULES = [
  rule('fever_short', 'A fever ends within two weeks', 'visit.fever_days <= 14', 'mustFix'),
  rule('seen_later', 'A later visit is after the first', 'again.seen_on > visit.visited_on', 'explain'),
]
const UNSAID = 'Not yet: 1 doubt needs a correction or a sentence.'
let server: RunningServer
let officer: Visitor
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  await publishRegister(server.address, { ...visits(), rules: RULES })
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
  clerk = await deskOf(server.address, 'tern_row')
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
})
const clean = async (visitor: Visitor) => expect(await visitor.faults()).toEqual([])
const fill = async (question: string, text: string) =>
  (await clerk.enter(field(question))).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB)

describe('a report that lacks registered cases', () => {
  const WEEK = 'weekly_diseases~2026-W45'
  const cell = (band: string) => `input[data-cell="measles.${band}"]`
  let tablet: TestDevice
  const sick = (name: string, rash: string) =>
    entryMade(
      uuid(),
      { full_name: name, sex: 'f', told_age: 3, age_years: 3, rash_on: rash, notified_on: '2026-11-06' },
      { edition: 2, unit: 'tern_row', madeAt: '2026-11-06T10:00:00Z' },
    )
  const valueIn = (band: string) =>
    clerk.run<string>('return document.querySelector(arguments[0]).value', cell(band))

  it('says so while it is filled, and takes the count of the register with one touch, or one key', async () => {
    const code = await cardFor(server.address, 'tern_row', 1)
    tablet = await TestDevice.pair(server.address, 'clerk.tern_row', code)
    const { body } = await tablet.sendNow([
      sick('Sorrel Hyde', '2026-11-03'),
      sick('Dunstan Pell', '2026-11-05'),
      // Of the week before.
      sick('Yarrow Finch', '2026-10-30'),
    ])
    expect(body.outcomes.map(({ outcome }) => outcome)).toEqual(['received', 'received', 'received'])
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.open(`/desk/report/${WEEK}`)
    await clerk.enter(cell('u5'))
    await clerk.reads('Suspected measles, under 5 years: The register has 2.')
    await shot(clerk, 'register-says')
    await clean(clerk)
    await clerk.click('Use it', '.says .spread:first-child button')
    await clerk.until(async () => (await valueIn('u5')) === '2', 'the count of the register')
    await clerk.reads('The register has 0.')
    await (await clerk.enter(cell('a5plus'))).sendKeys('r')
    await clerk.until(async () => (await valueIn('a5plus')) === '0', 'the count of the register')
    await clerk.until(
      async () => !(await clerk.run<boolean>('return document.querySelector(".says") !== null')),
      'register and report to agree',
    )
    await clean(clerk)
  })

  it('that was sent is asked about at the office, and corrected to what the register says', async () => {
    const SENT = 'weekly_diseases~2026-W42'
    await tablet.sendNow([sick('Perran Osk', '2026-10-13'), sick('Tegen Loy', '2026-10-15')])
    await officer.open(`/cases/against/${SENT}`)
    await officer.click('Tern Row', 'td button')
    await officer.reads('Ask the facility which of the two is right')
    await (await officer.enter('#ask-about-count')).sendKeys('Two girls are in the register only.')
    await clean(officer)
    await officer.click('Ask the facility', 'button[type=submit]')
    await officer.reads('Suspected measles, under 5 years: the register says another number')
    await officer.reads('Two girls are in the register only.')
    await officer.click('the number of Measles and rubella', 'summary')
    await officer.reads('Perran Osk')
    await shot(officer, 'count-discrepancy')
    await clean(officer)
    const registered = await officer.run<string>(
      'return [...document.querySelectorAll(".sides .figure")][1].textContent',
    )
    await officer.click('Correct', 'button')
    await (await officer.enter('form input')).sendKeys(Key.chord(Key.CONTROL, 'a'), registered.trim())
    await (await officer.enter('#say-correct')).sendKeys('Both were on the back of the page.')
    await officer.click('Settle as corrected', 'form button')
    await officer.open(`/cases/against/${SENT}`)
    await officer.reads(/\d+ of \d+ comparisons|agrees with its register/)
    expect(
      await officer.run<boolean>(
        'return [...document.querySelectorAll("tbody tr")].some(row => row.textContent.includes("Tern Row"))',
      ),
    ).toBe(false)
  })
})

describe('a doubtful entry', () => {
  it('is found on the phone while it is filled, and is not saved without a sentence', async () => {
    await clerk.click('Cases', 'nav a')
    await clerk.click('Home visits', 'a')
    await fill('visited_name', 'Wenna Drift')
    await fill('visited_on', '2026')
    await clerk.click('Yes', '[data-question="fever"] button')
    await fill('fever_days', '40')
    await clerk.reads('Look at this before you save it')
    await clerk.reads('A fever ends within two weeks')
    await clerk.reads('Ask the mother again.')
    await clean(clerk)
    await clerk.click('Save', '.foot button')
    await clerk.reads(UNSAID)
    await clerk.click('It cannot be corrected', '.doubt button')
    await (await clerk.enter('.doubt textarea')).sendKeys('She says that it began in spring.')
    await shot(clerk, 'entry-doubt')
    await clean(clerk)
  })

  it('keeps what was said through a reload, and is sent with it', async () => {
    await clerk.run('document.activeElement.blur()')
    await clerk.reads('Look at this before you save it')
    const { pathname, search } = new URL(await clerk.driver.getCurrentUrl())
    await clerk.open(pathname + search)
    await clerk.until(
      async () =>
        (await clerk.run<string>('return document.querySelector(".doubt textarea")?.value ?? ""')) ===
        'She says that it began in spring.',
      'the sentence to be there',
    )
    await clerk.saveCase()
    await clerk.reads('Later visit')
    await clean(clerk)
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.reads('Nothing waits on this device')
  })

  it('is asked about by the officer, who sees what the clerk said', async () => {
    await officer.open('/resolve')
    await officer.click('doubts about cases', 'a')
    await officer.click('Wenna Drift', 'button.line')
    await officer.reads('She says that it began in spring.')
    await officer.reads('A fever of more than two weeks is rare.')
    await officer.reads('When the facility corrects it by a new entry, this closes by itself.')
    await shot(officer, 'zz-case-doubts')
    await clean(officer)
    await officer.click('Ask the facility', 'button')
    await (await officer.enter('#say-ask')).sendKeys('Is it forty days, or four?')
    await officer.click('Send the question', 'button')
    await officer.reads('asked')
    await officer.open('/cases?need=hasDoubt')
    await officer.reads('Wenna Drift')
    await clean(officer)
  })

  it('is answered on the phone, corrected by a new entry, and closes by itself', async () => {
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.open('/desk')
    await clerk.click('1 question about a case from the district', 'a')
    await clerk.click('A fever ends within two weeks', 'a.line')
    await clerk.reads('Is it forty days, or four?')
    await shot(clerk, 'case-question')
    await clean(clerk)
    await (await clerk.enter('#answer-text')).sendKeys('Four. I correct it.')
    await clerk.click('Send the answer', 'button')
    await clerk.reads('Four. I correct it.')
    await clerk.click('Correct it in the case', 'a')
    await clerk.see(field('fever_days'))
    await fill('fever_days', '4')
    await clerk.saveCase()
    await clerk.reads('corrected')
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.reads('Nothing waits on this device')
    await officer.open('/resolve/cases')
    await officer.click('Settled', 'button')
    await officer.click('Wenna Drift', 'button.line')
    await officer.reads('Four. I correct it.')
    await officer.reads(/corrected/i)
    await clean(officer)
  })
})

describe('a form that a facility filled on paper', () => {
  it('is entered at the office, with a doubt that is said, and stands in the time line as such', async () => {
    await officer.open('/cases?register=home_visits')
    await officer.click('Enter a paper form', 'a')
    await officer.pick('paper-unit', 'Cooper Stairs Dispensary')
    const write = async (css: string, text: string) =>
      (await officer.enter(css)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB)
    await write('#paper-on', '2026-11-02')
    await write(field('visited_name'), 'Merren Toll')
    await officer.click('Save the form', 'button')
    await officer.reads('Visited on')
    await write(field('visited_on'), '2025')
    await officer.click('Yes', '[data-question="fever"] button')
    await write(field('fever_days'), '20')
    await officer.reads('A fever ends within two weeks')
    // A page that is loaded anew has what was typed.
    const { pathname, search } = new URL(await officer.driver.getCurrentUrl())
    await officer.open(pathname + search)
    await officer.reads('A fever ends within two weeks')
    await officer.click('It cannot be corrected', '.doubt button')
    await (await officer.enter('.doubt textarea')).sendKeys('It stands so on the paper.')
    await shot(officer, 'paper-entry')
    await clean(officer)
    await officer.click('Save the form', 'button')
    await officer.reads(/entered .* from paper of 2 Nov 2026/)
    await officer.reads('A fever ends within two weeks')
    await officer.click('Who may open this case', 'summary')
    await officer.reads('once')
    await shot(officer, 'case-from-paper')
    await clean(officer)
  })

  it('corrects an entry, and adds a further one', async () => {
    await officer.click('Correct from paper', 'a')
    await officer.reads('Day of the paper')
    const write = async (css: string, text: string) =>
      (await officer.enter(css)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB)
    await write('#paper-on', '2026-11-02')
    await write(field('fever_days'), '2')
    await officer.click('Save the form', 'button')
    await officer.reads('Was corrected')
    await officer.click('Later visit', 'a')
    await write('#paper-on', '2026-11-06')
    await write(field('seen_on'), '2026')
    await officer.click('Save the form', 'button')
    await officer.reads(/from paper of 6 Nov 2026/)
    await clean(officer)
  })
})
