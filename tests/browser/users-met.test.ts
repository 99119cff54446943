import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CaseLine } from '#core/contract/cases'
import type { DraftFile } from '#core/contract/drafts'
import type { ReportFile } from '#core/contract/reports'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { Client, OCTOBER } from '../support/client'
import { deskOf, publishRegister } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { visits } from '../support/visits'
import { shot } from '../support/shot'

const UNIT = 'tern_row'
let server: RunningServer
let officer: Visitor
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address, OFFICE)
  await officer.signIn('officer.ashmere')
  await publishRegister(server.address, visits())
  clerk = await deskOf(server.address, UNIT, 'en', await Visitor.arrive(server.address, PHONE))
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
})

const clean = async (visitor: Visitor) => expect(await visitor.faults()).toEqual([])
const field = (question: string) => `[data-question="${question}"] input`
const report = async () =>
  (
    await (
      await Client.signedIn(server.address, 'officer.ashmere')
    ).get<ReportFile>(`/api/reports/${OCTOBER}/${UNIT}`)
  ).body

describe('what users met, 6: a patient from another district', () => {
  it('is recorded at the place where they live, the own district offered first', async () => {
    await clerk.open('/desk/cases')
    await clerk.click('Measles and rubella', 'a')
    await (await clerk.enter(field('district'))).sendKeys('e')
    await clerk.see('[role=option]')
    const options = await clerk.run<string[]>(
      'return [...document.querySelectorAll("[role=option]")].map(one => one.innerText.split("\\n")[0])',
    )
    expect(options.length).toBeGreaterThan(1)
    expect(options[0]).toBe('Ashmere')
    const other = options.find(name => name !== 'Ashmere')!
    await clerk.click(other, '[role=option]')
    await (await clerk.enter(field('zone'))).sendKeys('a')
    // The list of districts may still be leaving.
    const zonesShown = () =>
      clerk.run<string[]>('return [...document.querySelectorAll("[role=option]")].map(one => one.innerText)')
    await clerk.until(async () => {
      const shown = await zonesShown()
      return shown.length > 0 && shown.every(text => text.includes(`› ${other}`))
    }, 'only zones of that district')
    const zones = await zonesShown()
    await shot(clerk, 'other-district')
    await clerk.click(zones[0]!.split('\n')[0]!, '[role=option]')
    await clean(clerk)
  })
})

describe('what users met, 18: a clerk who works for a zone', () => {
  it('sees what is due for each facility, and says whose case a new one is', async () => {
    const office = await Client.signedIn(server.address, 'admin')
    const { body: made } = await office.post<{ code: string }>('/api/people', {
      userName: 'clerk.zone',
      displayName: 'Tamsin Rook',
      role: 'clerk',
      branch: 'saltings_zone',
      ownOnly: false,
    })
    const zone = await Visitor.arrive(server.address, PHONE)
    try {
      await zone.open('/sign-in')
      await zone.click('I have a one-time code')
      await (await zone.enter('#code-user')).sendKeys('clerk.zone')
      await (await zone.enter('#one-time-code')).sendKeys(made.code)
      await (await zone.enter('#new-password')).sendKeys('a long password')
      await zone.click('Sign in', 'button[type=submit]')
      await zone.choosePin()
      const due = await zone.reads('Saltern')
      expect(due).toContain('Marram End')
      await zone.open('/desk/cases')
      await zone.click('Home visits', 'a')
      await (await zone.enter(field('visited_name'))).sendKeys('Perran Lowe')
      await (await zone.enter(field('visited_on'))).sendKeys('2026')
      await zone.click('Save', '.foot button')
      await zone.reads('Choose the facility that this case belongs to.')
      await clean(zone)
      await zone.pick('case-unit', 'Saltern Dispensary')
      await zone.click('Save', '.foot button')
      await zone.reads('Perran Lowe')
      const officerClient = await Client.signedIn(server.address, 'officer.ashmere')
      await zone.until(
        async () =>
          (await officerClient.get<{ lines: CaseLine[] }>('/api/cases?register=home_visits')).body.lines.some(
            one => one.unit.code === 'saltern',
          ),
        'the case to be that of the facility',
      )
      await clean(zone)
    } finally {
      await zone.leave()
    }
  })
})

describe('what users met, 11: a must-fix that cannot be corrected', () => {
  it('does not keep the nurse from sending: she writes a sentence, and the officer reads it', async () => {
    await clerk.open(`/desk/report/${OCTOBER}`)
    const cells = (await report()).edition.sections.flatMap(({ items }) => items)
    expect(cells.map(({ code }) => code)).toContain('fever_confirmed')
    await (
      await clerk.enter('input[data-cell="fever_tested.u5"]')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '3', Key.TAB)
    await (
      await clerk.enter('input[data-cell="fever_confirmed.u5"]')
    ).sendKeys(Key.chord(Key.CONTROL, 'a'), '9', Key.TAB)
    await clerk.reads('Received by the district')
    await clerk.open(`/desk/send/${OCTOBER}`)
    await clerk.reads(/value(s)? cannot be right/)
    expect(await (await clerk.see('button.go')).isEnabled()).toBe(false)
    // “Correct it” puts the cursor into the cell.
    await clerk.click('Correct it', '.doubt.mustFix a')
    await clerk.until(
      async () =>
        /fever_(confirmed|tested)\.u5/.test(
          await clerk.run<string>('return document.activeElement?.dataset?.cell ?? ""'),
        ),
      'the cursor to be in the cell',
    )
    await clerk.open(`/desk/send/${OCTOBER}`)
    await clerk.reads(/value(s)? cannot be right/)
    for (const button of await clerk.driver.findElements({ css: '.doubt.mustFix button' }))
      await button.click()
    for (const area of await clerk.driver.findElements({ css: '.doubt textarea' }))
      await area.sendKeys('The tests of the school were written elsewhere.')
    await shot(clerk, 'send-must-fix')
    await clean(clerk)
    await clerk.click('Send the report', 'button')
    await clerk.reads('Received by the district at')
    const { state, discrepancies } = await report()
    expect([state, discrepancies.find(({ strength }) => strength === 'mustFix')?.state]).toEqual([
      'sent',
      'answered',
    ])
  })
})

