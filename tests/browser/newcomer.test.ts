import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Board } from '#core/contract/rounds'
import { Acts } from '../support/acts'
import { OFFICE, PHONE, Visitor } from '../support/browser'
import { Client } from '../support/client'
import { PASSWORD, startServer, type RunningServer } from '../support/server'
import { shot } from '../support/shot'

/** A list of facilities as a ministry sends it: its own headings, its own codes. */
const LIST = [
  'No;Facility name;Belongs to unit;Beds',
  '1;Marrow Sound;;',
  '10;Reedmouth;1;',
  '10.A;Reedmouth East;10;',
  'HF-22;Gannet Steps;10.A;12',
  '1001;Kelp Lane;10.A;8',
].join('\r\n')
/** The paper form of a month: 34 lines under two headings without a number. */
const PAPER = [
  'SCREENING',
  '1. Children measured',
  '2. Arm from 115 to below 125 mm',
  '3. Arm below 115 mm',
  '4. With swelling of both feet',
  '5. Weighed',
  '6. Below minus 2 in weight for height',
  '7. Below minus 3 in weight for height',
  '8. Given vitamin A',
  '9. Given a worm tablet',
  '10. Measles vaccination checked',
  '11. Sent for supplements',
  '12. Sent for treatment',
  '13. Sent to hospital',
  '14. Mothers counselled on feeding',
  '15. Children seen at home',
  '16. Children of other districts',
  '17. Not measured',
  'TREATMENT',
  '18. In treatment when the month began',
  '19. New by arm',
  '20. New by weight',
  '21. New by swelling',
  '22. Came back after leaving',
  '23. Taken over from elsewhere',
  '24. Cured',
  '25. Died',
  '26. Left without a word',
  '27. Not recovered',
  '28. Sent on elsewhere',
  '29. In treatment when the month ended',
  '30. Appetite test failed',
  '31. Fever while in treatment',
  '32. Missed one visit',
  '33. Missed two visits',
  '34. Visited at home',
].join('\n')

