import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, Key, until } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { OFFICE, PHONE, PIN, Visitor } from '../support/browser'
import { cardFor, Client, OCTOBER } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { choose, setDay } from '../support/answers'
import { shot } from '../support/shot'

const UNIT = 'lowgate'
const GONE = /ERR_INTERNET_DISCONNECTED/
let server: RunningServer
let officer: Visitor
let clerk: Visitor
let folder: string

/** A large picture, as a camera makes it. */
const PICTURE = `const canvas = Object.assign(document.createElement('canvas'), { width: 2400, height: 1600 });
  const pen = canvas.getContext('2d'); pen.fillStyle = '#eaa234'; pen.fillRect(0, 0, 2400, 1600); pen.fillStyle = '#251b31'; pen.fillRect(200, 200, 900, 700);
  return canvas.toDataURL('image/jpeg', 0.9)`

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-day-'))
  server = await startDemo()
  officer = await Visitor.arrive(server.address, OFFICE)
  await officer.signIn('officer.ashmere')
  clerk = await Visitor.arrive(server.address, PHONE)
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])
const field = (question: string) => `[data-question="${question}"] input`
const report = async () =>
  (
    await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
  ).body
async function pickUnit(question: string, name: string) {
  await (await clerk.enter(field(question))).sendKeys(name)
  await clerk.click(name, '[role=option]')
}

