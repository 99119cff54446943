import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { setDay } from '../support/answers'
import { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

const WEEK = 'weekly_diseases~2026-W45'
let server: RunningServer
let officer: Visitor
let client: Client

beforeAll(async () => {
  server = await startDemo()
  client = await Client.signedIn(server.address, 'officer.ashmere')
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
})

const clean = async (but?: RegExp) => expect(await officer.faults(but)).toEqual([])

describe('a report on paper, at the office', () => {
  let unit: { code: string; name: string }

  it('is typed by keyboard, and is still there after the page was left in the middle', async () => {
    const board = await client.get<{ rows: { unit: { code: string; name: string }; state: string }[] }>(
      `/api/rounds/${WEEK}/board`,
    )
    unit = board.body.rows.find(({ state }) => state === 'awaited')!.unit
    await officer.open(`/facility/${WEEK}/${unit.code}`)
    await officer.click('Enter from paper', 'a')
    await officer.reads(`${unit.name}, from paper`)
    await setDay(officer, '#paper-on', '2026-11-08')
    await officer.write('#paper-by', 'Nurse Ivo Tarn')
    await officer.enter('input[data-row="0"]')
    await officer.keys('3', Key.ENTER, '1')
    await officer.keys(Key.TAB)
    await officer.run('window.scrollTo(0, 0)')
    await shot(officer, 'zz-paper-report')
    await clean()
    await officer.open('/')
    await officer.open(`/facility/${WEEK}/${unit.code}/paper`)
    const first = await officer.see('input[data-row="0"]')
    expect(await first.getAttribute('value')).toBe('3')
    expect(await (await officer.see('#paper-by')).getAttribute('value')).toBe('Nurse Ivo Tarn')
  })

  it('lacks what it lacks in a sentence, and is saved as the report of the facility', async () => {
    await officer.write('#paper-by', 'N')
    await officer.click('Save as the report')
    await officer.reads('Who filled the paper?')
    await officer.write('#paper-by', 'Nurse Ivo Tarn')
    await officer.enter('input[data-row="0"]')
    await officer.keys('z')
    await officer.reads(/take back|undo/i)
    await officer.click('Save as the report')
    await officer.reads('How it came about')
    await officer.reads(/Paper of .*, filled by Nurse Ivo Tarn/)
    await shot(officer, 'zz-report-office')
    await clean()
    const file = await client.get<{ state: string }>(`/api/reports/${WEEK}/${unit.code}`)
    expect(file.body.state).toBe('sent')
  })

  it('changes what the district has only with the reason', async () => {
    await officer.click('Change from paper', 'a')
    await officer.reads('Why the values change')
    await officer.write('#paper-why', 'The second sheet came by the boat.')
    await officer.write('input[data-row="0"]', '4')
    await officer.keys(Key.TAB)
    await setDay(officer, '#paper-on', '2026-11-08')
    await officer.write('#paper-by', 'Nurse Ivo Tarn')
    await officer.click('Change the report')
    await officer.reads('How it came about')
    await officer.reads('The second sheet came by the boat.')
    await clean()
  })
})

describe('the board', () => {
  const MONTH = 'monthly_summary~2026-10'
  const rows = () =>
    officer.run<string[]>(
      `return [...document.querySelectorAll('.p-datatable-selectable-row')].map(one => one.innerText)`,
    )

  it('shows those that are asked for, together by kind, and keeps it in its address', async () => {
    await officer.open(`/gather/${MONTH}`)
    await officer.reads('22 of 22 facilities')
    await shot(officer, 'zz-board')
    await clean()
    await officer.pick('board-group', 'Kind of facility')
    await officer.pick('board-show', 'Nothing open, to accept')
    await officer.reads(/\b(?!22 )\d+ of 22 facilities/)
    const shown = (await rows()).length
    expect(shown).toBeGreaterThan(1)
    expect(shown).toBeLessThan(22)
    await officer.driver.navigate().refresh()
    await officer.until(async () => (await rows()).length === shown, 'the same rows after a reload')
    await officer.write('#board-find', 'zzzz')
    await officer.reads('No facility is like that')
    await officer.write('#board-find', ' ')
    await officer.until(async () => (await rows()).length === shown, 'all of them again')
  })

  it('accepts two of them in one act, and takes it back', async () => {
    const ticks = '.p-datatable-tbody input[type=checkbox]'
    for (const at of [0, 1])
      await officer.run(`document.querySelectorAll('${ticks}')[arguments[0]].click()`, at)
    await officer.reads('2 selected')
    await shot(officer, 'zz-board-selected')
    await clean()
    await officer.click('Accept 2 with nothing open')
    await officer.reads('2 reports were accepted')
    await officer.click('Undo')
    await officer.until(
      async () => !(await officer.run<string>('return document.body.innerText')).includes('were accepted'),
      'the acceptance to be taken back',
    )
  })

  it('is gone through by keys with a report beside it', async () => {
    await officer.open(`/gather/${MONTH}`)
    await officer.see('.p-datatable-selectable-row')
    await officer.keys(Key.ARROW_DOWN)
    await officer.keys(Key.ENTER)
    const first = await (await officer.see('nav button[aria-current]')).getText()
    await officer.reads('How it came about')
    await shot(officer, 'zz-board-beside')
    await clean()
    await officer.keys('j')
    await officer.until(
      async () => (await (await officer.see('nav button[aria-current]')).getText()) !== first,
      'the next report',
    )
    await officer.keys(Key.ESCAPE)
    await officer.see('.p-datatable-selectable-row')
  })

  it('sends some back with one reason', async () => {
    await officer.open(`/gather/${MONTH}?show=sent`)
    await officer.reads(/\d+ of 22 facilities/)
    await officer.run(`document.querySelector('.p-datatable-tbody input[type=checkbox]').click()`)
    await officer.click('Send 1 back')
    await officer.write('#why-many', 'The second page is missing.')
    await officer.click('Send back', '.p-dialog button')
    await officer.until(
      async () => !(await officer.run<string>('return document.body.innerText')).includes('1 selected'),
      'the report to be sent back',
    )
    const board = await client.get<{ rows: { state: string }[] }>(`/api/rounds/${MONTH}/board`)
    expect(board.body.rows.some(({ state }) => state === 'sentBack')).toBe(true)
  })
})

describe('the devices', () => {
  it('stand with the longest silent first, and open their contacts', async () => {
    await officer.click('Devices', 'nav a')
    await officer.reads(/silent for 19 days/i)
    await officer.click('Silent 1')
    await officer.until(
      async () =>
        (await officer.run<number>('return document.querySelectorAll(".p-datatable-tbody > tr").length')) ===
        1,
      'the one that is silent',
    )
    await officer.click('Contacts', '.p-datatable button')
    await officer.reads('6 still waited')
    await shot(officer, 'devices')
    await clean()
    await officer.click('All')
    await officer.reads('runs an earlier version')
  })
})

describe('reporting over time', () => {
  it('shows facilities against rounds, with totals of zones, in words and numbers as well', async () => {
    await officer.open('/gather/monthly_summary~2026-10')
    await officer.click('Over time', 'a')
    await officer.reads('Ashmere, all facilities')
    await officer.see('.mark')
    await officer.run('window.scrollTo(0, 0)')
    await shot(officer, 'over-time')
    await clean()
    await officer.pick('over-time-measure', 'Timeliness')
    await officer.reads('received by the end of the due day')
    await officer.click('Show the chart too')
    await officer.see('canvas')
    await shot(officer, 'zz-over-time-chart')
    await clean()
    await officer.pick('over-time-span', '18 rounds')
    await officer.until(
      async () => (await officer.run<number>('return document.querySelectorAll("thead th").length')) === 20,
      'eighteen rounds',
    )
    expect(
      await officer.run<number>('return document.documentElement.scrollWidth - window.innerWidth'),
    ).toBeLessThanOrEqual(0)
  })
})
