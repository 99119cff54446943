import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { By, Key } from 'selenium-webdriver'
import type { PersonLine } from '#core/contract/people'
import { Client } from '../support/client'
import { Visitor } from '../support/browser'
import { deskOf } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

let server: RunningServer
let admin: Visitor

beforeAll(async () => {
  server = await startDemo()
  admin = await Visitor.arrive(server.address)
  await admin.signIn('admin')
})
afterAll(async () => {
  await admin?.leave()
  await server?.stop()
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])

/** Ticks one of a list that opens. */
async function tick(id: string, name: string): Promise<void> {
  await admin.run(`document.querySelector('#${id}').closest('.p-multiselect').click()`)
  await admin.click(name, '.p-multiselect-option')
  await (await admin.see('.p-multiselect-filter')).sendKeys(Key.ESCAPE)
  await admin.until(
    async () => !(await admin.driver.findElements(By.css('.p-multiselect-overlay'))).length,
    'the list to close',
  )
}

describe('a reader who sees only the cases of one programme', () => {
  let code = ''

  it('is made by the administrator, who is told that nothing is shared yet', async () => {
    await admin.open('/people')
    await admin.reads('Who sees and may do what')
    await admin.click('Add a person')
    await (await admin.enter('#person-name')).sendKeys('Orla Venn')
    await (await admin.enter('#person-user')).sendKeys('orla.venn')
    await admin.pick('person-role', 'reader')
    await admin.click('Only a part of what the branch has', 'label')
    await admin.click('Make the person, and a code')
    await admin.reads('Nothing would be shared with this person.')
    await tick('share-registers', 'Measles and rubella')
    await admin.pick('share-add-measles_cases', 'Sex')
    await admin.pick('filter-sex', 'Female')
    await shot(admin, 'zz-sharing-form')
    await clean(admin, /422/)
    await admin.click('Make the person, and a code')
    await admin.reads('One-time code for orla.venn')
    code = await admin.run<string>('return document.querySelector(".code .figure").innerText')
  })

  it('comes in, finds those cases and no report, and is refused what is asked for by its address', async () => {
    const all = await Client.signedIn(server.address, 'admin')
    const boys = await all.get<{ lines: { id: string }[] }>(
      '/api/cases?register=measles_cases&answers=sex%3Dm',
    )
    const girls = await all.get<{ counts: { found: number } }>(
      '/api/cases?register=measles_cases&answers=sex%3Df',
    )
    const orla = await Visitor.arrive(server.address)
    try {
      await orla.open('/sign-in')
      await orla.click('I have a one-time code')
      await (await orla.enter('#code-user')).sendKeys('orla.venn')
      await (await orla.enter('#one-time-code')).sendKeys(code)
      await (await orla.enter('#new-password')).sendKeys('a long password')
      await orla.click('Sign in', 'button[type=submit]')
      await orla.until(async () => (await orla.at()) === '/', 'to be at Today')
      await orla.see('h1')
      await shot(orla, 'zz-sharing-today')
      await clean(orla)
      await orla.open('/cases')
      await orla.reads(new RegExp(`\\b${girls.body.counts.found} cases`))
      await shot(orla, 'zz-sharing-cases')
      await clean(orla)
      await orla.open(`/cases/${boys.body.lines[0]!.id}`)
      await orla.reads('This is not shared with you.')
      await orla.open('/gather/monthly_summary~2026-10')
      await orla.reads('This is not shared with you.')
      await shot(orla, 'zz-sharing-refused')
    } finally {
      await orla.leave()
    }
  })

  it('loses a duty by a tick of the matrix, at once', async () => {
    const officer = await Client.signedIn(server.address, 'officer.ashmere')
    expect((await officer.get('/api/visits')).status).toBe(200)
    await admin.open('/people?find=officer.ashmere')
    await admin.reads('Who sees and may do what')
    await admin.run(
      `document.querySelector('input[aria-label$="Plan visits, and count reports again"]').click()`,
    )
    await admin.until(async () => (await officer.get('/api/visits')).status === 403, 'the duty to be gone')
    await shot(admin, 'zz-sharing-matrix')
    await clean(admin)
  })
})

describe('a clerk of one ward', () => {
  const clerkOf = async () => {
    const all = await Client.signedIn(server.address, 'admin')
    const { body } = await all.get<{ lines: PersonLine[] }>('/api/people?find=clerk.tern_row')
    return { all, person: body.lines.find(({ userName }) => userName === 'clerk.tern_row')! }
  }

  it('is held to one dataset and one register, and is offered no condition', async () => {
    const { person } = await clerkOf()
    await admin.open('/people?find=clerk.tern_row')
    await admin.reads('Who sees and may do what')
    await admin.click('all of the branch', 'button.textual')
    await admin.click('Only a part of what the branch has', 'label')
    await tick('share-datasets', 'Monthly facility summary')
    await tick('share-registers', 'Measles and rubella')
    expect(await admin.driver.findElements(By.css('[id^=share-add-]'))).toEqual([])
    await shot(admin, 'zz-sharing-clerk')
    await clean(admin)
    await admin.click('Save')
    await admin.until(
      async () => (await clerkOf()).person.sharing?.datasets?.length === 1,
      'the clerk to be held to a part',
    )
    expect(person.sharing).toBeNull()
  })

  it('has that on the phone and nothing else, until more is shared', async () => {
    const clerk = await deskOf(server.address, 'tern_row')
    try {
      await clerk.reads('Monthly facility summary')
      const due = await clerk.run<string>('return document.body.innerText')
      expect(due).not.toContain('Weekly diseases to watch')
      await shot(clerk, 'zz-sharing-phone')
      await clean(clerk)
      const begins = async () => {
        await clerk.open('/desk/cases')
        await clerk.see('a.begin')
        return clerk.run<string>('return document.body.innerText')
      }
      expect(await begins()).toContain('Measles and rubella')
      expect(await begins()).not.toContain('Newborn follow-up')
      await shot(clerk, 'zz-sharing-phone-cases')
      const { all, person } = await clerkOf()
      const { id, displayName, role, branch, ownOnly, without, active } = person
      const { status } = await all.send('PUT', `/api/people/${id}`, {
        ...{ displayName, role, branch: branch!.code, ownOnly, without, active, sharing: null },
      })
      expect(status).toBe(200)
      await clerk.open('/desk/cases')
      await clerk.click('Send and receive now')
      await clerk.reads('Newborn follow-up')
      await clerk.open('/desk')
      await clerk.reads('Weekly diseases to watch')
    } finally {
      await clerk.leave()
    }
  })
})
