import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, Key, until } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { MEASLES_REGISTRATION } from '../../demo/registers/measles'
import { questionnaireOf } from '#core/exchange/questionnaire-out'
import { Visitor } from '../support/browser'
import { type RunningServer, startDemo } from '../support/server'

const PNG = 'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAQAAAC1HAwCAAAAC0lEQVR42mNk+A8AAQUBAScY42YAAAAASUVORK5CYII='
let server: RunningServer
let admin: Visitor
let folder: string

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-files-'))
  server = await startDemo()
  admin = await Visitor.arrive(server.address)
  await admin.signIn('admin')
})
afterAll(async () => {
  await admin?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (but?: RegExp) => expect(await admin.faults(but)).toEqual([])
/** Gives a file to the field behind a link or button. */
async function give(name: string, content: string | Buffer, css = 'input[type=file]') {
  const path = join(folder, name)
  writeFileSync(path, content)
  await (await admin.driver.wait(until.elementLocated(By.css(css)), 40_000)).sendKeys(path)
}
const items = () =>
  admin.run<string[]>('return [...document.querySelectorAll(".item")].map(one => one.innerText)')

describe('files of what is defined', () => {
  it('a scanned page stands beside the work, and what is no picture is refused', async () => {
    await admin.open('/define/dataset/monthly_summary')
    await admin.click('The paper', 'aside button')
    await admin.reads('No page yet.')
    await give('page.png', '<html>no picture</html>')
    await admin.reads('This is no PNG, JPEG or WebP picture.')
    await give('page.png', Buffer.from(PNG, 'base64'))
    await admin.see('.page img')
    await admin.until(
      async () => admin.run<boolean>('return document.querySelector(".page img").naturalWidth === 1'),
      'the page to be shown',
    )
    await clean(/422/)
  })

  it('one file of everything goes out, and comes in as drafts', async () => {
    await admin.open('/define/bundle')
    const text = await admin.run<string>('return fetch("/api/definitions").then(answer => answer.text())')
    const bundle = JSON.parse(text) as {
      registers: { code: string; name: Record<string, string> }[]
      datasets: { edition: { dataset: string; name: Record<string, string> } }[]
    }
    bundle.registers[0]!.code = 'brought'
    bundle.registers[0]!.name.en = 'Brought from elsewhere'
    bundle.registers.push({ code: 'broken', name: {} })
    bundle.datasets.find(({ edition }) => edition.dataset === 'monthly_summary')!.edition.name.en =
      'Monthly summary, renamed'
    await give('definitions.json', JSON.stringify(bundle))
    await admin.reads('Brought from elsewhere')
    await admin.reads('Refused')
    await clean()
    await admin.click('Import 2')
    await admin.reads('Imported')
    await admin.open('/define/registers')
    await admin.reads('Brought from elsewhere')
    await admin.open('/define/bundle')
    await give('definitions.json', '{"format":"something else"}')
    await admin.reads('This is no file of definitions of this program.')
    await clean(/422/)
  })

  it('a FHIR Questionnaire becomes a form, with what has no place told', async () => {
    await admin.open('/define/register/brought?part=exchange')
    const strange = questionnaireOf(MEASLES_REGISTRATION).resource
    strange.item!.push({ linkId: 'odd', type: 'question', text: 'Odd' })
    await give('form.json', JSON.stringify(strange))
    await admin.reads('things have no place here')
    await admin.saved()
    await give('form.json', '{}')
    await admin.reads('This is no FHIR Questionnaire with items.')
    await clean()
  })
})

describe('a draft that two people work on', () => {
  it('is put together from both, and an item is dragged to its place', async () => {
    await admin.open('/define/dataset/monthly_summary')
    await admin.reads('Monthly summary, renamed')
    const before = await items()
    // A second person is quicker: through the API, as another browser would.
    const status = await admin.run<number>(
      `return fetch('/api/drafts/monthly_summary').then(answer => answer.json()).then(file => { file.draft.timing.dueDays = 5; return fetch('/api/drafts/monthly_summary', { method: 'PUT', headers: { 'content-type': 'application/json' }, body: JSON.stringify({ version: file.version, draft: file.draft, reports: file.reports }) }) }).then(answer => answer.status)`,
    )
    expect(status).toBe(200)
    const [first, third] = [
      await admin.driver.findElement(By.css('li:nth-child(1) .grip')),
      await admin.driver.findElement(By.css('li:nth-child(3) .grip')),
    ]
    await admin.driver
      .actions({ async: true })
      .move({ origin: first })
      .press()
      .move({ origin: third, y: 4, duration: 300 })
      .move({ origin: third, y: 12, duration: 300 })
      .release()
      .perform()
    await admin.until(async () => (await items()).indexOf(before[0]!) > 0, 'the item to be dragged')
    await admin.reads('changed this draft meanwhile.')
    await admin.reads('Days')
    await clean(/409/)
    await admin.click('Put both together')
    await admin.saved()
    const kept = await admin.run<{
      draft: { timing: { dueDays: number }; sections: { items: { code: string }[] }[] }
    }>('return fetch("/api/drafts/monthly_summary").then(answer => answer.json())')
    expect(kept.draft.timing.dueDays).toBe(5)
    expect(await items()).toEqual(expect.arrayContaining(before))
    expect((await items())[0]).not.toBe(before[0])
    await admin.keys(Key.ESCAPE)
  })
})
