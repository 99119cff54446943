import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { setDay } from '../support/answers'
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
    await admin.reads(/\d+ people/)
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
      await admin.until(
        async () =>
          (await admin.run<number>('return document.querySelector(".p-datatable-tbody").rows.length')) === 1,
        'only her',
      )
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

describe('a token of a program', () => {
  let token = ''
  const asks = (path: string) =>
    fetch(server.address + path, { headers: { authorization: `Bearer ${token}` } })

  it('is made for an area and until a day, is shown once, and lets the program read', async () => {
    await admin.open('/people')
    await admin.click('API tokens', 'a')
    await admin.reads('No program has a token.')
    await clean(admin)
    await admin.click('Make a token')
    await (await admin.enter('#token-name')).sendKeys('Stock system of the province')
    await (await admin.enter('#token-branch')).sendKeys('Ashmere')
    await admin.click('Ashmere', '[role=option]')
    await setDay(admin, '#token-last', '2026-11-01')
    await admin.click('Make the token')
    await admin.reads('Choose a day in the future')
    await setDay(admin, '#token-last', '2026-12-31')
    await clean(admin, /422/)
    await admin.click('Make the token')
    await admin.reads('Token for Stock system of the province')
    token = await admin.run<string>('return document.querySelector("code.token").innerText')
    await shot(admin, 'tokens')
    await clean(admin)
    await admin.click('I have copied it')
    expect(await admin.run('return document.body.innerText')).not.toContain(token)
    const reports = await asks('/api/records/reports?dataset=monthly_summary')
    expect(reports.status).toBe(200)
    expect(((await reports.json()) as { records: unknown[] }).records.length).toBeGreaterThan(0)
    expect((await asks('/api/people')).status).toBe(403)
    await admin.open('/tokens')
    await admin.reads('9 Nov')
    expect(await admin.reads('Stock system')).not.toContain('never')
  })

  it('is ended, and from then on good for nothing', async () => {
    await admin.click('End', 'td button')
    await admin.reads('This cannot be taken back')
    await clean(admin)
    await admin.click('End', '.p-dialog-footer button')
    await admin.reads(/\bended\b/i)
    const refused = await asks('/api/records/reports?dataset=monthly_summary')
    expect([refused.status, ((await refused.json()) as { code: string }).code]).toEqual([401, 'token-ended'])
  })
})