let server: RunningServer
let admin: Acts
let officer: Acts
let clerk: Acts
let folder: string
const visitors: Visitor[] = []
async function arrive(size = OFFICE): Promise<Acts> {
  const visitor = await Visitor.arrive(server.address, size)
  visitors.push(visitor)
  return new Acts(visitor)
}

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'lantern-newcomer-'))
  // Nothing is in it; October has just ended.
  server = await startServer('memory:', { LANTERN_NOW: '2026-11-03T09:00:00Z', LANTERN_BACKUP_HOURS: '0' })
  admin = await arrive()
})
afterAll(async () => {
  for (const visitor of visitors) await visitor.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (acts: Acts) => expect(await acts.visitor.faults()).toEqual([])
/** A person who comes for the first time, with the code that the administrator gave. */
async function comeIn(acts: Acts, userName: string, code: string): Promise<void> {
  await acts.visitor.open('/sign-in')
  await acts.click('I have a one-time code')
  await acts.write('#code-user', userName)
  await acts.write('#one-time-code', code)
  await acts.write('#new-password', PASSWORD)
  await acts.click('Sign in', 'button[type=submit]')
}

describe('what users met, 15 and 16: from an empty installation to a signed report', () => {
  it('the first page says what comes first, and the units come from a list with headings and codes of its own', async () => {
    await admin.visitor.open('/setup')
    const code = /one-time code (\S+)/.exec(server.output())![1]!
    for (const [field, text] of [
      ['code', code],
      ['installation', 'Marrow Sound'],
      ['timeZone', 'UTC'],
      ['displayName', 'Wenna Pike'],
      ['userName', 'wenna'],
      ['password', PASSWORD],
    ] as const)
      await admin.write(`#setup-${field}`, text)
    await admin.click('Make the administrator')
    await admin.visitor.see('#user-name')
    await admin.write('#user-name', 'wenna')
    await admin.line('#password', PASSWORD)
    await admin.visitor.reads('What comes first')
    await shot(admin.visitor, 'first-steps')
    await clean(admin)

    await admin.click('Import the organisation units', 'a')
    await admin.click('Import from a file')
    const file = join(folder, 'list.csv')
    writeFileSync(file, LIST)
    await admin.file('#unit-file', file)
    await admin.visitor.reads('Choose the column of your file that holds: Belongs to (code).')
    await admin.pick('column-parent', 'Belongs to unit')
    await admin.pick('column-code', 'No')
    await admin.visitor.reads('Apply 5 changes')
    await shot(admin.visitor, 'match-columns')
    await clean(admin)
    await admin.day('#unit-from', '2026-01-01')
    await admin.click('Apply 5 changes')
    await admin.visitor.reads('Done.')
    await admin.visitor.open('/define/units?unit=HF-22')
    await admin.visitor.reads('Marrow Sound › Reedmouth › Reedmouth East')
    await clean(admin)
  })

  it('an officer and a clerk are let in', async () => {
    const invite = async (name: string, user: string, role: string | null, place: string) => {
      await admin.click('Add a person')
      await admin.write('#person-name', name)
      await admin.write('#person-user', user)
      if (role) await admin.pick('person-role', role)
      await admin.unit('#person-branch', place)
      await admin.click('Make the person, and a code')
      await admin.visitor.reads(`One-time code for ${user}`)
      const code = await admin.visitor.run<string>('return document.querySelector(".code .figure").innerText')
      await admin.click('I have passed it on')
      return code
    }
    await admin.visitor.open('/')
    await admin.click('Let people in', 'a')
    const officerCode = await invite('Orla Teal', 'orla', 'officer', 'Reedmouth')
    const clerkCode = await invite('Nell Fyne', 'clerk.nell', null, 'Gannet Steps')
    officer = await arrive()
    await comeIn(officer, 'orla', officerCode)
    await officer.visitor.see('.rail')
    clerk = await arrive(PHONE)
    await comeIn(clerk, 'clerk.nell', clerkCode)
    clerk.count += 2 // the PIN, twice
    await clerk.visitor.choosePin()
  })

  it('a nutrition form of 34 lines, two sections, sex and age bands is defined in under 60 acts', async () => {
    await officer.visitor.open('/')
    await officer.visitor.reads('What comes first')
    const before = officer.count
    await officer.click('Publish the first dataset', 'a')
    await officer.click('Begin a dataset')
    await officer.line('#new-title', 'Monthly nutrition')
    await officer.click('Paste a list')
    await officer.paste('#pasted', PAPER)
    await officer.click('Add 34 items')
    await officer.visitor.saved()
    await officer.click('Breakdowns', 'nav button')
    for (const [name, bands] of [
      ['Sex', ['Girls', 'Boys']],
      ['Age', ['6–23 months', '24–59 months']],
    ] as const) {
      await officer.line('[aria-label="New breakdown"]', name)
      for (const band of bands) await officer.line('[aria-label="New band"]', band)
    }
    await officer.click('Items', 'nav button')
    await officer.click('Breakdowns for many items')
    await officer.visitor.still()
    await shot(officer.visitor, 'split-many')
    for (const name of ['Sex', 'Age']) await officer.click(name, '.p-dialog fieldset:first-of-type label')
    for (const name of ['SCREENING', 'TREATMENT']) await officer.click(name, '.p-dialog legend label')
    await clean(officer)
    await officer.click('Split 34 items')
    await officer.visitor.saved()
    await officer.click('Who reports it', 'nav button')
    await officer.visitor.reads('2 units would report it now.')
    await officer.day('#from-0', '2026-10-01')
    await officer.visitor.saved()
    await officer.click('Publish', 'nav button')
    await officer.click('Publish edition 1')
    await officer.click('Publish it', '.p-dialog button')
    await officer.visitor.reads('Edition 1 is published.')
    console.info(`The nutrition form took ${officer.count - before} acts.`)
    expect(officer.count - before).toBeLessThan(60)

    const { body: file } = await (
      await Client.signedIn(server.address, 'orla')
    ).get<{ draft: { sections: { items: { axes: string[] }[] }[] } }>('/api/drafts/monthly_nutrition')
    expect(file.draft.sections.map(({ items }) => items.length)).toEqual([17, 17])
    expect(new Set(file.draft.sections.flatMap(({ items }) => items.map(({ axes }) => axes.join())))).toEqual(
      new Set(['sex,age']),
    )
  })

  it('the clerk fills it, the officer accepts and signs it', async () => {
    await clerk.visitor.open('/desk')
    await clerk.click('Monthly nutrition', 'a')
    await clerk.visitor.reads('Section 1 of 2')
    clerk.count++
    await clerk.visitor.enter('input[data-row="0"][data-column="0"]')
    // Four boxes of the first line; the others stay blank.
    for (const count of ['12', '15', '9', '11']) {
      await clerk.visitor.type(count)
      await clerk.key(Key.TAB)
      clerk.count++
    }
    await clerk.visitor.reads('Received by the district')
    await shot(clerk.visitor, 'nutrition-desk')
    await clean(clerk)
    await clerk.click('Next section')
    await clerk.click('Look over and send')
    await clerk.click('Send the report')
    await clerk.visitor.reads('Received by the district at')

    await officer.visitor.open('/gather')
    await officer.visitor.reads('Gannet Steps')
    await officer.click('Accept 1 report')
    await officer.click('Accept', '.p-dialog-footer button:last-child')
    await officer.visitor.reads(/accepted/i)
    await officer.click('Gannet Steps', 'td')
    await officer.visitor.until(
      async () => (await officer.visitor.run<string>('return location.search')).includes('unit=HF-22'),
      'the report of a unit with a code of the country, beside the board',
    )
    await officer.visitor.reads('How it came about')
    await clean(officer)
    await officer.click('Report', 'nav a')
    await officer.visitor.reads('Reedmouth, district report')
    await officer.click('Sign the district report')
    await officer.visitor.reads('1 report is missing and will not be in the figures.')
    await officer.click('Sign', '.p-dialog-footer button:last-child')
    await officer.visitor.reads('Proof of signature')
    await clean(officer)
    const all = admin.count + officer.count + clerk.count
    console.info(
      `From nothing to a signed report: ${all} acts (administrator ${admin.count}, officer ${officer.count}, clerk ${clerk.count}).`,
    )
    expect(all).toBeLessThan(130)
    const { body } = await (
      await Client.signedIn(server.address, 'orla')
    ).get<Board>('/api/rounds/monthly_nutrition~2026-10/board')
    expect([body.signed, body.rows.map(({ unit }) => unit.code).sort()]).toEqual([true, ['1001', 'HF-22']])
  })
})
