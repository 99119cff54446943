import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Edition } from '#core/report/edition'
import type { Visitor } from '../support/browser'
import { Client } from '../support/client'
import { deskOf } from '../support/desk'
import { type RunningServer, startDemo } from '../support/server'

const LINES = 240
const REPORT = '/desk/report/long_sheet~2026-10'
const cellOf = (line: number) => `line_${line}`
let server: RunningServer
let clerk: Visitor

/** A sheet of one section with many numbers, reported by every facility. */
const SHEET: Edition = {
  dataset: 'long_sheet',
  number: 1,
  name: { en: 'Long sheet' },
  frequency: 'month',
  timing: { opensAhead: 0, dueDays: 30, closeDays: 90 },
  axes: [],
  indicators: [],
  rules: [],
  sections: [
    {
      code: 'all',
      name: { en: 'All' },
      items: Array.from({ length: LINES }, (_, line) => ({
        code: cellOf(line),
        name: { en: `Line ${line}` },
        definition: {},
        kind: 'wholeNumber',
        unitOfMeasure: 'count',
        rollUp: 'sum',
        range: null,
        axes: [],
      })),
    },
  ],
}

beforeAll(async () => {
  server = await startDemo()
  const admin = await Client.signedIn(server.address, 'admin')
  const kept = await admin.send('PUT', '/api/drafts/long_sheet', {
    version: 0,
    draft: SHEET,
    reports: [{ by: 'level', level: 4, branch: null, from: '2026-10-01', to: null }],
  })
  expect(kept.status, kept.text).toBe(200)
  expect((await admin.post('/api/drafts/long_sheet/publish', { version: 1 })).status).toBe(200)
  clerk = await deskOf(server.address, 'tern_row')
})
afterAll(async () => {
  await clerk?.leave()
  await server?.stop()
})

const lines = () => clerk.run<number>('return document.querySelectorAll("[data-cell]").length')
const height = () => clerk.run<number>('return document.querySelector(".section").offsetHeight')

describe('a section of many lines on a phone', () => {
  it('has the lines near the clerk, in the room of all of them', async () => {
    await clerk.open(REPORT)
    await clerk.see(`input[data-cell="${cellOf(59)}"]`)
    // No more come by themselves: a while that would have made them all.
    await new Promise(resolve => setTimeout(resolve, 3000))
    expect(await lines()).toBeLessThan(LINES / 2)
    expect(await height()).toBeGreaterThan(LINES * 50)
  })

  it('has more of them before she comes to its end by keys', async () => {
    await (await clerk.enter(`input[data-cell="${cellOf(58)}"]`)).sendKeys('7')
    await clerk.see(`input[data-cell="${cellOf(75)}"]`)
    expect(await lines()).toBeLessThan(LINES)
  })

  it('has all of them where she scrolls to its end, and what she typed is kept', async () => {
    await clerk.run('window.scrollTo(0, document.documentElement.scrollHeight)')
    await clerk.until(async () => (await lines()) === LINES, 'all lines')
    await (await clerk.enter(`input[data-cell="${cellOf(LINES - 1)}"]`)).sendKeys('3')
    await clerk.open(REPORT)
    const typed = await clerk.see(`input[data-cell="${cellOf(58)}"]`)
    expect(await typed.getAttribute('value')).toBe('7')
  })

  it('has the line that a link leads to', async () => {
    await clerk.open(`${REPORT}?cell=${cellOf(200)}`)
    await clerk.until(
      async () => (await clerk.run('return document.activeElement?.dataset?.cell')) === cellOf(200),
      'the cell to have the focus',
    )
    expect(await clerk.faults()).toEqual([])
  })
})