describe('a day at a facility without a network', () => {
  it('begins with the card: its picture, one sign-in, a PIN', async () => {
    const code = await cardFor(server.address, UNIT, 2, { name: 'Lowgate phone' })
    await clerk.open(`/desk/pair#${code}`)
    await clerk.click('Pair it')
    await clerk.reads('This is now “Lowgate phone 1”')
    await clerk.click('Go on to the desk')
    await (await clerk.see('#user-name')).sendKeys(' Clerk.LOWGATE')
    await (await clerk.see('#password')).sendKeys('lantern-2026', Key.ENTER)
    await clerk.reads('Choose a PIN')
    await clean(clerk)
    await (await clerk.see('#pin')).sendKeys('123456')
    await (await clerk.see('#pin-again')).sendKeys('123456')
    await clerk.click('Save this PIN')
    await clerk.reads('the first that somebody would try')
    await clerk.open('/desk')
    await clerk.reads('Sign in once with a network')
    await clerk.signInAtDesk('clerk.lowgate')
    await clerk.reads('Monthly facility summary, October 2026')
    await clerk.reads('1 question from the district')
    await clean(clerk)
    await clerk.click('Device', 'nav a')
    await clerk.run('return navigator.serviceWorker.ready.then(() => true)')
    await clerk.click('Send and receive now')
    await clerk.reads('It can work without a network')
  })

  it('goes on without a network after the page was closed: locked, and slow to a wrong PIN', async () => {
    await clerk.open('/desk/questions')
    await clerk.reads('More births than deliveries')
    await clerk.network(false)
    await clerk.driver.get(`${server.address}/desk`)
    await clerk.see('#pin')
    await clean(clerk, GONE)
    for (let tries = 0; tries < 3; tries++) {
      await (await clerk.see('#pin')).sendKeys('9999', Key.ENTER)
      await clerk.until(
        async () =>
          (await (await clerk.see('#pin')).getAttribute('value')) === '' &&
          /not the PIN|Too many/.test(await clerk.reads('PIN')),
        'the PIN to be refused',
      )
    }
    await clerk.reads('Too many wrong PINs')
    await clerk.until(
      async () =>
        (await clerk.see('button[type=submit]'))
          .isEnabled()
          .then(async () => !/Too many/.test(await clerk.reads('PIN'))),
      'the wait to be over',
    )
    await clerk.unlock(PIN)
    await clerk.reads('Monthly facility summary, October 2026')
    // Nothing on the device reads as what it is.
    const found = await clerk.run<string>(
      `return (async () => { const { name } = (await indexedDB.databases()).find(one => one.name.startsWith('lantern-work')); const db = await new Promise(done => { const asked = indexedDB.open(name); asked.onsuccess = () => done(asked.result) }); const all = []; for (const table of db.objectStoreNames) all.push(...await new Promise(done => { const asked = db.transaction(table).objectStore(table).getAll(); asked.onsuccess = () => done(asked.result) })); db.close(); return JSON.stringify(all.map(row => [Object.keys(row), row.sealed && new TextDecoder('latin1').decode(row.sealed.data)])) })()`,
    )
    expect(found).toContain('sealed')
    expect(found).not.toMatch(/Lowgate|deliveries|Monthly/)
  })

  it('fills the report that was sent back, answers the question, and sends both: they wait', async () => {
    await clerk.open(`/desk/report/${OCTOBER}?section=maternity`)
    await clerk.reads('The district asks about a value')
    await clerk.see('input[data-row="0"]')
    await clean(clerk, GONE)
    await clerk.open(`/desk/send/${OCTOBER}`)
    await clerk.reads('1 value cannot be right')
    await clerk.click('Correct it', '.doubt a')
    const cells = (await report()).cells
    const births = cells.filter(({ cell }) =>
      /^(live_births|stillbirths|low_weight|newborn_deaths|postnatal_early|breastfed_early)/.test(cell),
    )
    for (const { cell } of births) {
      const box = await clerk.enter(`input[data-cell="${cell}"]`)
      await box.sendKeys(Key.chord(Key.CONTROL, 'a'), '1', Key.TAB)
    }
    await clerk.reads('no network, will try again')
    await clerk.open(`/desk/send/${OCTOBER}`)
    await clerk.reads('Look over and send')
    for (const area of await clerk.driver.findElements(By.css('.doubt textarea')))
      await area.sendKeys('Counted again in the book.')
    await clerk.click('Send the report', 'button')
    await clerk.reads('It is ready and waits on this device')
    await clean(clerk, GONE)
    await clerk.open('/desk/questions')
    await clerk.click('More births than deliveries', 'a')
    await (await clerk.enter('#answer-text')).sendKeys('The boys were written on the wrong line.')
    await clerk.click('Send the answer', 'button')
    await clerk.reads(/waiting/i)
    await clean(clerk, GONE)
    await clerk.open('/desk')
    await clerk.reads('It is ready and waits on this device')
    expect((await report()).state).toBe('sentBack')
  })

  it('registers a case with a picture, and a visit', async () => {
    await clerk.open('/desk/cases')
    await clerk.click('Measles and rubella', 'a')
    await (await clerk.enter(field('case_number'))).sendKeys('ASH-26-0042')
    await (await clerk.enter(field('full_name'))).sendKeys('Perran Loy')
    await choose(clerk, 'sex', 'Female')
    await (await clerk.enter(field('born_on'))).sendKeys('2021')
    await pickUnit('district', 'Ashmere')
    await pickUnit('zone', 'Ashmere Town')
    await setDay(clerk, field('rash_on'), '2026-11-01')
    await choose(clerk, 'signs', 'Fever')
    await choose(clerk, 'admitted', 'No')
    await choose(clerk, 'vaccinated', 'Yes')
    await (await clerk.enter(field('doses'))).sendKeys('1')
    const picture = await clerk.run<string>(PICTURE)
    const path = join(folder, 'vaccination-card.jpg')
    writeFileSync(path, Buffer.from(picture.slice(picture.indexOf(',') + 1), 'base64'))
    await (
      await clerk.driver.wait(
        until.elementLocated(By.css('[data-question="card_photo"] input[type=file]')),
        40_000,
      )
    ).sendKeys(path)
    await clerk.see('[data-question="card_photo"] img')
    await choose(clerk, 'contact_known', 'No')
    await shot(clerk, 'zz-case-entry')
    await clean(clerk, GONE)
    await clerk.saveCase()
    await clerk.reads('Photograph of the card')
    await clerk.see('main img')
    await clerk.click('Home visit', 'a')
    await setDay(clerk, field('home_visited_on'), '2026-11-08')
    await (await clerk.enter(field('household_size'))).sendKeys('4')
    await clerk.saveCase()
    await clerk.reads('People in the household')
    await clerk.open('/desk/cases')
    await clerk.reads('Perran Loy')
    await clerk.reads(/waiting/i)
    await shot(clerk, 'cases')
    await clean(clerk, GONE)
  })

  it('asks before somebody is registered a second time', async () => {
    await clerk.click('Measles and rubella', 'a')
    await (await clerk.enter(field('case_number'))).sendKeys('ASH-26-0043')
    await (await clerk.enter(field('full_name'))).sendKeys('Peran Loy')
    await choose(clerk, 'sex', 'Female')
    await (await clerk.enter(field('born_on'))).sendKeys('2021')
    await clerk.click('Same household as', 'button')
    await clerk.click('Perran Loy', '.household button')
    await clerk.reads('Copied from')
    expect(await (await clerk.see(field('district'))).getAttribute('value')).toContain('Ashmere')
    await setDay(clerk, field('rash_on'), '2026-11-01')
    await choose(clerk, 'signs', 'Cough')
    for (const [question, answer] of [
      ['admitted', 'No'],
      ['vaccinated', 'No'],
      ['contact_known', 'No'],
    ] as const)
      await choose(clerk, question, answer)
    await clerk.click('Save', '.foot button')
    await clerk.reads('This may be somebody who is here already')
    await clean(clerk, GONE)
    // Left as a draft: the page is closed in the middle of it.
    await clerk.open('/desk/cases')
    await clerk.reads('Go on with: Measles and rubella: registration')
    await clerk.click('Go on with', 'a')
    expect(await (await clerk.see(field('full_name'))).getAttribute('value')).toBe('Peran Loy')
    await clerk.open('/desk/cases')
    await (await clerk.see('[aria-label="Delete this draft"]')).click()
    await clerk.click('Delete this draft', '.p-dialog button')
    await clerk.until(
      async () => !(await clerk.driver.findElements(By.css('[aria-label="Delete this draft"]'))).length,
      'the draft to be gone',
    )
  })

  it('sends all of it in one act when a network comes, and the office finds it', async () => {
    await clerk.network(true)
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.reads('Nothing waits on this device')
    await clerk.click('Contacts with the district', 'summary')
    await clerk.reads('1 picture or sound sent')
    await shot(clerk, 'device')
    await clean(clerk, GONE)
    await clerk.open('/desk/cases')
    await clerk.reads(/received today \d\d:\d\d/i)
    expect((await report()).state).toBe('sent')
    await officer.open('/cases')
    await officer.click('Perran Loy', 'td a')
    await officer.reads('People in the household')
    const size = await officer
      .until(
        async () =>
          (await officer.run<number>('return document.querySelector("main img")?.naturalWidth ?? 0')) > 0,
        'the picture',
      )
      .then(() =>
        officer.run<number[]>(
          'const { naturalWidth, naturalHeight } = document.querySelector("main img"); return [naturalWidth, naturalHeight]',
        ),
      )
    // Made smaller, and drawn anew: nothing that the camera wrote beside it is left.
    expect(size).toEqual([1280, 853])
    expect(
      await officer.run<boolean>(
        'return fetch(document.querySelector("main img").src).then(answer => answer.arrayBuffer()).then(bytes => new TextDecoder("latin1").decode(bytes).includes("Exif"))',
      ),
    ).toBe(false)
    await clean(officer)
    await officer.open('/resolve')
    const thread = await officer.run<string>(
      `return fetch('/api/discrepancies').then(answer => answer.json()).then(({ lines }) => lines.find(one => one.unit.code === '${UNIT}' && one.state === 'answered')?.id).then(id => fetch('/api/discrepancies/' + id)).then(answer => answer.text())`,
    )
    expect(thread).toContain('The boys were written on the wrong line.')
  })
})
