import { By, Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Visitor } from '../support/browser'
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

const clean = async () => expect(await officer.faults()).toEqual([])
const ROWS = '.p-datatable-tbody tr'
const rows = () =>
  officer.run<string[]>(`return [...document.querySelectorAll('${ROWS}')].map(one => one.innerText)`)
/** How many of how many the page says. */
const counts = async (): Promise<[found: number, all: number]> => {
  const text = await officer.reads(/[\d,]+ of [\d,]+ cases/)
  const [, found, all] = /([\d,]+) of ([\d,]+) cases/.exec(text)!
  return [Number(found!.replace(',', '')), Number(all!.replace(',', ''))]
}

describe('the registers in the office', () => {
  it('have a list of their own, searched without accents, which the address of the page keeps', async () => {
    await officer.open('/')
    await officer.click('Gather', 'nav a')
    await officer.click('Cases', 'a')
    await officer.reads(/\d+ cases/)
    await officer.pick('cases-register', 'Measles and rubella')
    await officer.see(ROWS)
    await officer.reads('Day of the rash')
    await officer.until(async () => (await rows()).length === 50, 'a page of cases')
    await clean()
    const name = await officer.run<string>(
      `return document.querySelector('${ROWS} td:nth-child(2)').innerText.trim()`,
    )
    await officer.write('#cases-find', name.toUpperCase())
    const [found, all] = await counts()
    expect([found > 0, found < all]).toEqual([true, true])
    expect((await rows()).some(row => row.includes(name))).toBe(true)
    await officer.driver.navigate().refresh()
    expect(await counts()).toEqual([found, all])
    await officer.click('Show all again')
    await officer.until(async () => (await rows()).length === 50, 'all of them again')
  })

  it('are found from anywhere, under the name that they have in the list', async () => {
    const [first] = await rows()
    const [number, name] = first!.split('\t')
    await officer.driver.actions().keyDown(Key.CONTROL).sendKeys('k').keyUp(Key.CONTROL).perform()
    await officer.see('.p-dialog input')
    await officer.type(number!)
    await officer.reads(`${number} · ${name}`)
    await shot(officer, 'zz-jump-case')
    expect(await officer.axe()).toEqual([])
    await officer.type(Key.ESCAPE)
    await officer.until(
      () => officer.run<boolean>('return document.querySelector(".p-dialog-mask") === null'),
      'the search to close',
    )
  })

  it('are filtered by answers, by what they wait for, and sorted', async () => {
    await officer.click('Filters and columns')
    await officer.pick('cases-add-filter', 'Sex')
    await officer.pick('filter-sex', 'Female')
    const [female, all] = await counts()
    await officer.pick('cases-add-filter', 'Age at the rash')
    await (await officer.enter('#filter-age_years-to')).sendKeys('4')
    await officer.run('document.activeElement.blur()')
    await officer.until(async () => (await counts())[0] < female, 'fewer cases')
    const [young] = await counts()
    expect([young > 0, female < all]).toEqual([true, true])
    await shot(officer, 'zz-case-list')
    await clean()
    await officer.click('Age at the rash', 'th')
    await officer.until(
      async () => /sort=age_years/.test(await officer.driver.getCurrentUrl()),
      'it to be sorted',
    )
    await officer.until(async () => {
      const ages = await officer.run<number[]>(
        `return [...document.querySelectorAll('${ROWS} td:nth-child(3)')].map(one => Number(one.innerText))`,
      )
      return ages.length > 5 && ages.every((age, at) => age <= 4 && (at === 0 || age >= ages[at - 1]!))
    }, 'the youngest first')
    await officer.click('Show all again')
    await officer.pick('cases-need', 'result awaited')
    const [awaited] = await counts()
    expect(awaited).toBeGreaterThan(0)
    expect((await rows()).every(row => row.includes('Result awaited'))).toBe(true)
    await clean()
  })

  it('find a follow-up that was missed, with how long ago, and whom it was missed for', async () => {
    await officer.click('Show all again')
    await officer.pick('cases-need', 'visit missed')
    const [missed, all] = await counts()
    expect([missed > 0, missed < all]).toEqual([true, true])
    expect((await rows()).every(row => /missed/i.test(row))).toBe(true)
    await shot(officer, 'zz-missed')
    await officer.click('', `${ROWS} td a`)
    await officer.reads('Time line')
    await officer.reads(/missed by \d+ day/i)
    await clean()
    await officer.driver.navigate().back()
    await officer.until(async () => (await counts())[0] === missed, 'the list as it was')
  })
})

