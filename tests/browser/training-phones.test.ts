import { join } from 'node:path'
import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { OFFICE, PIN, Visitor } from '../support/browser'
import { cardFor, OCTOBER } from '../support/client'
import { publishRegister } from '../support/desk'
import { PASSWORD, type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'
import { OPEN_SETTINGS } from '../support/samples'
import { field, visits } from '../support/visits'

const words = (en: string) => ({ en, fr: en })
const CELL = 'input[data-cell="new_visits.u1.f"]'
let server: RunningServer
let officer: Visitor

beforeAll(async () => {
  server = await startDemo()
  await publishRegister(
    server.address,
    visits([
      { kind: 'position', code: 'visited_at', label: words('Place') },
      { kind: 'identifier', code: 'card_number', label: words('Number of the card') },
      { kind: 'picture', code: 'card', label: words('The card') },
      { kind: 'sound', code: 'breathing', label: words('Breathing') },
    ]),
  )
  officer = await Visitor.arrive(server.address, OFFICE)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
})

/** Works on one phone of the bench, then comes back to the page around it. */
async function on(phone: string, work: () => Promise<void>): Promise<void> {
  await officer.driver.switchTo().frame(await officer.see(`iframe[name="lantern-phone-${phone}"]`))
  await work()
  await officer.driver.switchTo().defaultContent()
}
const network = (phone: string) => officer.enter(`[data-switch="network-${phone}"]`)
async function type(value: string) {
  const field = await officer.enter(CELL)
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.TAB)
}

describe('the device bench', () => {
  it('has three desks, each a device of its own', async () => {
    const code = await cardFor(server.address, 'tern_row', 3, { name: 'Bench', settings: OPEN_SETTINGS })
    await officer.open('/training-phones')
    for (const phone of ['a', 'b']) {
      await on(phone, async () => {
        await (await officer.enter('#pair-code')).sendKeys(code)
        await officer.click('Pair it')
        await officer.reads('This is now “Bench')
        await officer.click('Go on to the desk')
        await (await officer.see('#user-name')).sendKeys('clerk.tern_row')
        await (await officer.see('#password')).sendKeys(PASSWORD, Key.ENTER)
        for (const field of ['#pin', '#pin-again']) await (await officer.see(field)).sendKeys(PIN)
        await officer.click('Save this PIN')
        await officer.click('Monthly facility summary, October', 'a')
        await officer.see(CELL)
      })
    }
    // The office is still who it was, beside its phones.
    expect(
      await officer.run<string>(
        'return fetch("/api/session").then(answer => answer.json()).then(view => view.person.userName)',
      ),
    ).toBe('officer.ashmere')
  })

  it('has stand-ins for what a phone has around it: its place, its scanner, its camera, its microphone', async () => {
    await officer.run('document.querySelectorAll("details").forEach(one => { one.open = true })')
    await officer.write('#code-a', 'VC-20417')
    await (
      await officer.driver.findElement({ css: '[data-camera="a"]' })
    ).sendKeys(join(process.cwd(), 'docs/screenshots/due.png'))
    await on('a', async () => {
      await officer.click('Cases', 'nav a')
      await officer.click('Home visits', 'a.begin')
      await (await officer.enter(field('visited_name'))).sendKeys('Ruan Boscean', Key.TAB)
      await (await officer.enter(field('visited_on'))).sendKeys('2026', Key.TAB)
      const into = async (question: string, words: string) => {
        await officer.run(
          'arguments[0].scrollIntoView({ block: "center" })',
          await officer.see(`[data-question="${question}"]`),
        )
        await officer.click(words, `[data-question="${question}"] button`)
      }
      await into('visited_at', 'Where I am')
      await officer.reads(/8\s?m/)
      await (await officer.see('[data-question="card_number"] button[aria-label="Scan"]')).click()
      expect(await (await officer.see(field('card_number'))).getAttribute('value')).toBe('VC-20417')
      await into('card', 'Take a picture')
      await officer.see('[data-question="card"] img')
      await into('breathing', 'Record')
      await into('breathing', 'Stop')
      await officer.see('[data-question="breathing"] audio')
      expect(await officer.axe()).toEqual([])
      await officer.click('Save', '.foot button')
      await officer.see('main img, main audio')
    })
    const kept = () =>
      officer.run<{ id: string }[]>(
        'return fetch("/api/cases?register=home_visits").then(answer => answer.json()).then(({ lines }) => lines)',
      )
    await officer.until(async () => (await kept()).length === 1, 'the visit to arrive')
    const file = await officer.run<string>(
      'return fetch("/api/cases/" + arguments[0]).then(answer => answer.text())',
      (await kept())[0]!.id,
    )
    expect(file).toContain('"latitude":-12.045')
    expect(file).toContain('VC-20417')
    expect(file).toContain('audio/wav')
    expect(await officer.faults()).toEqual([])
    await officer.run('document.querySelectorAll("details").forEach(one => { one.open = false })')
    await on('a', () => officer.click('Due', 'nav a'))
    await on('a', () => officer.click('Monthly facility summary, October', 'a'))
  })

  it('shows two phones in conflict: both values are kept, and the second person decides', async () => {
    await network('b')
    await on('b', async () => {
      await type('7')
      await officer.reads('no network, will try again')
    })
    await on('a', async () => {
      await type('5')
      await officer.reads('Received by the district')
    })
    await network('b')
    await on('b', async () => {
      await officer.reads(/put 5 here in the meantime; you typed 7/)
      await officer.driver.switchTo().defaultContent()
      await officer.run('window.scrollTo(0, 0)')
      await shot(officer, 'training-phones')
      await officer.driver.switchTo().frame(await officer.see('iframe[name="lantern-phone-b"]'))
      expect(await officer.axe()).toEqual([])
    })
    const kept = () =>
      officer.run<{ conflicts: unknown[]; value: number }>(
        `return fetch('/api/reports/${OCTOBER}/tern_row').then(answer => answer.json()).then(file => ({ conflicts: file.conflicts, value: file.cells.find(({ cell }) => cell === 'new_visits.u1.f').content.value }))`,
      )
    expect(await kept()).toMatchObject({
      conflicts: [{ cell: 'new_visits.u1.f', content: { value: 7 }, device: 'Bench 2' }],
      value: 5,
    })
    expect(await officer.faults()).toEqual([])
    await on('b', async () => {
      await officer.click('Use mine', 'button')
      await officer.until(
        async () => !(await officer.driver.findElements({ css: '.conflict' })).length,
        'the conflict to be settled',
      )
    })
    await officer.until(
      async () => (await kept()).value === 7 && (await kept()).conflicts.length === 0,
      'the decision to arrive',
    )
  })
})
