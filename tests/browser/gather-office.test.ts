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
