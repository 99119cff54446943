import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, until } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CaseLine } from '#core/contract/cases'
import type { FormPart } from '#core/form/question'
import { PHONE, Visitor } from '../support/browser'
import { publishRegister } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'
import { field, visits } from '../support/visits'

const words = (en: string) => ({ en, fr: en })
/** A table with named rows, and a part that repeats. */
const MORE: FormPart[] = [
  {
    kind: 'table',
    code: 'rooms',
    label: words('Water'),
    rows: [
      { code: 'kitchen', name: words('Kitchen') },
      { code: 'yard', name: words('Yard') },
    ],
    columns: [
      { kind: 'wholeNumber', code: 'basins', label: words('Basins') },
      { kind: 'wholeNumber', code: 'taps', label: words('Taps') },
    ],
  },
  {
    kind: 'repeat',
    code: 'nets',
    label: words('Nets'),
    parts: [{ kind: 'wholeNumber', code: 'net_age', label: words('Age of the net') }],
  },
]
/** What a table shows, row by row. */
const GRID =
  'return [...document.querySelectorAll(".answers table")].map(table => [table.caption.innerText, ...[...table.tBodies[0].rows].map(row => [...row.cells].map(cell => cell.innerText).join(" "))])'
const SHOWN = [
  ['Water', 'Kitchen 2 –', 'Yard 5 1'],
  ['Nets', '1 3'],
]
let server: RunningServer
let officer: Visitor
let clerk: Visitor
let folder: string

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-card-'))
  server = await startDemo()
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
  await publishRegister(server.address, visits(MORE))
  clerk = await Visitor.arrive(server.address, PHONE)
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])

describe('a device of a facility', () => {
  it('is paired by a picture of a card that the officer made', async () => {
    await officer.open('/devices')
    await officer.reads('Pell Harbour Health Centre')
    await clean(officer)
    await officer.click('New pairing card')
    await (await officer.enter('#card-unit')).sendKeys('Tern Row')
    await officer.click('Tern Row', '[role=option]')
    await officer.click('Make the card')
    await officer.see('.pairing img')
    await officer.reads('For 1 device')
    await clean(officer)
    const picture = await officer.run<string>('return document.querySelector(".pairing img").src')
    const path = join(folder, 'card.png')
    writeFileSync(path, Buffer.from(picture.slice(picture.indexOf(',') + 1), 'base64'))

    await clerk.open('/desk/pair')
    await clerk.reads('Choose a picture of the card')
    await clean(clerk)
    await (await clerk.driver.wait(until.elementLocated(By.css('input[type=file]')), 40_000)).sendKeys(path)
    await clerk.reads('This is now “Tern Row Health Centre 1” of Tern Row Health Centre.')
    await officer.open('/devices?find=tern+row+health')
    await officer.reads('Tern Row Health Centre 1')
  })

  it('registers a case without a network, keeps it through a reload, and sends it when one comes', async () => {
    await clerk.click('Go on to the desk')
    await clerk.reads('Sign in once with a network')
    await clean(clerk)
    await clerk.signInAtDesk('clerk.tern_row')
    await clerk.click('Cases', 'nav a')
    await clerk.reads('No case on this device yet.')
    await clean(clerk)
    await clerk.click('Home visits', 'a')
    await clerk.reads('First visit')
    await clerk.until(
      async () =>
        clerk.run<boolean>(
          'return navigator.serviceWorker.controller !== null || navigator.serviceWorker.ready.then(() => true)',
        ),
      'the service worker to be ready',
    )
    await clerk.network(false)
    await (await clerk.enter(field('visited_name'))).sendKeys('Wenna Élan')
    await (await clerk.enter(field('visited_on'))).sendKeys('2026')
    await clerk.click('Yes', '[data-question="fever"] button')
    await (await clerk.enter(field('fever_days'))).sendKeys('3')
    // What users met, 3: the yard is filled before the kitchen; rows keep their names and their order.
    for (const [cell, text] of [
      ['basins.yard', '5'],
      ['taps.yard', '1'],
      ['basins.kitchen', '2'],
    ] as const)
      await (await clerk.enter(field(cell))).sendKeys(text)
    await clerk.click('Add: Nets')
    await (await clerk.enter('[data-question$="/net_age"] input')).sendKeys('3')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
    await clerk.saveCase()
    await clerk.reads('Waiting')
    await clerk.reads('Days of fever')
    expect(await clerk.run(GRID)).toEqual(SHOWN)
    await shot(clerk, 'table-desk')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
    await clerk.open('/desk/cases')
    await clerk.reads('Wenna Élan')
    await clerk.reads('No network. It is sent by itself when there is one.')
    await clerk.reads('1 record waits on this device')
    await (await clerk.enter('[aria-label^="Find a case"]')).sendKeys('ela')
    await clerk.reads('Wenna Élan')
    await clerk.network(true)
    await clerk.click('Send and receive now')
    await clerk.reads(/Received today \d\d:\d\d/i)
    await clerk.reads('Nothing waits on this device')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
  })

  it('adds a visit and a correction, and the office has all of it', async () => {
    await clerk.click('Wenna Élan', 'a.case')
    await clerk.click('Later visit', 'a')
    await clerk.click('Yes', '[data-question="well"] button')
    await clerk.saveCase()
    await clerk.reads('Well now')
    await clerk.click('Correct it', '.card:first-of-type a')
    await clerk.reads('First visit')
    await clerk.write(field('visited_name'), 'Wenna Elan')
    await clerk.run('document.activeElement.blur()')
    await clerk.saveCase()
    await clerk.reads('corrected')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
    await officer.until(async () => {
      const [found] = await officer.run<CaseLine[]>(
        'return fetch("/api/cases?register=home_visits").then(answer => answer.json()).then(({ lines }) => lines)',
      )
      return (
        found?.entries === 2 &&
        (found.answers.visited_name as { value?: string }).value === 'Wenna Elan' &&
        found.unit.code === 'tern_row'
      )
    }, 'the office to have the case with both entries')
    await officer.open('/cases')
    await officer.reads('Wenna Elan')
    await officer.click('Wenna Elan', 'td a')
    await officer.reads('Was corrected')
    await officer.until(async () => (await officer.run<unknown[]>(GRID)).length > 0, 'the tables of the case')
    expect((await officer.run<unknown[]>(GRID)).slice(0, 2)).toEqual(SHOWN)
    await shot(officer, 'table-office')
    await clean(officer)
    await clerk.open('/desk/device')
    await clerk.reads('Tern Row Health Centre 1')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
  })

  it('is shut out once the officer blocks it', async () => {
    await officer.open('/devices?find=tern+row+health')
    await officer.click('Block it', 'td button')
    await officer.reads('It is shut out at once')
    await officer.click('Block it', '.p-dialog button')
    await officer.reads('Blocked 1')
    await clean(officer)
    // Locked as it is, it asks whether it is still let in.
    await clerk.driver.get(`${server.address}/desk/cases`)
    await clerk.reads('The district office has blocked this device: what was on it has been erased.')
    expect(
      await clerk.run<string[]>(
        'return indexedDB.databases().then(all => all.map(one => one.name).filter(name => name.startsWith("lantern-work")))',
      ),
    ).toEqual([])
  })
})
