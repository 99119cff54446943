import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { PHONE, Visitor } from '../support/browser'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

/**
 * Twenty lines as they come from a spreadsheet: headings, numbering, tabs, empty lines, and one that is there
 * twice.
 */
const PAPER = [
  'STAFF',
  '1. Nurses on duty\t3',
  '2. Midwives on duty',
  '3. Clerks on duty',
  '',
  '4. Vaccinators on duty',
  '5. Guards on duty',
  '6. Days with a doctor',
  'Water:',
  '• Days with running water',
  '• Litres stored',
  '• Basins that work',
  '• Basins in all',
  'Power:',
  'a) Days with power',
  'b) Hours of the generator',
  'c) Litres of fuel',
  'd) Lamps that work',
  'REFERRALS',
  '- Referred by boat',
  '- Referred by road',
  '- Referred back here',
  '- Ambulance calls',
  '- Ambulance calls answered',
  '- Deaths on the way',
].join('\n')
let server: RunningServer
let officer: Visitor

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
})

const clean = async (visitor: Visitor) => expect(await visitor.faults()).toEqual([])

describe('from the paper tool to what a facility can fill', () => {
  it('a dataset of twenty lines is made from a pasted list', async () => {
    await officer.open('/define')
    await officer.reads('In work')
    await clean(officer)
    await officer.click('Begin a dataset')
    await (await officer.see('#new-title')).sendKeys('Daily life of the facility', Key.ENTER)
    await officer.click('Publish', 'nav button')
    await officer.reads('1 thing must be done before publishing')
    await officer.click('Items', 'nav button')
    await officer.click('Paste a list')
    const area = await officer.see('#pasted')
    await officer.run(
      'arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event("input", { bubbles: true }))',
      area,
      PAPER,
    )
    await officer.click('Add 20 items')
    const page = await officer.reads('Nurses on duty')
    expect(page).toContain('Deaths on the way')
    await officer.saved()
    // The phone beside it shows the first section, live.
    expect(await officer.run<string>('return document.querySelector(".phone").innerText')).toContain(
      'Nurses on duty',
    )
    await clean(officer)
    await officer.click('Publish', 'nav button')
    await officer.reads('Ready to publish')
    await officer.click('Who reports it', 'nav button')
    await officer.reads('22 units would report it now.')
    await clean(officer)
  })

  it('its items have definitions, a warning where one is nearly another, and move by keys', async () => {
    await officer.click('Items', 'nav button')
    await officer.click('Ambulance calls answered', '.item')
    await (await officer.see('#definition-en')).sendKeys('Calls that were answered within an hour.')
    const name = await officer.see('#name-en')
    await name.clear()
    await name.sendKeys('Ambulance call')
    await officer.reads('Nearly the same as “Ambulance calls”.')
    await shot(officer, 'dataset')
    await clean(officer)
    await name.clear()
    await name.sendKeys('Calls answered')
    await officer.run('document.getElementById("item-ambulance_calls_answered").focus()')
    await officer.type(Key.chord(Key.ALT, Key.ARROW_UP))
    await officer.until(
      async () =>
        officer.run<boolean>(
          'const all = [...document.querySelectorAll(".item")].map(one => one.innerText); return all.indexOf("Calls answered") < all.indexOf("Ambulance calls")',
        ),
      'the item to move',
    )
    await officer.type(Key.DELETE)
    await officer.reads('“Calls answered” was removed.')
    await officer.click('Undo', '.p-message button')
    await officer.until(
      async () =>
        officer.run<boolean>(
          'return [...document.querySelectorAll(".item")].some(one => one.innerText === "Calls answered")',
        ),
      'the item to be back',
    )
  })

  it('is kept on leaving the page, and a second officer’s change is not overwritten', async () => {
    const other = await Visitor.arrive(server.address)
    try {
      await other.signIn('officer.ashmere')
      await officer.saved()
      await other.open(new URL(await officer.driver.getCurrentUrl()).pathname)
      await other.reads('Calls answered')
      await (await other.see('#title-fr')).sendKeys('La vie de l’établissement')
      await other.until(
        async () =>
          (await other.run<string | undefined>(
            'return fetch("/api/drafts/" + location.pathname.split("/").pop()).then(answer => answer.json()).then(file => file.draft.name.fr)',
          )) === 'La vie de l’établissement',
        'the other’s change to be kept',
      )
      await (await officer.see('#title-en')).sendKeys('!')
      await officer.reads('changed this draft meanwhile. What you did is still on this page.')
      await officer.click('Take theirs and leave mine')
      await officer.until(
        async () =>
          (await officer.run<string>('return document.querySelector("#title-fr")?.value ?? ""')).includes(
            'La vie',
          ),
        'theirs to be there',
      )
    } finally {
      await other.leave()
    }
    expect(await officer.consoleErrors(/409/)).toEqual([])
  })

  it('is published, and filled on a phone', async () => {
    await officer.click('Who reports it', 'nav button')
    const from = await officer.see('#from-0')
    await officer.run(
      'arguments[0].value = "2026-10-01"; arguments[0].dispatchEvent(new Event("input", { bubbles: true }))',
      from,
    )
    await officer.reads('Saved')
    await officer.saved()
    await officer.click('Publish', 'nav button')
    await officer.click('Publish edition 1')
    await officer.click('Publish it', '.p-dialog button')
    await officer.reads('Edition 1 is published.')
    await clean(officer)

    const clerk = await Visitor.arrive(server.address, PHONE)
    try {
      await clerk.signIn('clerk.tern_row')
      await clerk.reads('Daily life of the facility')
      await clerk.click('Daily life of the facility', 'a')
      await (await clerk.enter('input[inputmode]')).sendKeys('4', Key.TAB)
      await clerk.reads(/Received by the district/)
      expect(await clerk.consoleErrors()).toEqual([])
    } finally {
      await clerk.leave()
    }
  })
})
