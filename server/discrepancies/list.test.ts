import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { makeInstallation, OCTOBER, personOf } from '../../tests/support/installation'
import { fillReport, sendReport } from '../../tests/support/facility'
import { closeDatabase, database } from '../database'
import { listDiscrepancies } from './list'

const officer = personOf('officer', 'north')
const COUNT = 250

/** Many discrepancies about one report, as a thousand facilities have them: some of one effect, some without. */
beforeAll(async () => {
  const sql = await makeInstallation()
  const clerk = personOf('clerk', 'elm')
  await fillReport(clerk, OCTOBER, 'elm', { tested: 10, positive: 12 })
  await sendReport(clerk, OCTOBER, 'elm', { 'rule:within': 'It is so.' })
  await listDiscrepancies(officer, {})
  await sql.query(
    `INSERT INTO discrepancy (id, report, round, doubt_key, source, code, strength, cells, state, outcome, evidence, contents, found_at)
     SELECT gen_random_uuid(), d.report, d.round, 'rule:made' || n, 'rule', d.code, CASE WHEN n % 3 = 0 THEN 'mustFix' WHEN n % 50 = 1 THEN 'note' ELSE 'explain' END, d.cells,
       CASE WHEN n % 5 = 0 THEN 'settled' ELSE 'open' END, CASE WHEN n % 5 = 0 THEN 'explained' END, d.evidence, d.contents, d.found_at
     FROM discrepancy d, generate_series(1, ${COUNT}) AS n WHERE d.doubt_key = 'rule:within'`,
  )
  await sql.query(
    `INSERT INTO discrepancy_effect (discrepancy, effect)
     SELECT id, CASE WHEN substr(doubt_key, 10)::int % 4 > 0 THEN (substr(doubt_key, 10)::int % 7) / 10.0 END FROM discrepancy WHERE doubt_key LIKE 'rule:made%'`,
  )
})
afterAll(closeDatabase)

async function allPages(asked: Parameters<typeof listDiscrepancies>[1]) {
  const pages = [await listDiscrepancies(officer, asked)]
  while (pages.at(-1)!.more)
    pages.push(await listDiscrepancies(officer, { ...asked, after: pages.at(-1)!.lines.at(-1)!.id }))
  return pages
}

describe('the list of discrepancies', () => {
  it('comes in pages, each one once, the largest effect first', async () => {
    const pages = await allPages({ round: OCTOBER })
    expect(pages.map(({ lines }) => lines.length)).toEqual([100, 100, 51])
    const lines = pages.flatMap(page => page.lines)
    expect(new Set(lines.map(({ id }) => id)).size).toBe(COUNT + 1)
    const weight = { mustFix: 0, explain: 1, note: 2 }
    const order = lines.map(({ effect, strength, id }) => [-(effect ?? -1), weight[strength], id] as const)
    const sorted = [...order].sort(
      (one, other) => one[0] - other[0] || one[1] - other[1] || (one[2] < other[2] ? -1 : 1),
    )
    expect(order).toEqual(sorted)
  })

  it('says how many there are of each kind, whatever page is shown', async () => {
    const { counts } = await listDiscrepancies(officer, { round: OCTOBER, filter: 'settled' })
    expect(counts).toEqual({
      ...{ unsettled: 201, toSettle: 198, mustFix: 68, explain: 130 },
      ...{ answered: 1, settled: 50 },
    })
    const settled = await allPages({ round: OCTOBER, filter: 'settled' })
    expect(settled.flatMap(({ lines }) => lines).map(({ state }) => state)).toEqual(Array(50).fill('settled'))
  })

  it('without a round has what is unsettled, and what is settled of rounds that are open', async () => {
    expect((await listDiscrepancies(officer, {})).counts.settled).toBe(50)
    await (
      await database()
    ).query(`UPDATE round SET closes_at = '2026-11-01T00:00:00Z' WHERE id = $1`, [OCTOBER])
    const { counts } = await listDiscrepancies(officer, {})
    expect([counts.settled, counts.unsettled]).toEqual([0, 201])
  })

  it('ends at the border of the branch', async () => {
    expect((await listDiscrepancies(personOf('officer', 'south'), { round: OCTOBER })).counts.unsettled).toBe(
      0,
    )
  })
})
