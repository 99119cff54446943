import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { OFFICE, Visitor } from '../support/browser'
import { shot } from '../support/shot'
import { type RunningServer, startDemo } from '../support/server'

let server: RunningServer
let admin: Visitor
beforeAll(async () => {
  server = await startDemo()
  admin = await Visitor.arrive(server.address, OFFICE)
  await admin.signIn('admin')
})
afterAll(async () => {
  await admin?.leave()
  await server?.stop()
})

const clean = async () => expect(await admin.faults()).toEqual([])

describe('the settings of the installation', () => {
  it('say what another first weekday would break, and do not let it happen', async () => {
    await admin.open('/settings')
    await admin.reads('Name of the installation')
    await clean()
    await admin.pick('weekday', 'Sunday')
    await admin.reads(
      /Not possible: 4,\d\d\d reports are in, over 6\d weekly rounds of Weekly diseases to watch/,
    )
    await shot(admin, 'settings')
    await clean()
    const save = await admin.see('button[type=submit]')
    expect(await save.isEnabled()).toBe(false)
    await admin.click('As it was')
  })

  it('move the deadlines with the time zone, after they asked', async () => {
    await admin.pick('zone', 'Europe/Paris')
    await admin.reads(/open rounds are due 3 hours – 4 hours earlier than now/)
    await admin.click('Save', 'button[type=submit]')
    await admin.reads('Change the settings?')
    await clean()
    await admin.click('Change them', '.p-dialog button')
    await admin.reads('Saved.')
    await clean()
    await admin.open('/settings')
    await admin.reads('Europe/Paris')
  })

  it('know the financial year: it is among the frequencies, and in the figures to date', async () => {
    await admin.pick('month', 'July')
    await admin.reads('only the figures of the financial year to date change')
    await admin.click('Save', 'button[type=submit]')
    await admin.reads('Saved.')
    await admin.open('/report/monthly_summary~2026-10?unit=ashmere_district')
    await admin.click('Over longer periods', 'summary')
    await admin.reads('July 2026 – June 2027')
    await shot(admin, 'longer-financial')
    await clean()
    await admin.open('/')
    await admin.reads('planted discrepancies were found')
    await shot(admin, 'today-admin')
    for (const path of ['devices', 'cases']) {
      await admin.open(`/${path}`)
      await admin.see('table')
      await shot(admin, path)
      await clean()
    }
  })

  it('speak French', async () => {
    const other = await Visitor.arrive(server.address, OFFICE, 'fr')
    await other.signIn('admin')
    await other.open('/settings')
    await other.reads('La semaine commence le')
    await other.pick('weekday', 'dimanche')
    await other.reads(/Impossible\s:/)
    expect(await other.faults()).toEqual([])
    await other.leave()
  })
})
