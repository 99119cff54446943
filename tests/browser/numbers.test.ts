import { Key } from 'selenium-webdriver'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { deskOf, publishRegister } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'
import { TestDevice } from '../support/test-device'
import { visits } from '../support/visits'

const REPORT = '/desk/report/monthly_summary~2026-10?section=outpatients'
let server: RunningServer
let clerk: Visitor

beforeAll(async () => {
  server = await startDemo()
  await publishRegister(server.address, visits())
})
afterAll(async () => {
  await clerk?.leave()
  await server?.stop()
})

describe('numbers right, 1: a thousand on the telephone', () => {
  it('is a thousand when it is typed with its sign, and asked about when it could be one', async () => {
    clerk = await deskOf(server.address, 'tern_row')
    await clerk.open(REPORT)
    const type = async (cell: string, text: string) =>
      (await clerk.enter(`input[data-cell="${cell}"]`)).sendKeys(Key.chord(Key.CONTROL, 'a'), text, Key.TAB)
    await type('new_visits.u1.f', '1,204')
    await type('new_visits.u1.m', '1.204')
    await clerk.reads(/“1\.204” can mean 1\.204 or 1204/)
    await shot(clerk, 'two-readings')
    expect(await clerk.faults()).toEqual([])
    const officer = await Client.signedIn(server.address, 'officer.ashmere')
    const cells = async () =>
      (
        await officer.get<{ cells: { cell: string; content: { kind: string; value?: number } }[] }>(
          '/api/reports/monthly_summary~2026-10/tern_row',
        )
      ).body.cells
    await clerk.until(
      async () =>
        (await cells()).some(({ cell, content }) => cell === 'new_visits.u1.f' && content.value === 1204),
      'the number to be at the district',
    )
    expect((await cells()).find(({ cell }) => cell === 'new_visits.u1.m')?.content.value).not.toBe(1.204)
  })
})

describe('numbers right, 12: two people corrected one entry', () => {
  it('both are shown on the telephone, and the clerk decides', async () => {
    const device = await TestDevice.at(server.address, 'tern_row')
    const of = uuid()
    const entry = (name: string, corrects?: string) => ({
      kind: 'entry' as const,
      id: uuid(),
      madeAt: new Date().toISOString(),
      case: of,
      register: 'home_visits',
      edition: 1,
      form: 'visit',
      unit: 'tern_row',
      ...(corrects && { corrects }),
      answers: {
        visited_name: { kind: 'value' as const, value: name },
        visited_on: { kind: 'value' as const, value: '2026-11-05' },
      },
    })
    const first = entry('Oren Fenn')
    for (const change of [first, entry('Orin Fenn', first.id), entry('Oren Fenner', first.id)]) {
      device.add(change)
      await device.sendAll(3)
    }
    await clerk.open('/desk/device')
    await clerk.click('Send and receive now')
    await clerk.open('/desk/cases')
    await clerk.reads('corrected in two ways')
    await clerk.open(`/desk/cases/${of}`)
    await clerk.reads('Somebody else corrected this in another way')
    await shot(clerk, 'two-corrections')
    expect(await clerk.faults()).toEqual([])
    await clerk.click('Use this instead')
    await clerk.until(
      async () =>
        !(await clerk.driver.executeScript<string>('return document.body.innerText')).includes(
          'in another way',
        ),
      'the conflict to be over',
    )
    await clerk.reads('Orin Fenn')
    await shot(clerk, 'decided')
  })
})
