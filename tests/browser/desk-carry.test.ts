import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, Key, until } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import { PHONE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { deskOf, publishRegister } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { field, visits } from '../support/visits'

/**
 * A health post where no network comes: its work goes to the office on a memory card, and comes back on one.
 * Its desk speaks French.
 */
const UNIT = 'harrow_gate'
const OFFLINE = /ERR_INTERNET_DISCONNECTED/
let server: RunningServer
let officer: Visitor
let clerk: Visitor
let folder: string

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-carry-'))
  server = await startDemo()
  await publishRegister(server.address, visits())
  officer = await Visitor.arrive(server.address)
  await officer.downloads(folder)
  await officer.signIn('officer.ashmere')
  clerk = await deskOf(server.address, UNIT, 'fr', await Visitor.arrive(server.address, PHONE, 'fr-FR'))
  await clerk.downloads(folder)
  await clerk.click('Appareil', 'nav a')
  await clerk.reads('Contacts avec le district')
  await clerk.reads('Il peut travailler sans réseau')
  await clerk.network(false)
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])
/** The file that was downloaded last, once it is whole. */
async function downloaded(visitor: Visitor, had: readonly string[]): Promise<string> {
  const fresh = () => readdirSync(folder).filter(name => name.endsWith('.lantern') && !had.includes(name))
  await visitor.until(() => Promise.resolve(fresh().length > 0), 'the file')
  return join(folder, fresh()[0]!)
}
async function give(visitor: Visitor, path: string) {
  await (
    await visitor.driver.wait(until.elementLocated(By.css('input[accept=".lantern"]')), 40_000)
  ).sendKeys(path)
}
const report = async () =>
  (
    await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
  ).body

describe('the desk in French', () => {
  it('speaks it on each of its pages, without a fault', async () => {
    for (const [path, says] of [
      ['/desk', 'À rendre maintenant'],
      ['/desk/cases', 'Aucun cas sur cet appareil'],
      ['/desk/questions', 'Questions'],
      ['/desk/device', 'Envoyer par fichier'],
    ] as const) {
      await clerk.open(path)
      await clerk.reads(says)
      await clean(clerk, OFFLINE)
    }
    await clerk.click('Verrouiller')
    await clerk.reads('Code PIN')
    await clean(clerk, OFFLINE)
    await clerk.unlock()
  })
})

describe('work that is carried by file', () => {
  let carried = ''

  it('is written where no network comes, and stays until the district has said that it has it', async () => {
    await clerk.open(`/desk/report/${OCTOBER}?section=outpatients`)
    await (
      await clerk.enter('input[data-cell="new_visits.u1.f"]')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '41', Key.TAB)
    await clerk.reads('Enregistré sur cet appareil')
    await clerk.open('/desk/cases/fill?register=home_visits')
    await (await clerk.enter(field('visited_name'))).sendKeys('Aélis Tremayne', Key.TAB)
    await (await clerk.enter(field('visited_on'))).sendKeys('2026', Key.TAB)
    await clean(clerk, OFFLINE)
    await clerk.click('Enregistrer', '.foot button')
    await clerk.reads('Aélis Tremayne')
    await clerk.open('/desk/device')
    await clerk.reads('2 enregistrements en attente')
    await clerk.click('Enregistrer ce qui attend dans un fichier')
    await clerk.reads('2 changements sont dans le fichier')
    carried = await downloaded(clerk, [])
    const text = readFileSync(carried, 'utf8')
    expect(text).not.toContain('Tremayne')
    await clean(clerk, OFFLINE)
  })

  it('that was changed or cut on its way is refused by the office, and says so', async () => {
    const text = readFileSync(carried, 'utf8')
    const middle = text.length >> 1
    for (const [name, wrong] of [
      ['cut', text.slice(0, middle)],
      ['changed', text.slice(0, middle) + (text[middle] === 'A' ? 'B' : 'A') + text.slice(middle + 1)],
    ] as const) {
      const path = join(folder, `${name}.lantern`)
      writeFileSync(path, wrong)
      await officer.open('/devices')
      await give(officer, path)
      await officer.see('.p-message-error, [role=alert]')
      await officer.consoleErrors()
    }
    await clean(officer)
    expect((await report()).cells.some(({ cell }) => cell === 'new_visits.u1.f')).toBe(false)
  })

  it('is taken in by the office once, however often it comes', async () => {
    await officer.open('/devices')
    await give(officer, carried)
    await officer.reads('2 new, 0 here already')
    await clean(officer)
    await officer.open('/devices')
    await give(officer, carried)
    await officer.reads('0 new, 2 here already')
    expect((await report()).cells.find(({ cell }) => cell === 'new_visits.u1.f')).toMatchObject({
      content: { value: 41 },
      version: 1,
    })
    await officer.open('/cases')
    await officer.pick('cases-register', visits().name.en!)
    await officer.reads('Aélis Tremayne')
  })

  it('and what the office says comes back the same way', async () => {
    const had = readdirSync(folder)
    await officer.open('/devices?find=harrow+gate')
    await officer.click('Reply file', 'td button')
    const back = await downloaded(officer, had)
    await clerk.open('/desk/device')
    await give(clerk, back)
    await clerk.reads('Le fichier de réponse a été reçu.')
    await clerk.reads('Rien n’attend')
    await clean(clerk, OFFLINE)
    await clerk.open('/desk/cases')
    await clerk.reads(/reçu/i)
    // The office’s own file is no file for the office.
    await officer.open('/devices')
    await give(officer, back)
    await officer.see('.p-message-error, [role=alert]')
  })
})
