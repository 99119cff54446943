import { rmSync } from 'node:fs'
import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { DEMO, demoFolder, freePort, PASSWORD, type RunningServer, startServer } from '../support/server'
import { TestDevice } from '../support/test-device'

/**
 * What goes wrong on a real day: the server dies, the session ends, the network goes, two people type into
 * one cell.
 */
let folder: string
let port: number
let server: RunningServer
let clerk: Visitor

beforeAll(async () => {
  folder = demoFolder()
  port = await freePort()
  server = await startServer(folder, DEMO, port)
  clerk = await Visitor.arrive(server.address, PHONE)
  await clerk.signIn('clerk.harrow_gate')
})
afterAll(async () => {
  await clerk?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const open = async (section = 'outpatients') => {
  await clerk.open(`/desk/report/${OCTOBER}?section=${section}`)
  await clerk.see('input[data-row="0"]')
}
const cell = (key: string) => `input[data-cell="${key}"]`
async function type(key: string, text: string) {
  const field = await clerk.enter(cell(key))
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB)
}
const shown = async (key: string) => (await clerk.see(cell(key))).getAttribute('value')
const stored = async (key: string, as = 'clerk.harrow_gate', unit = 'harrow_gate') => {
  const { body } = await (
    await Client.signedIn(server.address, as)
  ).get<ReportFile>(`/api/reports/${OCTOBER}/${unit}`)
  const content = body.cells.find(one => one.cell === key)?.content
  return content?.kind === 'value' ? content.value : (content?.kind ?? null)
}

describe('the server', () => {
  it('is killed while the clerk types: what the page said was kept is there after the start', async () => {
    await open()
    await type('new_visits.u1.f', '11')
    await clerk.reads('Received by the district')
    await server.stop('SIGKILL')
    await type('new_visits.u1.m', '12')
    await type('new_visits.a1_4.f', '13')
    await clerk.reads('Saved on this device')
    await clerk.reads('no network, will try again')
    server = await startServer(folder, DEMO, port)
    expect(await stored('new_visits.u1.f')).toBe(11)
    // The page sends by itself what it kept.
    await clerk.reads('Received by the district')
    await clerk.until(async () => (await stored('new_visits.a1_4.f')) === 13, 'the waiting changes to arrive')
    await open()
    expect([
      await shown('new_visits.u1.f'),
      await shown('new_visits.u1.m'),
      await shown('new_visits.a1_4.f'),
    ]).toEqual(['11', '12', '13'])
  })

  it('closes its database on SIGTERM, and tells a second one that the folder is in use', async () => {
    await expect(startServer(folder, DEMO)).rejects.toThrow(/is in use by another process/)
    expect(await server.stop('SIGTERM')).toBe(0)
    expect(server.output()).toContain('the database is closed')
    server = await startServer(folder, DEMO, port)
  })
})

describe('the session', () => {
  it('ends in the middle of typing: sign in again over the page, nothing is lost', async () => {
    await open()
    await (await Client.signedIn(server.address, 'clerk.harrow_gate')).delete('/api/sessions')
    await type('new_visits.a1_4.m', '14')
    await clerk.reads('Sign in again')
    expect(await clerk.axe()).toEqual([])
    await (await clerk.see('.p-dialog #password')).sendKeys(PASSWORD, Key.ENTER)
    await clerk.reads('Received by the district')
    expect(await shown('new_visits.a1_4.m')).toBe('14')
    expect(await stored('new_visits.a1_4.m')).toBe(14)
  })
})

describe('the network', () => {
  it('goes: the page opens again without it and keeps what is typed; it comes: all is sent', async () => {
    await open()
    await clerk.run('return navigator.serviceWorker.ready.then(() => true)')
    await clerk.until(
      () =>
        clerk.run<boolean>(
          'return caches.keys().then(async names => (await Promise.all(names.map(name => caches.open(name).then(cache => cache.keys())))).flat().length > 20)',
        ),
      'the shell to be kept',
    )
    await clerk.network(false)
    await type('new_visits.a5_14.f', '15')
    await clerk.reads('no network, will try again')
    await open()
    expect(await shown('new_visits.a5_14.f')).toBe('15')
    await clerk.reads('no network, will try again')
    await clerk.open('/desk')
    await clerk.reads('1 record waits on this device')
    await open()
    await clerk.network(true)
    await clerk.reads('Received by the district')
    expect(await stored('new_visits.a5_14.f')).toBe(15)
  })
})

describe('two people at one cell', () => {
  it('the second is told, with both values, and chooses', async () => {
    await open()
    await type('injuries.f', '5')
    await clerk.reads('Received by the district')
    await clerk.until(async () => (await stored('injuries.f')) === 5, 'the first value')
    // The same person at another device, on the same version.
    const other = await TestDevice.at(server.address, 'harrow_gate')
    const { body } = await other.person.get<ReportFile>(`/api/reports/${OCTOBER}/harrow_gate`)
    const base = body.cells.find(one => one.cell === 'injuries.f')!.version
    other.write(OCTOBER, 'harrow_gate', 'injuries.f', 8, base)
    await other.sendAll()
    await type('injuries.f', '6')
    await clerk.reads(/put 8 here in the meantime; you typed 6/)
    expect(await clerk.axe()).toEqual([])
    await clerk.click('Use mine: 6')
    await clerk.until(async () => (await stored('injuries.f')) === 6, 'the chosen value')
  })
})

describe('bad input at the cell', () => {
  it.each([
    ['12ab', /is not a number/],
    ['-4', /cannot be below zero/],
    ['2.5', /whole number/],
    ['1000000000000', /more than a facility could count/],
  ])('%s is told where it was typed, and changes nothing', async (text, message) => {
    await open()
    await type('injuries.m', '3')
    await clerk.until(async () => (await stored('injuries.m')) === 3, 'the good value')
    await type('injuries.m', text)
    await clerk.reads(message)
    await clerk.until(async () => (await stored('injuries.m')) === 3, 'the value from before')
    expect(await shown('injuries.m')).toBe(text)
  })

  it('letters are commands: not known with a reason, not offered, zeros with undo', async () => {
    await open('antenatal')
    await (await clerk.enter(cell('antenatal_early'))).sendKeys('n')
    await clerk.click('was not recorded')
    await clerk.until(async () => (await stored('antenatal_early')) === 'notKnown', 'not known')
    await (await clerk.enter(cell('syphilis_tested'))).sendKeys('x')
    await clerk.until(async () => (await stored('syphilis_tested')) === 'notOffered', 'not offered')
    await (await clerk.enter(cell('tetanus_first'))).sendKeys('z')
    await clerk.until(async () => (await stored('tetanus_later')) === 0, 'zeros')
    expect(await stored('antenatal_early')).toBe('notKnown')
    await clerk.click('Undo ')
    await clerk.until(async () => (await stored('tetanus_later')) === 'blank', 'the zeros taken back')
  })

  it('a range from a spreadsheet fills cells', async () => {
    await open()
    const field = await clerk.enter(cell('admissions.u1.f'))
    await clerk.run(
      'const data = new DataTransfer(); data.setData("text/plain", "1\\t2\\r\\n3\\t4\\r\\n"); arguments[0].dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }))',
      field,
    )
    await clerk.until(async () => (await stored('admissions.a1_4.m')) === 4, 'the pasted range')
    expect([
      await stored('admissions.u1.f'),
      await stored('admissions.u1.m'),
      await stored('admissions.a1_4.f'),
    ]).toEqual([1, 2, 3])
  })
})

describe('the pages', () => {
  it('speak French, are clean in the dark, and tell what a person may not see', async () => {
    const officer = await Visitor.arrive(server.address, OFFICE, 'fr')
    try {
      await (
        officer.driver as unknown as { sendDevToolsCommand: (name: string, params: object) => Promise<void> }
      ).sendDevToolsCommand('Emulation.setEmulatedMedia', {
        features: [{ name: 'prefers-color-scheme', value: 'dark' }],
      })
      await officer.signIn('officer.ashmere')
      await officer.reads('Ce qui vous attend')
      for (const [path, text] of [
        ['/gather', 'Maladies à suivre'],
        ['/resolve', 'à résoudre'],
        ['/report', 'rapport du district'],
        ['/define', 'Ce qui est rapporté'],
      ] as const) {
        await officer.open(path)
        await officer.reads(text)
        expect(await officer.axe(), path).toEqual([])
      }
      await officer.open(`/facility/${OCTOBER}/coldwell`)
      await officer.reads('Ceci appartient à un autre secteur')
      expect(await officer.axe()).toEqual([])
      await officer.open(`/facility/${OCTOBER}/nowhere`)
      await officer.reads('Il n’y a rien à cette adresse')
      expect(await officer.consoleErrors(/40[34]/)).toEqual([])
    } finally {
      await officer.leave()
    }
  })

  it('have keys for everything: jump anywhere, and the list under ?', async () => {
    const officer = await Visitor.arrive(server.address, { width: 1024, height: 768 })
    try {
      await officer.signIn('reader')
      await officer.reads('What needs you')
      await officer.driver.actions().keyDown(Key.CONTROL).sendKeys('k').keyUp(Key.CONTROL).perform()
      await officer.see('.p-dialog input')
      await officer.type('tern r')
      await officer.reads('Tern Row Health Centre')
      expect(await officer.axe()).toEqual([])
      await officer.type(Key.ENTER)
      await officer.reads('Under each box: last time')
      expect(await officer.at()).toBe('/facility/weekly_diseases~2026-W45/tern_row')
      expect(
        await officer.run<number>('return document.documentElement.scrollWidth - window.innerWidth'),
      ).toBeLessThanOrEqual(0)
      await officer.until(
        () => officer.run<boolean>('return document.querySelector(".p-dialog-mask") === null'),
        'the search to close',
      )
      await officer.keys('?')
      await officer.reads('Keys of this page')
    } finally {
      await officer.leave()
    }
  })
})

describe('the officer at the board', () => {
  it('accepts what has nothing open by one key that asks, takes it back, and sends a report back with the reason', async () => {
    const officer = await Visitor.arrive(server.address, OFFICE)
    try {
      await officer.signIn('officer.ashmere')
      await officer.open(`/gather/${OCTOBER}`)
      await officer.reads('Accept 6 reports with nothing open')
      // One key changes many: it says which before, and is taken back after.
      await officer.keys('a')
      await officer.reads('puts them into the district report as they are')
      expect(await officer.axe()).toEqual([])
      await officer.click('Accept', '.p-dialog-footer button')
      await officer.reads('6 reports were accepted.')
      await officer.reads('None to accept')
      await officer.click('Undo')
      await officer.reads('Accept 6 reports with nothing open')
      await officer.keys('a')
      await officer.click('Accept', '.p-dialog-footer button')
      await officer.reads('None to accept')
      await officer.open(`/facility/${OCTOBER}/millrace`)
      await officer.reads(/accepted/i)
      await officer.click('Send back')
      await (await officer.see('#why-back')).sendKeys('The stock page is missing.', Key.ENTER)
      await officer.reads(/sent back/i)
      expect(await officer.axe()).toEqual([])
      const { body } = await (
        await Client.signedIn(server.address, 'clerk.millrace')
      ).get<ReportFile>(`/api/reports/${OCTOBER}/millrace`)
      expect(body).toMatchObject({ state: 'sentBack', sentBackWhy: 'The stock page is missing.' })
      expect(await officer.consoleErrors()).toEqual([])
    } finally {
      await officer.leave()
    }
  })
})

describe('a real installation', () => {
  it('makes its first administrator with the code that it prints, and says what comes first', async () => {
    const fresh = await startServer('memory:', {})
    const visitor = await Visitor.arrive(fresh.address, OFFICE)
    try {
      await visitor.open('/')
      await visitor.reads('The first administrator')
      expect(await visitor.axe()).toEqual([])
      const code = /one-time code (\S+)/.exec(fresh.output())![1]!
      const fill = async (field: string, text: string) =>
        (await visitor.see(`#setup-${field}`)).sendKeys(Key.chord(Key.CONTROL, 'a'), text)
      for (const [field, text] of [
        ['code', 'AAAA-BBBB-CCCC'],
        ['installation', 'Marrow Sound'],
        ['timeZone', 'UTC'],
        ['displayName', 'Wenna Pike'],
        ['userName', 'wenna'],
        ['password', PASSWORD],
      ] as const)
        await fill(field, text)
      await visitor.click('Make the administrator')
      await visitor.reads('Not the code that the server printed.')
      await fill('code', code)
      await visitor.click('Make the administrator')
      await visitor.until(async () => (await visitor.at()) === '/sign-in', 'signing in')
      await visitor.signIn('Wenna')
      // What users met, 16: what to do next, in order, with links.
      await visitor.reads('What comes first')
      await visitor.click('Import the organisation units', 'a')
      await visitor.until(async () => (await visitor.at()) === '/define/units', 'the units')
      await visitor.open('/')
      await visitor.reads('What comes first')
      expect(await visitor.axe()).toEqual([])
    } finally {
      await visitor.leave()
      await fresh.stop()
    }
  })
})
