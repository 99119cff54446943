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

const clean = async () => expect(await admin.faults()).toEqual([])
const fired = async () => {
  const [, hits, reports] = /Would have fired in ([\d,]+) of ([\d,]+) reports/.exec(
    await admin.reads(/Would have fired in/),
  )!
  return { hits: Number(hits!.replace(',', '')), reports: Number(reports!.replace(',', '')) }
}

describe('a rule of a dataset', () => {
  it('begins from a common check, and says what it means', async () => {
    await admin.open('/define/dataset/monthly_summary?part=rules')
    await admin.click('From a common check')
    await admin.click('Not the same as last period', 'label')
    await admin.pick('start-item-value', 'Days open')
    await admin.click('Make the rule', '.p-dialog button')
    await admin.reads('Days open is not last period’s figure again')
    await clean()
  })

  it('is tried on the past, and fires too often', async () => {
    await admin.click('Try on the last 12 rounds')
    const { hits, reports } = await fired()
    expect(reports).toBeGreaterThan(700)
    expect(hits / reports).toBeGreaterThan(0.05)
    await admin.reads('A rule that asks too often')
    await admin.click('1', 'td button')
    await admin.reads('Open the report')
    expect(await admin.run<string>('return document.querySelector(".opened").innerText')).toMatch(
      /Days open: \d+/,
    )
    await shot(admin, 'zz-rule-try-out')
    await clean()
  })

  it('underlines a mistake at its place, offers what is meant, and cannot be tried with it', async () => {
    await admin.write('#rule-expression', 'days_opn != previous(days_open)')
    await admin.reads('There is no item or question “days_opn” here. Is “days_open” meant?')
    await admin.see('.cm-lintRange-error')
    await admin.reads('Once the expression is right it can be tried.')
    await admin.write('#rule-expression', 'days_o')
    await admin.see('.cm-tooltip-autocomplete')
  })

  it('is changed, fires seldom, and is published with the next edition', async () => {
    await admin.write('#rule-expression', 'days_open != previous(days_open) or days_open > 15')
    await admin.reads('The rule was changed since')
    const before = await fired()
    await admin.click('Try on the last 12 rounds')
    await admin.until(async () => (await fired()).hits < before.hits, 'the rule to fire less often')
    const after = await fired()
    expect(after.hits / after.reports).toBeLessThan(0.05)
    expect(await admin.run<string>('return document.body.innerText')).not.toContain('asks too often')
    await admin.saved()
    await admin.click('Publish', 'nav button')
    await admin.reads('Otherwise than edition 1')
    await admin.click('Publish edition 2')
    await admin.click('Publish it', '.p-dialog button')
    await admin.reads('Edition 2 is published.')
    await admin.reads('Two editions side by side')
    await admin.reads('Rule “Days open is not last period’s figure again”: added')
    await clean()
  })

  it('stands beside indicators, breakdowns, languages and who reports it, each without a fault', async () => {
    await admin.click('Indicators', 'nav button')
    await admin.click('Stillbirths', '.entry')
    await admin.reads('In the last 12 rounds')
    await admin.reads('September 2026')
    await clean()
    await admin.click('Breakdowns', 'nav button')
    await admin.click('Vaccine', '.entry')
    await clean()
    await admin.click('Languages', 'nav button')
    await admin.reads('Texts in each language')
    await clean()
    await admin.click('Who reports it', 'nav button')
    await admin.reads('71 units would report it now.')
    await (await admin.enter('#services-unit')).sendKeys('Sedge Bay')
    await admin.click('Sedge Bay', '[role=option]')
    await admin.reads('Immunisation')
    await admin.until(
      async () => admin.run<boolean>('return !document.querySelector(".p-autocomplete-overlay")'),
      'the list to close',
    )
    await clean()
  })
})

describe('a dataset on paper', () => {
  it('has the lines of the screen, one by one', async () => {
    const linesOf = (css: string) =>
      admin.run<string[]>(
        'return [...document.querySelectorAll(arguments[0])].map(one => one.firstChild.textContent.trim()).filter(Boolean)',
        css,
      )
    await admin.open('/define/paper/dataset/monthly_summary')
    await admin.see('.paper')
    const paper = await linesOf('.paper .line')
    await clean()
    await admin.open('/define/dataset/monthly_summary')
    const screen: string[] = []
    for (const section of ['1', '2', '3', '4', '5']) {
      await admin.click(section, '.phone nav button')
      await admin.until(
        // The first lines, and no room for others that are still to come.
        async () =>
          admin.run<boolean>(
            'return !!document.querySelector(".phone input") && !document.querySelector(".phone .rest")',
          ),
        'the section to be there',
      )
      screen.push(...(await linesOf('.phone .list .name, .phone .matrix .name, .phone .grid h2')))
    }
    expect(paper).toEqual(screen)
    expect(paper.length).toBeGreaterThan(40)
  })
})
