import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { By, Key } from 'selenium-webdriver'
import { setDay } from '../support/answers'
import { PHONE, Visitor } from '../support/browser'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

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

const SHEET = '/gather/recount/fenwick_lane?round=monthly_summary~2026-10'

const clean = async (visitor = officer, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])
const text = () => officer.run<string>('return document.body.innerText')

/** Chooses an item to count, by the first letters of its name. */
async function choose(visitor: Visitor, name: string): Promise<void> {
  await visitor.run(`document.querySelector('#recount-items').closest('.p-multiselect').click()`)
  const search = await visitor.see('.p-multiselect-filter')
  await search.sendKeys(name)
  await visitor.click(name, '.p-multiselect-option')
  await search.sendKeys(Key.ESCAPE)
  await visitor.until(
    async () => !(await visitor.driver.findElements(By.css('.p-multiselect-overlay'))).length,
    'the list to close',
  )
}

describe('a visit', () => {
  it('is proposed with its reasons on the page that the board leads to, and planned', async () => {
    await officer.open('/gather')
    await officer.click('Visits', 'a')
    await officer.reads('The facility with the most reasons comes first')
    await officer.reads(/reports late or missing in three months/)
    await shot(officer, 'zz-visits')
    await clean()
    await officer.click('Plan a visit')
    await officer.reads('On which day')
    await setDay(officer, '#visit-day', '2026-11-03')
    await officer.click('Plan the visit')
    await officer.reads('A visit is planned for today or a later day')
    await setDay(officer, '#visit-day', '2026-11-13')
    await officer.write('#visit-text', 'Look at the fridge.')
    await shot(officer, 'zz-visit-plan')
    await clean(officer, /422/)
    await officer.click('Plan the visit')
    await officer.click('Planned 2')
    await officer.reads('Look at the fridge.')
    await shot(officer, 'zz-visits-planned')
    await clean()
  })

  it('is made with what was found, and planned again when that was a mistake', async () => {
    await officer.click('It was made')
    await officer.reads('Who was there')
    await officer.write('#visit-text', 'The fridge works.')
    await officer.click('It was made', '.p-dialog button')
    await officer.reads('Planned 1')
    await officer.click('Made 3')
    await officer.reads('The fridge works.')
    await officer.reads('Registers and report agree.')
    await shot(officer, 'zz-visits-made')
    await officer.click('Plan it again')
    await setDay(officer, '#visit-day', '2026-11-20')
    await officer.click('Plan it again', '.p-dialog button')
    await officer.reads('Made 2')
    await clean()
  })
})

describe('a recount', () => {
  it('is counted without seeing what was reported, and stays in the browser without a network', async () => {
    await officer.open(SHEET)
    await officer.reads('What was reported is shown when your count is saved.')
    await choose(officer, 'First visits')
    await officer.see('.item input')
    await officer.network(false)
    const fields = await officer.driver.findElements(By.css('.item input'))
    expect(fields.length).toBeGreaterThan(1)
    await fields[0]!.sendKeys('1x')
    await officer.reads('is not a number')
    await fields[0]!.sendKeys(Key.BACK_SPACE, '90')
    await fields[1]!.sendKeys('210')
    await officer.click('Save the count')
    await officer.reads(/network/i)
    // The telephone was put away, and its page is opened anew where there is no network.
    await officer.run('return navigator.serviceWorker.ready.then(() => true)')
    await officer.open(SHEET)
    await officer.see('.item input')
    await shot(officer, 'zz-recount-offline')
    await officer.network(true)
    await officer.open(SHEET)
    await officer.see('.item input')
    const typed = await officer.run<string[]>(
      `return [...document.querySelectorAll('.item input')].map(({ value }) => value)`,
    )
    expect(typed).toEqual(['190', '210'])
    await shot(officer, 'zz-recount')
  })

  it('becomes a discrepancy beyond the tolerance, which says who counted what', async () => {
    await officer.click('Save the count')
    await officer.reads(/too few reported/i)
    await shot(officer, 'zz-recount-result')
    await clean(officer, /INTERNET_DISCONNECTED/)
    await officer.open('/resolve')
    await officer.click('the recount says another number', 'button, a')
    await officer.reads('Counted again')
    await officer.reads(/Counted on 9 Nov 2026 by/)
    await shot(officer, 'zz-recount-discrepancy')
    await clean()
  })

  it('is told for the quarter, and withdrawn when it was a mistake', async () => {
    await officer.open('/gather/visits')
    await officer.click('Counted against reported', 'a')
    await officer.reads('Fenwick Lane')
    await officer.reads(/too few reported/i)
    await shot(officer, 'zz-verification')
    await clean()
    await officer.click('Fenwick Lane', 'a')
    await officer.click('Withdraw')
    await officer.reads('a discrepancy that came of it is gone')
    await officer.click('Withdraw', '.p-dialog button')
    await officer.reads('Nothing of this report was counted again yet.')
    expect(await text()).not.toMatch(/too few reported/i)
  })

  it('can be counted on a telephone, in French', async () => {
    const phone = await Visitor.arrive(server.address, PHONE, 'fr')
    try {
      await phone.signIn('officer.ashmere')
      await phone.open(SHEET)
      await phone.reads('Votre propre compte')
      await shot(phone, 'zz-recount-phone')
      const wide = await phone.run<number>('return document.documentElement.scrollWidth')
      expect(wide).toBeLessThanOrEqual(PHONE.width)
      await clean(phone)
    } finally {
      await phone.leave()
    }
  })
})
