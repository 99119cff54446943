import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ROUTES } from '#core/contract/routes'
import { totalOf } from '#core/quality/over-time'
import { closeDatabase, type Database } from '../../server/database'
import { listDevices } from '../../server/desk/device-list'
import { ask, settle } from '../../server/discrepancies/act'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { validate } from '../../server/http/validate'
import { askNudges } from '../../server/nudges/ask'
import { addContact } from '../../server/nudges/contacts'
import { facilityFile } from '../../server/overview/facility'
import { reportingOverTime } from '../../server/overview/over-time'
import { today } from '../../server/overview/today'
import { acceptClean, sendBack } from '../../server/reporting/review'
import { fillReport, pairAt, sendReport } from '../support/facility'
import { makeInstallation, NOW, OCTOBER, personOf } from '../support/installation'

const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')
let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
  await fillReport(clerk, OCTOBER, 'elm', { tested: 1, positive: 0, 'seen.f': 120, 'seen.m': 1 })
  await sendReport(clerk, OCTOBER, 'elm', { 'rule:many': 'A fair.' })
  await fillReport(personOf('clerk', 'oak'), OCTOBER, 'oak', {
    tested: 1,
    positive: 0,
    'seen.f': 1,
    'seen.m': 1,
  })
  await sendReport(personOf('clerk', 'oak'), OCTOBER, 'oak')
  await addContact(officer, 'elm', {
    name: 'Ansa Quill',
    phone: '+999 41 20 30 17',
    language: 'en',
    nudges: true,
  })
})
afterAll(closeDatabase)

describe('all about a facility', () => {
  it('says what reporting over time says, of rounds whose period is over', async () => {
    const { reporting } = await facilityFile(officer, 'elm')
    expect(reporting).toHaveLength(1)
    const [small] = reporting
    const over = await reportingOverTime(officer, OCTOBER, { unit: 'elm', rounds: 60 })
    expect(small!.rounds).toEqual(over.rounds)
    expect(small!.marks).toEqual(over.rows[0]!.marks)
    expect(totalOf(small!.marks)).toMatchObject({ received: 1, onTime: 1 })
    expect(small!.rounds.every(({ period }) => period <= '2026-10')).toBe(true)
  })

  it('counts what it does not offer today', async () => {
    await sql.query(
      `INSERT INTO not_offered (dataset, item, unit, from_day, to_day)
       VALUES ('small', 'seen', 'oak', '2026-01-01', NULL), ('small', 'tested', 'oak', '2026-01-01', '2026-06-01')`,
    )
    expect((await facilityFile(officer, 'oak')).reporting[0]!.notOffered).toBe(1)
    expect((await facilityFile(officer, 'elm')).reporting[0]!.notOffered).toBe(0)
  })

  it('shows telephone numbers to who reminds, devices and people to all who see the facility', async () => {
    await pairAt('elm', clerk)
    const file = await facilityFile(officer, 'elm')
    expect(file).toMatchObject({ kind: expect.any(String), open: true, position: null })
    expect(file.contacts).toMatchObject([{ name: 'Ansa Quill' }])
    expect(file.path.map(({ code }) => code)).toEqual(['coast', 'north', 'quay', 'elm'])
    expect(file.devices.length).toBeGreaterThan(0)
    expect(validate(ROUTES['GET /api/facilities/:unit'].answer, file, 'body')).toBeTruthy()
    const reader = await facilityFile(personOf('reader', null), 'elm')
    expect(reader.contacts).toEqual([])
    expect(reader.devices).toEqual(file.devices)
    await expect(facilityFile(personOf('officer', 'south'), 'elm')).rejects.toMatchObject({ status: 403 })
  })
})

describe('what she did last', () => {
  it('has each report and discrepancy once, the latest first, and nothing of others', async () => {
    expect((await today(officer)).lastActs).toEqual([])
    const { lines } = await listDiscrepancies(officer, { filter: 'toSettle' })
    expect(lines).toHaveLength(1)
    await ask(officer, lines[0]!.id, 'Was there a fair?')
    await settle(officer, lines[0]!.id, 'explained', 'There was a fair.', [])
    await acceptClean(officer, OCTOBER, 'north', NOW, ['oak'])
    await sendBack(officer, OCTOBER, 'oak', 'Once more, please.')
    const { lastActs } = await today(officer)
    expect(lastActs.map(({ act, unit, discrepancy }) => [act, unit.code, discrepancy !== null])).toEqual([
      ['sentBack', 'oak', false],
      ['settled', 'elm', true],
    ])
    expect((await today(personOf('administrator', null))).lastActs).toEqual([])
    expect((await listDiscrepancies(officer, { filter: 'toSettle' })).lines).toEqual([])
  })

  it('has reminders too', async () => {
    process.env.LANTERN_GATEWAY = 'stand-in'
    await addContact(officer, 'oak', {
      name: 'Brin',
      phone: '+999 41 20 30 18',
      language: 'en',
      nudges: true,
    })
    await askNudges(officer, OCTOBER, ['oak'])
    delete process.env.LANTERN_GATEWAY
    expect((await today(officer)).lastActs[0]).toMatchObject({ act: 'reminded', unit: { code: 'oak' } })
  })
})

describe('silent devices with work waiting', () => {
  it('are those that are both', async () => {
    await sql.query(`UPDATE device SET last_contact_at = $1::timestamptz - interval '1 day', waiting = 3`, [
      NOW,
    ])
    const of = async () => (await listDevices(officer, {}, null)).counts
    expect(await of()).toMatchObject({ silent: 0, silentWaiting: 0, waiting: (await of()).all })
    await sql.query(
      `UPDATE device SET last_contact_at = $1::timestamptz - interval '9 days' WHERE unit = 'elm'`,
      [NOW],
    )
    const counts = await of()
    expect(counts.silentWaiting).toBe(counts.silent)
    expect(counts.silent).toBeGreaterThan(0)
    await sql.query(`UPDATE device SET waiting = 0`)
    expect((await of()).silentWaiting).toBe(0)
    expect((await listDevices(officer, { show: 'silentWaiting' }, null)).lines).toEqual([])
  })
})
