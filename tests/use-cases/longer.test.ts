import '../support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { closeDatabase } from '../../server/database'
import { longerReport } from '../../server/district-reports/longer'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'
import { database } from '../../server/database'

/** Oak was in the south until the end of August. */
const MOVED = {
  oak: [
    { from: '2020-01-01', to: '2026-09-01', parent: 'mill' },
    { from: '2026-09-01', to: null, parent: 'quay' },
  ],
}
beforeAll(async () => {
  await makeInstallation(MOVED)
  // Rounds of earlier months are closed to facilities; here they send all the same.
  const sql = await database()
  await sql.query("UPDATE round SET closes_at = '2027-01-01T00:00:00Z'")
  for (const [at, month] of ['2026-07', '2026-08', '2026-09', '2026-10'].entries())
    for (const unit of ['elm', 'oak']) {
      const round = `small~${month}`
      await fillReport(personOf('clerk', unit), round, unit, {
        tested: 10 + at,
        positive: 1,
        'seen.f': 2,
        'seen.m': 3,
      })
      await sendReport(personOf('clerk', unit), round, unit)
    }
})
afterAll(closeDatabase)

const figures = async (unit: string, borders: 'then' | 'today') =>
  (await longerReport(personOf('officer', unit), OCTOBER, { unit, borders })).spans.map(
    ({ period, rounds, received, expected, lines }) => ({
      period,
      rounds,
      received,
      expected,
      tested: lines.find(({ item }) => item === 'tested')!.value,
      seen: lines.find(({ item }) => item === 'seen')!.value,
    }),
  )

describe('figures over longer periods', () => {
  it('go through the borders of the time: each report counts where its facility was then', async () => {
    // The dataset is reported from June on: five rounds of the year, of which four have reports.
    expect(await figures('north', 'then')).toEqual([
      { period: '2026-Q4', rounds: 1, received: 2, expected: 2, tested: 26, seen: 10 },
      { period: '2026', rounds: 5, received: 6, expected: 7, tested: 10 + 11 + 24 + 26, seen: 30 },
    ])
    expect(await figures('south', 'then')).toMatchObject([
      { period: '2026-Q4', received: 0, expected: 2, tested: null },
      { period: '2026', received: 2, tested: 21, seen: 10 },
    ])
  })
  it('or through those of today: as if its facilities had always been there', async () => {
    expect(await figures('north', 'today')).toMatchObject([
      { period: '2026-Q4', received: 2, expected: 2, tested: 26 },
      { period: '2026', received: 8, expected: 10, tested: 92, seen: 40 },
    ])
    expect(await figures('south', 'today')).toMatchObject([{ tested: null }, { received: 0, tested: null }])
  })
  it('belong to one district', async () => {
    await expect(
      longerReport(personOf('administrator', null), OCTOBER, { unit: 'coast' }),
    ).rejects.toMatchObject({
      code: 'not-a-district',
    })
    await expect(
      longerReport(personOf('officer', 'north'), OCTOBER, { unit: 'south' }),
    ).rejects.toMatchObject({
      status: 403,
    })
  })
})
