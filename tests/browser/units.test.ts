import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { By, Key } from 'selenium-webdriver'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { Visitor } from '../support/browser'
import { type RunningServer, startDemo } from '../support/server'
import { shot } from '../support/shot'

let server: RunningServer
let admin: Visitor
const folder = mkdtempSync(join(tmpdir(), 'lantern-units-'))

/** A file as an office sends it: semicolons, Windows line ends, Latin-1, and mistakes. */
function badFile(): string {
  const lines = [
    'code;name;parent;latitude;longitude',
    'tern_row;Tern Row Clinic;saltings_zone;;',
    'marram_end;Marram End Health Post;eastfold_zone;;',
    'new_quay;Nouvel Établissement;saltings_zone;41,31;-29,42',
    'new_quay;Second of the code;saltings_zone;;',
    'lost;Lost;nowhere_zone;;',
    'ashmere_district;Ashmere;saltings_zone;;',
    'far;Far;saltings_zone;91;0',
    ';;saltings_zone;;',
  ]
  const path = join(folder, 'units.csv')
  writeFileSync(path, Buffer.from(lines.join('\r\n'), 'latin1'))
  return path
}

beforeAll(async () => {
  server = await startDemo()
  admin = await Visitor.arrive(server.address)
  await admin.signIn('admin')
})
afterAll(async () => {
  await admin?.leave()
  await server?.stop()
  rmSync(folder, { recursive: true, force: true })
})

const clean = async (visitor: Visitor) => expect(await visitor.faults()).toEqual([])

describe('the units of the administrator', () => {
  it('are found by part of a name, with their path and what was true of them', async () => {
    await admin.open('/define/units')
    await admin.reads('Varrow Coast')
    await clean(admin)
    await (await admin.see('input[type=search]')).sendKeys('rook hol')
    await admin.click('Rook Hollow', 'button')
    const page = await admin.reads('Through time')
    expect(page).toContain('Varrow Coast › Sorrel Downs › West Downs')
    expect(page).toContain('Kestrel Ridge')
    await shot(admin, 'units')
    await clean(admin)
  })

  it('come in from a file with mistakes: previewed, applied, and taken back in one act', async () => {
    await admin.open('/define/units')
    await admin.click('Import from a file')
    await (await admin.see('#unit-file')).sendKeys(badFile())
    await admin.reads('5 lines are refused and left out.')
    const refused = await admin.reads('Line 4 has the code new_quay too.')
    expect(refused).toContain('It belongs to nowhere_zone, which is not there.')
    expect(refused).toContain('A unit cannot be below itself')
    expect(refused).toContain('The position is outside the world')
    expect(refused).toContain('It has no name.')
    await admin.click('All', 'button.pick')
    await admin.reads('Nouvel Établissement')
    await clean(admin)
    await admin.click('Apply 3 changes')
    await admin.reads('Done. You can undo it under Latest changes.')
    await (await admin.see('input[type=search]')).sendKeys('nouvel')
    await admin.reads('1 unit found')
    await admin.click('Undo')
    await admin.click('Undo', '.p-dialog button')
    await admin.reads('undone by')
    await admin.until(
      async () => !(await admin.run<string>('return document.body.innerText')).includes('1 unit found'),
      'the unit to be gone again',
    )
  })

  it('are renamed from a day on, by keyboard, and say what that touches', async () => {
    await admin.open('/define/units?unit=tern_row')
    await admin.click('Rename')
    const name = await admin.see('#unit-name')
    await name.clear()
    const day = await admin.see('#unit-day')
    const everything = Key.chord(Key.CONTROL, 'a')
    await day.sendKeys(everything, 'tomorrow', Key.TAB)
    await admin.reads('“tomorrow” is no day')
    // Written as people do; shown in the page's language, whatever the browser's is.
    await day.sendKeys(everything, '1/9/2026', Key.TAB)
    await admin.until(async () => (await day.getAttribute('value')) === '1 Sep 2026', 'the day to be read')
    await name.sendKeys('Tern Row Clinic', Key.ENTER)
    await admin.reads(/\d+ reports? from that day on/)
    await admin.click('Do it')
    await admin.reads('Done.')
    await admin.reads('Tern Row Clinic')
    expect(await admin.reads('Tern Row Health Centre')).toContain('Through time')
    await clean(admin)
  })

  it('are refused at the place when they cannot be, and nothing typed is lost', async () => {
    await admin.open('/define/units?unit=saltings_zone')
    await admin.click('Close', '.right button')
    await admin.click('See what this does')
    await admin.reads('would be open on')
    await admin.reads('Nothing would change.')
    expect(await admin.driver.findElements(By.css('#unit-day'))).toHaveLength(1)
  })
})

describe('other people', () => {
  it('look at their branch and change nothing, in French and in the dark too', async () => {
    const officer = await Visitor.arrive(server.address, undefined, 'fr')
    try {
      await officer.signIn('officer.ashmere')
      await officer.open('/define/units')
      const page = await officer.reads('Unités d’organisation')
      expect(page).not.toContain('Tolben Vale')
      expect(page).not.toContain('Faire entrer un fichier')
      await clean(officer)
    } finally {
      await officer.leave()
    }
  })
})
