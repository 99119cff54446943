import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Visitor } from '../support/browser'
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

describe('people', () => {
  let code = ''

  it('are made with a one-time code, shown once', async () => {
    await admin.open('/people')
    await admin.reads('Who may do what')
    await shot(admin, 'people')
    await clean(admin)
    await admin.click('Add a person')
    await (await admin.enter('#person-name')).sendKeys('Nell Fyne')
    await (await admin.enter('#person-user')).sendKeys('nell.fyne')
    await admin.click('Make the person, and a code')
    await admin.reads('A clerk needs a facility or an area.')
    await (await admin.enter('#person-branch')).sendKeys('Tern Row')
    await admin.click('Tern Row', '[role=option]')
    await admin.click('Make the person, and a code')
    await admin.reads('One-time code for nell.fyne')
    code = await admin.run<string>('return document.querySelector(".code .figure").innerText')
    await clean(admin, /422/)
    await admin.click('I have passed it on')
  })

  it('come in by it, choose a password, and are out at once when switched off', async () => {
    const nell = await Visitor.arrive(server.address)
    try {
      await nell.open('/sign-in')
      await nell.click('I have a one-time code')
      await (await nell.enter('#code-user')).sendKeys('Nell.Fyne')
      await (await nell.enter('#one-time-code')).sendKeys(code.toLowerCase().replaceAll('-', ' '))
      await (await nell.enter('#new-password')).sendKeys('a long password')
      await clean(nell)
      await nell.click('Sign in', 'button[type=submit]')
      await nell.choosePin()
      await nell.reads('Monthly facility summary')
      await (await admin.enter('[aria-label="Find a person"]')).sendKeys('Nell')
      await admin.click('Change', 'td button')
      await admin.click('May sign in', 'label')
      await admin.click('Save')
      await admin.reads('Switched off')
      await nell.open('/desk')
      await nell.reads('Sign in again')
    } finally {
      await nell.leave()
    }
  })
})
