import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Visitor } from '../support/browser'
import { deskOf } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'
import { field, visits } from '../support/visits'
import { publishRegister } from '../support/desk'

let server: RunningServer
let officer: Visitor
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
  await publishRegister(server.address, visits())
  clerk = await deskOf(server.address, 'tern_row')
})
afterAll(async () => {
  await clerk?.leave()
  await officer?.leave()
  await server?.stop()
})

const clean = async (visitor: Visitor, but?: RegExp) => expect(await visitor.faults(but)).toEqual([])
const send = async () => {
  await clerk.open('/desk/cases')
  await clerk.click('Send and receive now')
  await clerk.reads('Nothing waits on this device')
}

describe('a case', () => {
  it('is closed on the phone without a network, after it was said how it ended', async () => {
    await clerk.open('/desk/cases')
    await clerk.click('Home visits', 'a')
    await (await clerk.enter(field('visited_name'))).sendKeys('Wenna Drift')
    await (await clerk.enter(field('visited_on'))).sendKeys('2026-11-02')
    await clerk.saveCase()
    await clerk.reads('First visit')
    await clerk.network(false)
    await clerk.click('Close the case')
    await clerk.reads('No visit is due any more')
    await clerk.pick('case-outcome', 'otherwise')
    await clerk.click('Close it', '.p-dialog button')
    await clerk.reads('Say why.')
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
    await clerk.pick('case-outcome', 'lost to follow-up')
    await shot(clerk, 'zz-close')
    await clerk.click('Close it', '.p-dialog button')
    await clerk.reads(/Closed on .*: lost to follow-up/)
    await clean(clerk, /ERR_INTERNET_DISCONNECTED/)
    await clerk.network(true)
    await send()
  })

  it('is read at the office as closed, opened again there, and open on the phone', async () => {
    await officer.open('/cases?register=home_visits&state=closed')
    await officer.reads('Wenna Drift')
    await officer.reads(/Closed on .*: lost to follow-up/)
    await officer.click('Wenna Drift', 'a')
    await officer.reads('What became of it')
    await clean(officer)
    await officer.click('Open the case again')
    await (await officer.enter('#case-text')).sendKeys('The mother called.')
    await officer.click('Open it', '.p-dialog button')
    await officer.reads('Opened again.')
    await officer.see('.pi-folder')
    await send()
    await clerk.click('Wenna Drift', 'a')
    await clerk.reads('Close the case')
    expect(await clerk.run<string>('return document.body.innerText')).not.toContain('Closed on')
  })

  it('is transferred by the office with the reason, and is seen on the phone as elsewhere', async () => {
    await officer.click('Transfer to a facility')
    await officer.click('Transfer', '.p-dialog-footer button')
    await officer.reads('Which facility gets the case?')
    await officer.pick('case-to', 'Pell Harbour Health Centre')
    await (await officer.enter('#case-text')).sendKeys('She lives there now.')
    await shot(officer, 'zz-transfer')
    await clean(officer)
    await officer.click('Transfer', '.p-dialog-footer button')
    await officer.reads(/From Tern Row Health Centre to Pell Harbour Health Centre, as of/)
    await shot(officer, 'zz-case-life')
    await clean(officer)
    await send()
    await clerk.reads('Transferred away')
    await clerk.click('Wenna Drift', 'a')
    await clerk.reads(/At Pell Harbour Health Centre since/)
    await clerk.reads('Another facility has this case now.')
    await shot(clerk, 'zz-elsewhere')
    await clean(clerk)
    expect(await clerk.run<string>('return document.body.innerText')).not.toContain('Close the case')
  })

  it('reaches the phone of the other facility with what was filled before', async () => {
    const other = await deskOf(server.address, 'pell_harbour')
    await other.open('/desk/cases')
    await other.click('Wenna Drift', 'a')
    await other.reads('First visit')
    await other.reads('Close the case')
    await clean(other)
    await other.leave()
  })
})
