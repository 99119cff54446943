import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { closeDatabase, type Database } from '../database'
import { openedRounds, roundById, roundsUpTo } from '../rounds/round'
import { openRounds } from '../rounds/open-rounds'
import { makeInstallation } from '../../tests/support/installation'
import { expectedUnits } from './expected-units'

let sql: Database
beforeAll(async () => {
  sql = await makeInstallation({
    oak: [{ from: '2020-01-01', to: '2026-08-15', parent: 'quay' }],
    ash: [{ from: '2026-09-30', to: null, parent: 'mill' }],
    yew: [
      { from: '2020-01-01', to: '2026-09-01', parent: 'mill' },
      { from: '2026-09-01', to: null, parent: 'quay' },
    ],
  })
})
afterAll(closeDatabase)

const expected = async (month: string, branch: string | null = null) =>
  (await expectedUnits(sql, await roundById(sql, `small~${month}`), branch)).map(({ code }) => code).sort()

describe('the units that a round expects', () => {
  it('were open on any day of the period', async () => {
    expect(await expected('2026-07')).toEqual(['elm', 'oak', 'yew'])
    // Oak closed on 15 August: it was open on the days before.
    expect(await expected('2026-08')).toEqual(['elm', 'oak', 'yew'])
    // Ash opened on the last day of September.
    expect(await expected('2026-09')).toEqual(['ash', 'elm', 'yew'])
  })

  it('belong to the district that they were in at the end of the period', async () => {
    expect(await expected('2026-08', 'south')).toEqual(['yew'])
    expect(await expected('2026-09', 'south')).toEqual(['ash'])
    expect(await expected('2026-09', 'north')).toEqual(['elm', 'yew'])
  })

  it('are bounded by a branch at any level, and by none that is not there', async () => {
    expect(await expected('2026-10', 'quay')).toEqual(['elm', 'yew'])
    expect(await expected('2026-10', 'elm')).toEqual(['elm'])
    expect(await expected('2026-10', 'nowhere')).toEqual([])
  })

  it('name the zone that they were in', async () => {
    const [yew] = await expectedUnits(sql, await roundById(sql, 'small~2026-07'), 'yew')
    expect(yew).toMatchObject({ path: ['coast', 'south', 'mill', 'yew'], zone: 'mill' })
  })
})

describe('rounds', () => {
  it('open from the first assignment on, and not twice', async () => {
    const before = await openedRounds(sql)
    expect(before.map(({ period }) => period)).toEqual([
      '2026-10',
      '2026-09',
      '2026-08',
      '2026-07',
      '2026-06',
    ])
    await openRounds()
    expect(await openedRounds(sql)).toEqual(before)
  })

  it('have neighbours', async () => {
    const august = await roundById(sql, 'small~2026-08')
    expect((await roundsUpTo(sql, august, 2)).map(({ period }) => period)).toEqual(['2026-08', '2026-07'])
  })

  it('that do not exist are refused', async () => {
    await expect(roundById(sql, 'small~2031-01')).rejects.toMatchObject({ status: 404, code: 'not-found' })
  })
})
