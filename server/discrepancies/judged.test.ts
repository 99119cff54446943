import { USUAL_CALENDAR } from '#core/calendar/period'
import '../../tests/support/use-memory'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { reportTable, tablesOfHistory } from '#core/report/period-table'
import { findDoubts } from '#core/rule/find-doubts'
import type { Edition } from '#core/report/edition'
import { fillReport, sendReport } from '../../tests/support/facility'
import { makeInstallation, OCTOBER, personOf, SMALL } from '../../tests/support/installation'
import { OCTOBER_2026 } from '../../tests/support/month-table'
import { closeDatabase, type Database } from '../database'
import { readyEdition } from '../datasets/editions'
import { computeDistrict } from '../district-reports/compute'
import { reportFile } from '../reports/file'
import { openRoundsAt } from '../rounds/open-rounds'
import { roundById } from '../rounds/round'
import { listDiscrepancies } from './list'
import { discrepancyFile } from './read'

const EXPRESSIONS = {
  longAgo: 'previous(tested, 13) < 5',
  yearAgo: 'year_before(tested) < 5',
  mean: 'mean_of_last(tested, 14) > 100',
  days: 'period_end() < date("2026-01-01") or tested < 5',
  today: 'today() < date("2026-10-01") or tested < 5',
  notOffered: 'filled(previous(positive)) implies tested < 5',
}
const rule = (code: string, expression: string) => ({
  ...SMALL.rules[1]!,
  code,
  expression,
  blanks: 'zero' as const,
})
const items = SMALL.sections[0]!.items
const EDITION: Edition = {
  ...SMALL,
  sections: [
    {
      ...SMALL.sections[0]!,
      items: items.map(item => (item.code === 'positive' ? { ...item, kind: 'decimal' } : item)),
    },
  ],
  rules: [
    ...Object.entries(EXPRESSIONS).map(([code, expression]) => rule(code, expression)),
    { ...rule('small_share', 'positive <= 0.5'), strength: 'mustFix' },
  ],
  indicators: [
    {
      code: 'growth',
      name: { en: 'Growth' },
      numerator: 'tested - previous(tested)',
      denominator: 'previous(tested)',
      factor: 100,
      unitOfMeasure: { en: '%' },
    },
  ],
}

let sql: Database
const clerk = personOf('clerk', 'elm')
const officer = personOf('officer', 'north')

async function received(unit: string, period: string, cells: Record<string, number | null>): Promise<void> {
  const [report] = await sql.query<{ id: number }>(
    `INSERT INTO report (round, unit, edition, state, received_at) VALUES ($1, $2, 1, 'sent', '2026-10-05T00:00:00Z') RETURNING id`,
    [`small~${period}`, unit],
  )
  for (const [cell, value] of Object.entries(cells)) {
    await sql.query('INSERT INTO cell_value (report, cell, kind, value) VALUES ($1, $2, $3, $4)', [
      report!.id,
      cell,
      value === null ? 'notOffered' : 'value',
      value,
    ])
  }
}

beforeAll(async () => {
  sql = await makeInstallation()
  await sql.query('UPDATE edition SET definition = $1', [EDITION])
  await sql.query(`UPDATE assignment SET from_day = '2025-01-01'`)
  await sql.transaction(tx =>
    openRoundsAt(tx, Date.parse('2026-11-05T12:00:00Z'), { ...USUAL_CALENDAR, timeZone: 'UTC' }),
  )
  await received('elm', '2025-09', { tested: 20 })
  await received('elm', '2025-10', { tested: 30 })
  await received('elm', '2026-09', { tested: 40, positive: null })
  await received('oak', '2026-09', { tested: 60 })
  await fillReport(clerk, OCTOBER, 'elm', { tested: 8, positive: 0.7 })
})
afterAll(closeDatabase)

describe('numbers right, 5 and 10: what the district judges', () => {
  it('is what the telephone judges from what it was given: all the history, the days and today', async () => {
    const file = await reportFile(clerk, OCTOBER, 'elm')
    expect(file.history.periods).toHaveLength(14)
    const { cells, rules } = readyEdition(file.edition)
    const report = Object.fromEntries(file.cells.map(({ cell, content }) => [cell, content]))
    const [doubts] = findDoubts(
      rules,
      cells,
      reportTable(report, OCTOBER_2026, tablesOfHistory(file.history)),
      20_762,
    )
    const keys = doubts!.map(({ code }) => code).sort()
    expect(keys).toEqual([...Object.keys(EXPRESSIONS), 'small_share'].sort())
    const explanations = Object.fromEntries(
      doubts!.filter(({ strength }) => strength !== 'mustFix').map(({ key }) => [key, 'So it is.']),
    )
    await expect(sendReport(clerk, OCTOBER, 'elm', explanations)).rejects.toMatchObject({ code: 'must-fix' })
    await fillReport(clerk, OCTOBER, 'elm', { positive: { value: 0.3 + 0.2, base: 1 } })
    await sendReport(clerk, OCTOBER, 'elm', explanations)
    const { lines } = await listDiscrepancies(officer, { round: OCTOBER })
    expect(lines.map(({ title }) => title.en)).toHaveLength(Object.keys(EXPRESSIONS).length)
  })

  it('numbers right, 7: says of each doubted cell whether it takes decimals', async () => {
    const { lines } = await listDiscrepancies(officer, { round: OCTOBER })
    const files = await Promise.all(lines.map(({ id }) => discrepancyFile(officer, id)))
    expect(
      new Set(files.flatMap(({ cells }) => cells.map(({ cell, item }) => `${cell} ${item.kind}`))),
    ).toEqual(new Set(['tested wholeNumber']))
    const decimal = readyEdition(EDITION).cellByKey.get('positive')!
    expect(decimal.item.kind).toBe('decimal')
  })
})

describe('numbers right, 5 and 15: the district report', () => {
  it('has its indicator that looks back, and compares the facilities that are in both rounds', async () => {
    const { figures } = await computeDistrict(sql, await roundById(sql, OCTOBER), {
      code: 'north',
      name: 'North',
    })
    // 8 now against 40 of Elm and 60 of Oak.
    expect(figures.indicators[0]).toMatchObject({ numerator: -92, denominator: 100, value: -92 })
    const tested = figures.sections[0]!.lines.find(({ item }) => item === 'tested')!
    // Oak has not sent: it is left out of both sides.
    expect(tested).toMatchObject({ value: 8, reportsIn: 1, compared: { now: 8, before: 40, reports: 1 } })
  })
})