describe('a case', () => {
  it('opens to its time line, and tells who said what', async () => {
    await officer.pick('cases-need', 'result awaited')
    await officer.click('', `${ROWS} td a`)
    await officer.reads('What is known')
    await officer.reads('Time line')
    await officer.reads('Result awaited')
    await officer.until(
      async () => (await officer.driver.findElements(By.css('.line > li'))).length > 1,
      'its entries',
    )
    await officer.click('', '.answer .textual')
    await officer.see('.story')
    await officer.reads(/stands · Measles and rubella: registration, \d+ \w+/)
    await shot(officer, 'case')
    await clean()
  })

  it('is seen as of a day: what came later was not known then', async () => {
    const entries = async () => (await officer.driver.findElements(By.css('.line > li'))).length
    const all = await entries()
    const first = await officer.run<string>('return document.querySelector(".line > li .quiet").innerText')
    expect(first).toMatch(/received/i)
    await officer.write('#case-as-of', '2024-01-31')
    await officer.run('document.activeElement.blur()')
    await officer.reads('Nothing of it had been received then.')
    expect(await entries()).toBe(0)
    await clean()
    await officer.click('As it is now')
    await officer.until(async () => (await entries()) === all, 'all entries again')
  })

  it('has its contacts, and each contact its case', async () => {
    await officer.open('/cases?register=measles_contacts')
    await officer.see(ROWS)
    await officer.click('', `${ROWS} td a`)
    await officer.reads('Belongs to')
    const contact = await officer.run<string>('return document.querySelector("h1").innerText')
    await officer.click('', '.facts a')
    await officer.reads('Belong to it')
    await officer.until(
      async () =>
        (await officer.run<string>('return document.querySelector(".tree")?.innerText ?? ""')).includes(
          contact,
        ),
      'the contact under its case',
    )
    await shot(officer, 'case-contacts')
    await clean()
  })

  it('has its position on a small map, among the facilities next to it', async () => {
    await officer.open('/cases?register=water_visits')
    await officer.see(ROWS)
    await officer.click('', `${ROWS} td a`)
    await officer.reads(/Position: [\d.]+ km from \w+/)
    await officer.until(
      async () => (await officer.driver.findElements(By.css('figure svg rect'))).length > 2,
      'the facilities on the map',
    )
    await shot(officer, 'zz-map')
    await clean()
  })

  it('is found by whether it is closed, and says how it ended', async () => {
    await officer.open('/cases?register=measles_cases&state=closed')
    await officer.reads(/Closed on \d+ \w+ \d+: followed to the end/)
    await shot(officer, 'zz-closed')
    await officer.click('', `${ROWS} td a`)
    await officer.reads('What became of it')
    await officer.reads('Open the case again')
    await clean()
  })
})

describe('two cases that may be one', () => {
  const answers = () =>
    officer.run<string[]>(
      'return [...document.querySelectorAll("table.pair tr.differs th")].map(one => one.innerText)',
    )

  it('stand beside each other with what differs, and become one', async () => {
    await officer.open('/')
    await officer.click('Resolve', 'nav a')
    await officer.click('pairs of cases may be one', 'a')
    await officer.click('Ys aTremarrow', 'button.line')
    await officer.until(async () => (await answers()).length > 0, 'both files')
    expect(await answers()).toEqual(['Case number', 'Name'])
    await officer.reads(/name \d+%/)
    await shot(officer, 'zz-case-pair')
    await clean()
    const sides = await officer.run<string[]>(
      'return [...document.querySelectorAll("table.pair thead th")].map(one => one.innerText)',
    )
    await officer.click(sides[0]!.includes('ASH-26-1091') ? 'One: keep the left' : 'One: keep the right')
    await officer.reads('goes on')
    await clean()
    await officer.click('Make them one', '.p-dialog button')
    await officer.reads('Merged')
    await officer.reads('To decide')
    await clean()
  })

  it('the case has both histories, and is found by either number', async () => {
    await officer.open('/cases?register=measles_cases&find=ASH-26-9091')
    await officer.until(async () => (await rows()).length === 1, 'the one case')
    expect((await rows())[0]).toContain('ASH-26-1091')
    await officer.click('ASH-26-1091', 'td a')
    await officer.reads('Merged with')
    await officer.until(
      async () => (await officer.driver.findElements(By.css('.line > li'))).length === 2,
      'the entries of both',
    )
    await clean()
  })

  it('and are taken apart again', async () => {
    await officer.click('Ys aTremarrow', '.facts a')
    await officer.click('Take it back')
    await officer.reads('Taken back')
    await officer.open('/cases?register=measles_cases&find=ASH-26-9091')
    await officer.until(async () => (await rows()).length === 1, 'the other case')
    expect((await rows())[0]).toContain('ASH-26-9091')
    await officer.click('ASH-26-9091', 'td a')
    await officer.reads('May be the same as')
    await clean()
  })
})

describe('cases against reports', () => {
  const ROUND = 'weekly_diseases~2026-W43'

  it('stand side by side for a round, and open to the cases that count', async () => {
    await officer.open(`/gather/${ROUND}`)
    await officer.click('Cases against reports', 'a')
    await officer.reads(/\d+ of \d+ comparisons/)
    const all = await rows()
    expect(all.every(row => /Report higher|Register higher/.test(row))).toBe(true)
    expect(all.some(row => row.includes('Hollin Bridge') && row.includes('+1'))).toBe(true)
    await officer.click('Hollin Bridge', 'td button')
    await officer.reads(/The report says 1, the register 2\. Sent .*; the register said 0 then\./)
    await officer.reads('ASH-26-9091')
    await shot(officer, 'zz-cases-against-reports')
    await clean()
    await officer.click('Only where they differ')
    await officer.until(async () => (await rows()).length > all.length, 'all comparisons')
    await clean()
  })

  it('agree once the child who is registered twice is one case', async () => {
    await officer.open('/resolve/pairs')
    await officer.click('Ys aTremarrow', 'button.line')
    await officer.click('One: keep the left')
    await officer.click('Make them one', '.p-dialog button')
    await officer.reads('Merged')
    await officer.open(`/cases/against/${ROUND}`)
    await officer.reads(/\d+ of \d+ comparisons/)
    expect((await rows()).some(row => row.includes('Hollin Bridge'))).toBe(false)
  })

  it('are defined with the dataset, and say what they lack', async () => {
    await officer.open('/define/dataset/weekly_diseases?part=cases')
    await officer.click('Suspected measles, under 5 years', 'button')
    await officer.reads('Cells that are held against the register')
    await officer.reads('Age at the rash is less than 5')
    await clean()
  })
})
