import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

const MONTH = 'monthly_summary~2026-10'
let server: RunningServer
let officer: Visitor
let client: Client

beforeAll(async () => {
  server = await startDemo()
  client = await Client.signedIn(server.address, 'officer.ashmere')
  officer = await Visitor.arrive(server.address)
  await officer.signIn('officer.ashmere')
})
afterAll(async () => {
  await officer?.leave()
  await server?.stop()
})

const clean = async (but?: RegExp) => expect(await officer.faults(but)).toEqual([])
const text = () => officer.run<string>('return document.body.innerText')

describe('a morning of the officer', () => {
  it('begins with Today, whose figures open what they count', async () => {
    await officer.open('/')
    await officer.reads('Besides the reports')
    await officer.until(
      async () => /Silent devices with work waiting\s+\d+/.test(await text()),
      'the devices',
    )
    await officer.see('.largest li')
    await shot(officer, 'today')
    await clean()
    const [, silent] = /Silent devices with work waiting\s+(\d+)/.exec(await text())!
    await officer.click('Silent devices with work waiting', 'a')
    await officer.reads(`Silent, with work waiting ${silent}`)
    const rows = () =>
      officer.run<number>(`return document.querySelectorAll('.p-datatable-tbody > tr').length`)
    await officer.until(async () => (await rows()) === Number(silent), 'as many devices as were counted')
  })

  it('goes on with those who are late: three reminders that are seen before they are sent', async () => {
    await officer.open('/')
    await officer.reads(/facilities are late/)
    const [, late] = /(\d+) facilities are late/.exec(await text())!
    await officer.click('facilities are late', 'a')
    await officer.reads(`${late} of 22 facilities`)
    const ticks = '.p-datatable-tbody input[type=checkbox]'
    for (const at of [0, 1, 2])
      await officer.run(`document.querySelectorAll('${ticks}')[arguments[0]].click()`, at)
    await officer.reads('3 selected')
    await officer.click('Remind 3')
    await officer.reads('Remind by text message')
    await officer.reads('Send 3 messages')
    await shot(officer, 'zz-nudge-dialog')
    await clean()
    await officer.click('Send 3 messages')
    await officer.reads('3 reminders are on their way.')
    await officer.click('Reminders', 'a')
    await officer.reads('What reminders say')
    await officer.until(async () => {
      await officer.click('Look again')
      return (await text()).match(/With the network/g)?.length === 3
    }, 'the gateway to take the three')
    await shot(officer, 'zz-nudges')
    await clean()
  })

  it('accepts a batch from Today', async () => {
    await officer.open('/')
    await officer.click('with nothing open to accept', 'a')
    await officer.see('.p-datatable-selectable-row')
    const ticks = '.p-datatable-tbody input[type=checkbox]'
    for (const at of [0, 1])
      await officer.run(`document.querySelectorAll('${ticks}')[arguments[0]].click()`, at)
    await officer.click('Accept 2 with nothing open')
    await officer.reads('2 reports were accepted')
    await officer.open('/')
    await officer.reads('What you did last')
    expect((await text()).match(/· accepted/g)).toHaveLength(2)
    await shot(officer, 'zz-today-later')
  })
})

describe('a facility while she telephones', () => {
  let unit = ''

  it('shows whom to call, how it reported, and what was reminded', async () => {
    const board = await client.get<{ rows: { unit: { code: string; name: string }; sign: string }[] }>(
      `/api/rounds/${MONTH}/board`,
    )
    unit = board.body.rows.find(({ sign }) => sign === 'overdue')!.unit.code
    await officer.open(`/facility/${MONTH}/${unit}`)
    await officer.click('About the facility', 'a')
    await officer.reads('How it has reported')
    await officer.reads('Whom to call')
    await officer.reads(/\d+ of 18 received/)
    await shot(officer, 'facility')
    await clean()
  })

  it('refuses a number that is none at its field, takes one that is, and takes it back', async () => {
    await officer.click('Add')
    await officer.write('#contact-name', 'Orla Venn')
    await officer.write('#contact-phone', '041 20')
    await officer.reads('Begin with + and the code of the country.')
    await officer.write('#contact-phone', '+999 41 20 30 88')
    await officer.run(`document.querySelector('form button[type=submit]').click()`)
    await officer.reads('Orla Venn')
    await officer.run(`document.querySelector('[aria-label="Remove Orla Venn"]').click()`)
    await officer.reads('Orla Venn was removed.')
    await officer.click('Undo')
    await officer.until(async () => !(await text()).includes('was removed'), 'the contact to be back')
    await officer.reads('+9994120308')
    await clean()
  })
})

describe('a round on the map', () => {
  it('shows where those are who are late, and opens what is known of one', async () => {
    await officer.open(`/gather/${MONTH}`)
    await officer.click('On the map', 'a')
    await officer.see('.map .outline')
    await officer.until(
      async () =>
        (await officer.run<number>(`return document.querySelectorAll('.map .place').length`)) === 22,
      'a lantern for each facility',
    )
    await shot(officer, 'zz-map-all')
    await officer.click('late: not sent yet')
    await officer.see('.map .place.faint')
    await officer.run(`document.querySelector('.map .place:not(.faint)').click()`)
    const name = await (await officer.see('.map .label')).getText()
    await officer.reads('Open the report')
    await shot(officer, 'map')
    await clean()
    await officer.click('About the facility', 'a')
    await officer.reads('Whom to call')
    await officer.reads(name)
  })
})

describe('what reminders say', () => {
  it('names a field that there is not at once, and is saved for the district', async () => {
    await officer.open('/gather/nudges')
    await officer.reads('For the facilities of Ashmere')
    await officer.write('#nudge-en', '{facilty}: please send {period}.')
    await officer.reads('A reminder cannot name {facilty}')
    await shot(officer, 'zz-nudge-text')
    await clean()
    await officer.write('#nudge-en', '{facility}: please send {period}. {missing}')
    await officer.click('Save')
    await officer.reads('Use the text of everybody')
    const preview = await client.post<{ messages: { text: string }[]; left: unknown[] }>(
      `/api/rounds/weekly_diseases~2026-W44/nudges/preview`,
      {
        units: (
          await client.get<{ rows: { unit: { code: string } }[] }>(`/api/rounds/${MONTH}/board`)
        ).body.rows.map(({ unit }) => unit.code),
      },
    )
    expect(
      preview.body.messages.some(({ text: said }) => /please send 2026, week 44|week 44/i.test(said)),
    ).toBe(true)
  })
})
