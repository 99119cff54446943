import { rmSync } from 'node:fs'
import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { deskOf } from '../support/desk'
import { DEMO, demoFolder, freePort, type RunningServer, startServer } from '../support/server'
import { shot } from '../support/shot'

const UNIT = 'lowgate'
const CELL = 'new_visits.u1.f'
/** Thirty days: October closes on 8 December. */
const HOURS = 30 * 24
const LATER = '2026-12-09T08:45:00-02:00'
let server: RunningServer
let folder: string
let clerk: Visitor
let officer: Visitor

beforeAll(async () => {
  folder = demoFolder()
  server = await startServer(folder, DEMO, await freePort())
  const phone = await Visitor.arrive(server.address, PHONE)
  await phone.clock(0)
  clerk = await deskOf(server.address, UNIT, 'en', phone)
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (visitor: Visitor) =>
  expect(await visitor.faults(/ERR_INTERNET_DISCONNECTED|ERR_CONNECTION_REFUSED/)).toEqual([])
const report = async () =>
  (
    await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
  ).body
const valueAtDistrict = async () => (await report()).cells.find(({ cell }) => cell === CELL)?.content
const typedValue = async () => (await clerk.see(`input[data-cell="${CELL}"]`)).getAttribute('value')

describe('what users met, 1: a round that closes under unsent work', () => {
  it('is typed without a network; weeks later the round is closed, and nothing says that it was received', async () => {
    await clerk.open(`/desk/report/${OCTOBER}`)
    await clerk.see(`input[data-cell="${CELL}"]`)
    await clerk.network(false)
    await (
      await clerk.enter(`input[data-cell="${CELL}"]`)
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '7', Key.TAB)
    await clerk.reads('no network, will try again')
    await server.stop()
    server = await startServer(folder, { ...DEMO, LANTERN_NOW: LATER }, Number(new URL(server.address).port))
    await clerk.clock(HOURS)
    await clerk.run(`window.__off = ${HOURS} * 3600000`)
    await clerk.network(true)
    await clerk.open('/desk/device')
    await clerk.reads('Nothing waits on this device')
    await clerk.reads('1 record was not accepted: look at it')
    await shot(clerk, 'closing-device')
    await clean(clerk)
    expect(await valueAtDistrict()).not.toEqual({ kind: 'value', value: 7 })
  })

  it('stays on the device, in a list that is always reachable, and in its report after the page was loaded anew', async () => {
    await clerk.open('/desk')
    await clerk.click('1 record was not accepted', 'a')
    await clerk.reads('This arrived after the round closed')
    await clerk.reads('It is sent by itself when the district office lets you in again')
    await shot(clerk, 'closing-list')
    await clean(clerk)
    await clerk.open(`/desk/report/${OCTOBER}`)
    await clerk.reads('This round is closed')
    await clerk.until(async () => (await typedValue()) === '7', 'the typed value to be there')
    await clerk.reads('Not accepted: look at it')
    await shot(clerk, 'closing-report')
    await clean(clerk)
  })

  it('is offered to the officer, who lets the facility in with a reason', async () => {
    officer = await Visitor.arrive(server.address, OFFICE)
    await officer.signIn('officer.ashmere')
    await officer.open('/')
    await officer.reads('Arrived after closing: decide')
    await shot(officer, 'closing-today')
    await officer.click('Monthly facility summary, October 2026', 'li a')
    await officer.reads('1 change arrived after closing')
    await shot(officer, 'closing-offered')
    await clean(officer)
    await (await officer.see('#late-why')).sendKeys('The boat did not run.')
    await officer.click('Let the facility in', 'button[type=submit]')
    await officer.reads('The boat did not run.')
    await clean(officer)
    expect(await valueAtDistrict()).toEqual({ kind: 'value', value: 7 })
  })

  it('is then received by itself, and the clerk goes on', async () => {
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.until(
      async () => !(await clerk.see('main').then(main => main.getText())).includes('not accepted'),
      'the list to be empty',
    )
    await clerk.open(`/desk/report/${OCTOBER}`)
    expect(await typedValue()).toBe('7')
    await (
      await clerk.enter(`input[data-cell="${CELL}"]`)
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '8', Key.TAB)
    await clerk.reads('Received by the district')
    expect(await valueAtDistrict()).toEqual({ kind: 'value', value: 8 })
    await clean(clerk)
  })
})