describe('what users met, 10 and 13: the officer', () => {
  it('sees the discrepancies of one round, is told what accepting a must-fix means, and opens a settled one again', async () => {
    await officer.open(`/resolve?round=${OCTOBER}`)
    await officer.reads('Only Monthly facility summary, October 2026')
    await officer
      .click('Tern Row Health Centre', '.right a, .left a, .left button, [role=option]')
      .catch(() => officer.click('Tern Row Health Centre'))
    await officer.reads('The tests of the school were written elsewhere.')
    await officer.keys('e')
    await officer.reads('By the rule these values cannot be right')
    await shot(officer, 'explain-must-fix')
    await clean(officer)
    await officer.click('Settle as explained')
    await officer.click('Settled', '.filters button')
    await officer.click('Tern Row Health Centre').catch(() => undefined)
    await officer.click('Open it again')
    await officer.reads('Why is it opened again?')
    await officer.type('One more look.')
    await officer.click('Open it again', 'button[type=submit]')
    await officer.reads('One more look.')
    await clean(officer)
  })

  it('chooses dataset and period of a board, and finds a period by its name', async () => {
    await officer.open('/gather')
    // The newest round that is over: weeks can be filled five periods ahead.
    await officer.reads('week 45 of 2026')
    await officer.pick('round-dataset', 'Monthly facility summary')
    await officer.reads('October 2026')
    // Arrows move in the board without a click first.
    await officer.see('.p-datatable-selectable-row')
    await officer.keys(Key.ARROW_DOWN)
    await officer.until(
      async () =>
        officer.run<boolean>(
          'return document.activeElement.classList.contains("p-datatable-selectable-row")',
        ),
      'a row to have the focus',
    )
    await officer.pick('round-period', 'September 2026')
    await officer.until(async () => (await officer.at()).endsWith('2026-09'), 'the board of September')
    await clean(officer)
    await officer.open('/people')
    await officer.reads('Your role does not allow this')
    expect(await officer.run('return document.body.innerText')).not.toContain('Add a person')
  })
})

describe('what users met, 7: a rule published while a round is open', () => {
  it('asks from which round on, and judges again what was sent', async () => {
    const office = await Client.signedIn(server.address, 'admin')
    const { body: file } = await office.get<DraftFile>('/api/drafts/monthly_summary')
    const rule = {
      ...file.draft.rules[0]!,
      code: 'never_so_long',
      name: { en: 'Open every day', fr: 'Ouvert chaque jour' },
      expression: 'days_open > 60',
      strength: 'note' as const,
      over: undefined,
    }
    const kept = await office.send('PUT', '/api/drafts/monthly_summary', {
      version: file.version,
      draft: { ...file.draft, rules: [...file.draft.rules, rule] },
      reports: file.reports,
    })
    expect(kept.status).toBe(200)
    const admin = await Visitor.arrive(server.address, OFFICE)
    try {
      await admin.signIn('admin')
      await admin.open('/define/dataset/monthly_summary?part=publish')
      await admin.click('Publish edition 2')
      await admin.reads('From which round on')
      await admin.reads('October 2026 (due 7 Nov) and later')
      await shot(admin, 'publish-from')
      await clean(admin)
      await admin.click('Publish it', '.p-dialog-footer button')
      await admin.reads('Edition 2 is published')
      const judged = async () =>
        (
          await (
            await Client.signedIn(server.address, 'officer.ashmere')
          ).get<ReportFile>(`/api/reports/${OCTOBER}/pell_harbour`)
        ).body
      await admin.until(
        async () => (await judged()).discrepancies.some(({ code }) => code === 'never_so_long'),
        'the sent report to be judged by the new rule',
      )
      expect((await judged()).edition.number).toBe(2)
      await clean(admin)
    } finally {
      await admin.leave()
    }
  })
})

describe('what users met, 20: French', () => {
  it('is spoken by the components too', async () => {
    await officer.run('localStorage.setItem("lantern-language", "fr")')
    await officer.open('/gather')
    await officer.see('.rail')
    await officer.keys('?')
    await officer.see('.p-dialog')
    expect(
      await officer.run(
        'return document.querySelector(".p-dialog-close-button")?.getAttribute("aria-label")',
      ),
    ).toBe('Fermer')
    await officer.run('localStorage.setItem("lantern-language", "en")')
  })
})
