import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CaseLine } from '#core/contract/cases'
import type { ReportFile } from '#core/contract/reports'
import type { Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { deskOf, publishRegister } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { field, visits } from '../support/visits'

/**
 * What goes wrong at a device: it is closed, dies, is full, has a wrong clock, is overtaken by a new edition,
 * is lost.
 */
const UNIT = 'tern_row'
const REPORT = `/desk/report/${OCTOBER}?section=outpatients`
const CELL = 'new_visits.u1.f'
let server: RunningServer
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  await publishRegister(server.address, visits())
  clerk = await deskOf(server.address, UNIT)
  await clerk.click('Device', 'nav a')
  await clerk.reads('It can work without a network')
  await clerk.reads('Contacts with the district')
})
afterAll(async () => {
  await clerk?.leave()
  await server?.stop()
})

const cell = (key: string) => `input[data-cell="${key}"]`
/** Types without leaving the field: nothing but the keys tells the page. */
async function type(key: string, text: string) {
  const into = await clerk.enter(cell(key))
  await into.sendKeys(Key.chord(Key.CONTROL, 'a'), text)
}
const shown = async (key: string) => (await clerk.see(cell(key))).getAttribute('value')
const stored = async (key: string) => {
  const { body } = await (
    await Client.signedIn(server.address, 'officer.ashmere')
  ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
  const content = body.cells.find(one => one.cell === key)?.content
  return content?.kind === 'value' ? content.value : null
}
const cases = async () =>
  (
    await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<{ lines: CaseLine[] }>('/api/cases?register=home_visits')
  ).body.lines.map(({ answers }) => answers.visited_name?.kind === 'value' && answers.visited_name.value)
async function beginVisit(name: string) {
  await clerk.open('/desk/cases/fill?register=home_visits')
  await (await clerk.enter(field('visited_name'))).sendKeys(name, Key.TAB)
}

describe('a page that is closed while somebody types', () => {
  it('has kept each key of a report, and each answer of a form', async () => {
    await clerk.network(false)
    await clerk.open(REPORT)
    await type(CELL, '31')
    await clerk.driver.get('about:blank')
    await clerk.open(REPORT)
    expect(await shown(CELL)).toBe('31')
    await beginVisit('Jory Pask')
    await clerk.driver.get('about:blank')
    await clerk.open('/desk/cases/fill?register=home_visits')
    expect(await (await clerk.see(field('visited_name'))).getAttribute('value')).toBe('Jory Pask')
  })
})

describe('a browser that is killed while somebody types', () => {
  it('has it after its start, and sends it once', async () => {
    await clerk.open(REPORT)
    await type('new_visits.u1.m', '32')
    // Nothing says more than the keys: half a second after the last of them.
    await new Promise(resolve => {
      setTimeout(resolve, 500)
    })
    clerk = await clerk.dieAndComeBack()
    await clerk.open(REPORT)
    // What waits is laid over what the district tells, once it is read.
    await clerk.until(
      async () => `${await shown(CELL)} ${await shown('new_visits.u1.m')}` === '31 32',
      'both values',
    )
    await clerk.until(
      async () => (await stored(CELL)) === 31 && (await stored('new_visits.u1.m')) === 32,
      'what was typed to arrive',
    )
    await clerk.open('/desk/cases')
    await clerk.click('Go on with', 'a')
    expect(await (await clerk.see(field('visited_name'))).getAttribute('value')).toBe('Jory Pask')
  })
})

describe('a device that is full', () => {
  it('says at the place that it cannot keep a value, and keeps it once there is room', async () => {
    await clerk.open(REPORT)
    // As a browser says it: Chromium checks its own room only now and then.
    await clerk.run(
      `window.__add = IDBObjectStore.prototype.add; IDBObjectStore.prototype.add = () => { throw new DOMException('full', 'QuotaExceededError') }`,
    )
    await type('new_visits.a1_4.f', '3')
    await clerk.reads('The storage of this device is full')
    expect(await clerk.axe()).toEqual([])
    await clerk.run('IDBObjectStore.prototype.add = window.__add')
    await type('new_visits.a1_4.f', '34')
    await clerk.until(async () => (await stored('new_visits.a1_4.f')) === 34, 'the value to arrive')
    expect(await clerk.run<string>('return document.body.innerText')).not.toContain(
      'The storage of this device is full',
    )
  })
})

describe('a form that has a new edition while it is open', () => {
  it('goes on as it was begun, says so, and can be moved', async () => {
    const seen = visits([{ kind: 'yesNo', code: 'cough', label: { en: 'Cough' } }])
    await publishRegister(server.address, seen)
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.until(
      async () => (await clerk.run<string>('return document.body.innerText')).includes('Nothing waits'),
      'the contact',
    )
    await clerk.open('/desk/cases/fill?register=home_visits')
    await clerk.reads('begun before a newer edition')
    const page = await clerk.run<string>('return document.body.innerText')
    expect(page).not.toContain('Cough')
    expect(await clerk.axe()).toEqual([])
    await clerk.click('Move to the new edition')
    await clerk.reads('Cough')
    expect(await (await clerk.see(field('visited_name'))).getAttribute('value')).toBe('Jory Pask')
    await (await clerk.enter(field('visited_on'))).sendKeys('2026', Key.TAB)
    await clerk.click('Save', '.foot button')
    await clerk.until(async () => (await cases()).includes('Jory Pask'), 'the case to arrive')
  })
})

describe('a clock that is hours off, and jumps', () => {
  it('changes neither the order of what was typed nor the day on which it came', async () => {
    await clerk.clock(-3)
    await clerk.open(REPORT)
    await type('new_visits.a5_14.f', '5')
    await clerk.run('window.__off = 5 * 3600000')
    await type('new_visits.a5_14.f', '6')
    await clerk.run('window.__off = -26 * 3600000')
    await type('new_visits.a5_14.f', '7')
    await clerk.until(async () => (await stored('new_visits.a5_14.f')) === 7, 'the last value to stand')
    await beginVisit('Zenobia Carew')
    await (await clerk.enter(field('visited_on'))).sendKeys('2026', Key.TAB)
    await clerk.click('Save', '.foot button')
    await clerk.until(async () => (await cases()).includes('Zenobia Carew'), 'the case to arrive')
    const story = await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<{ events: { at: string }[] }>(`/api/reports/${OCTOBER}/${UNIT}/cells/new_visits.a5_14.f`)
    // By the clock of the district, which stands at the morning of the demo.
    for (const { at } of story.body.events) expect(at.slice(0, 10)).toBe('2026-11-09')
  })
})

describe('a device that is blocked, with what waits let in', () => {
  it('gives what waited at its next contact, and is erased then', async () => {
    await clerk.network(false)
    await clerk.open(REPORT)
    await type('new_visits.a5_14.m', '36')
    await clerk.reads('no network, will try again')
    const officer = await Client.signedIn(server.address, 'officer.ashmere')
    const { lines } = (await officer.get<{ lines: { id: string }[] }>('/api/devices')).body
    const device = lines.at(-1)
    expect(
      (await officer.post(`/api/devices/${device!.id}/block`, { blocked: true, letsIn: true })).status,
    ).toBe(200)
    await clerk.network(true)
    await clerk.run('window.dispatchEvent(new Event("online"))')
    await clerk.reads('The district office has blocked this device: what was on it has been erased.')
    expect(await stored('new_visits.a5_14.m')).toBe(36)
    expect(
      await clerk.run<string[]>(
        'return indexedDB.databases().then(all => all.map(one => one.name).filter(name => name.startsWith("lantern-work")))',
      ),
    ).toEqual([])
  })
})
