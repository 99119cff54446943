import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { InstallationSettings } from '#core/contract/settings'
import type { Edition } from '#core/report/edition'
import { closeDatabase, type Database } from '../../server/database'
import { longerReport } from '../../server/district-reports/longer'
import { changeSettings, readSettings, settingsConsequences } from '../../server/installation/change-settings'
import type { Refusal } from '../../server/refusal'
import { dueList } from '../../server/overview/due'
import { fillReport, sendReport } from '../support/facility'
import { addDataset, makeInstallation, OCTOBER, personOf, SMALL } from '../support/installation'

const of = (dataset: string, frequency: Edition['frequency']): Edition => ({
  ...SMALL,
  dataset,
  frequency,
  timing: { opensAhead: 0, dueDays: 1, closeDays: 60 },
  rules: [],
})
const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const clerk = personOf('clerk', 'elm')

let sql: Database
beforeAll(async () => {
  sql = await makeInstallation()
  await sql.transaction(async tx => {
    await addDataset(tx, of('watch', 'week'), '2026-10-05')
    await addDataset(tx, of('accounts', 'financialYear'), '2024-07-01')
  })
})
afterAll(closeDatabase)

const change = async (some: Partial<InstallationSettings>) => {
  const before = await readSettings(admin)
  await changeSettings(admin, { before, after: { ...before, ...some } })
}
const wouldDo = async (some: Partial<InstallationSettings>) =>
  settingsConsequences(admin, { ...(await readSettings(admin)), ...some })
const periodsOf = async (dataset: string) =>
  (
    await sql.query<{ period: string }>('SELECT period FROM round WHERE dataset = $1 ORDER BY first_day', [
      dataset,
    ])
  ).map(({ period }) => period)

describe('the first day of the week', () => {
  it('is changed while nobody has begun a report: the rounds are made anew, and say so before', async () => {
    expect(await periodsOf('watch')).toEqual(['2026-W41', '2026-W42', '2026-W43', '2026-W44'])
    expect(await wouldDo({ firstWeekday: 7 })).toEqual({
      timeZone: null,
      weeks: { datasets: [SMALL.name], rounds: 4, reports: 0, refused: false },
      years: null,
    })
    await change({ firstWeekday: 7 })
    // 4 October was a Sunday; that week holds 5 October, from which on the dataset is reported.
    expect(await periodsOf('watch')).toEqual([
      '2026-10-04--P7D',
      '2026-10-11--P7D',
      '2026-10-18--P7D',
      '2026-10-25--P7D',
    ])
  })

  it('carries through to the desk, the report and the longer periods', async () => {
    const round = 'watch~2026-10-25--P7D'
    expect((await dueList(clerk)).now.map(one => one.round.id)).toContain(round)
    await fillReport(clerk, round, 'elm', { tested: 6 })
    await sendReport(clerk, round, 'elm')
    const { spans } = await longerReport(officer, round)
    expect(spans.map(({ period }) => period)).toEqual(['2026-10', '2026-Q4', '2026'])
    expect(spans[0]!.lines.find(({ item }) => item === 'tested')).toMatchObject({ value: 6 })
  })

  it('stays once a report is in: it is refused, and told what it would break', async () => {
    expect((await wouldDo({ firstWeekday: 1 })).weeks).toEqual({
      datasets: [SMALL.name],
      rounds: 4,
      reports: 1,
      refused: true,
    })
    await expect(change({ firstWeekday: 1 })).rejects.toMatchObject({
      status: 409,
      code: 'weeks-used',
      problems: [{ values: { reports: 1, rounds: 4 } }],
    })
    expect(await periodsOf('watch')).toHaveLength(4)
  })
})

describe('a round that is not there', () => {
  const asked = async (id: string) => {
    try {
      await longerReport(officer, id)
      return null
    } catch (error) {
      return [(error as Refusal).status, (error as Refusal).code]
    }
  }
  it('says what is wrong with its period', async () => {
    expect(await asked('small~2026-W45')).toEqual([404, 'period-frequency'])
    expect(await asked('small~2026-13')).toEqual([404, 'period-month'])
    // Weeks begin on Sunday here: one from a Wednesday is none of them.
    expect(await asked('watch~2026-10-28--P7D')).toEqual([404, 'period-frequency'])
    expect(await asked('small~2036-10')).toEqual([404, 'not-found'])
    expect(await asked('unheard_of~2026-10')).toEqual([404, 'not-found'])
  })
})

describe('the financial year', () => {
  it('is another year by its month, for rounds and for figures to date', async () => {
    expect(await periodsOf('accounts')).toEqual(['2024', '2025'])
    await change({ firstMonth: 7 })
    expect(await periodsOf('accounts')).toEqual(['2024-07-01--P1Y', '2025-07-01--P1Y'])
    await fillReport(clerk, OCTOBER, 'elm', { tested: 20 })
    await sendReport(clerk, OCTOBER, 'elm')
    const { spans } = await longerReport(officer, OCTOBER)
    expect(spans.map(({ period, rounds }) => [period, rounds])).toEqual([
      ['2026-Q4', 1],
      ['2026', 5],
      ['2026-07-01--P1Y', 4],
    ])
  })
})

describe('the time zone', () => {
  const due = async () =>
    (await sql.query<{ dueAt: string }>('SELECT due_at AS "dueAt" FROM round WHERE id = $1', [OCTOBER]))[0]!
      .dueAt

  it('moves the deadlines of rounds that are open, and what is late by them', async () => {
    expect(new Date(await due()).toISOString()).toBe('2026-11-08T00:00:00.000Z')
    const { timeZone } = await wouldDo({ timeZone: 'Asia/Tokyo' })
    expect(timeZone).toMatchObject({ laterBy: { least: -9 * 60, most: -9 * 60 }, becomeOnTime: 0 })
    await change({ timeZone: 'Asia/Tokyo' })
    expect(new Date(await due()).toISOString()).toBe('2026-11-07T15:00:00.000Z')
    const closed = await sql.query<{ id: string }>(
      `SELECT id FROM round WHERE closes_at <= '2026-11-05T12:00:00Z' AND extract(hour FROM due_at AT TIME ZONE 'UTC') <> 0`,
    )
    expect(closed).toEqual([])
  })

  it('must be one, and is nobody’s but the administrator’s who sees everything', async () => {
    await expect(change({ timeZone: 'Moon/Crater' })).rejects.toMatchObject({
      status: 422,
      code: 'time-zone',
    })
    await expect(readSettings(personOf('administrator', 'north'))).rejects.toMatchObject({ status: 403 })
  })
})

it('a change made on settings that are no longer there is refused', async () => {
  const before = await readSettings(admin)
  await change({ installation: 'Another name' })
  await expect(
    changeSettings(admin, { before, after: { ...before, installation: 'A third name' } }),
  ).rejects.toMatchObject({ status: 409, code: 'settings-changed' })
})
