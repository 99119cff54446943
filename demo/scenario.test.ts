import { createHash } from 'node:crypto'
import { beforeAll, describe, expect, it } from 'vitest'
import { parsePeriod } from '#core/calendar/period-text'
import { periodTable } from '#core/report/period-table'
import { tableOf, type CellMap } from '#core/report/table'
import { compileRules } from '#core/rule/compile-rules'
import { findDoubts } from '#core/rule/find-doubts'
import { cellsOf } from '#core/report/edition'
import { must } from '#core/result'
import { MONTHLY_SUMMARY } from './monthly/edition'
import { PLANTED, PLANTED_ROUND } from './planted'
import { scenario, type Scenario } from './scenario'

let made: Scenario
beforeAll(() => {
  made = scenario()
})

const rules = must(compileRules(MONTHLY_SUMMARY))
const cells = cellsOf(MONTHLY_SUMMARY)

const periodOf = (round: string) => must(parsePeriod(round.split('~')[1]!))

/** Doubts of every received report of a round, by unit. */
function doubtsOf(round: string): Map<string, string[]> {
  const rounds = [...new Set(made.reports.map(report => report.round))].sort()
  const by = new Map(made.reports.map(report => [`${report.round} ${report.unit}`, report.cells]))
  const here = made.reports.filter(report => report.round === round && report.receivedAt)
  const doubts = findDoubts(
    rules,
    cells,
    periodTable(periodOf(round), period => {
      const of = rounds.find(one => periodOf(one).index === period.index)
      return of === undefined
        ? undefined
        : tableOf(here.map(({ unit }): CellMap | null => by.get(`${of} ${unit}`) ?? null))
    })!,
  )
  return new Map(here.map((report, row) => [report.unit, doubts[row]!.map(({ key }) => key)]))
}

describe('the scenario', () => {
  it('gives the same bytes each time', () => {
    const hash = (of: Scenario) => createHash('sha256').update(JSON.stringify(of)).digest('hex')
    expect(hash(scenario())).toBe(hash(made))
    expect(hash(scenario(7))).not.toBe(hash(made))
  })

  it('has 72 facilities in 4 districts, 18 rounds, and a clerk for each facility', () => {
    const facilities = made.places.filter(({ level }) => level === 4)
    expect(facilities).toHaveLength(72)
    const kinds = new Set(facilities.map(({ kind }) => kind))
    expect(
      Object.fromEntries(
        [...kinds].map(kind => [kind, facilities.filter(place => place.kind === kind).length]),
      ),
    ).toEqual({
      hospital: 4,
      'health centre': 24,
      'maternity home': 6,
      dispensary: 20,
      'health post': 18,
    })
    expect(new Set(made.reports.map(({ round }) => round)).size).toBe(18)
    expect(facilities.filter(({ code }) => !made.people.some(({ branch }) => branch === code))).toEqual([])
  })

  it('breaks no rule where nothing was planted', () => {
    for (const round of ['monthly_summary~2026-07', 'monthly_summary~2026-09']) {
      const broken = [...doubtsOf(round)].flatMap(([unit, keys]) =>
        keys.filter(key => key.startsWith('rule:')).map(key => `${unit} ${key}`),
      )
      expect(broken).toEqual([])
    }
  })

  it('plants 20 doubts of which every one is found, with few others on the undisturbed remainder', () => {
    const found = doubtsOf(PLANTED_ROUND)
    expect(PLANTED).toHaveLength(20)
    expect(PLANTED.filter(({ unit, key }) => !found.get(unit)?.includes(key))).toEqual([])
    const all = [...found.values()].flat().length
    // 66 reports of 120 cells: one false alarm in ten reports is what an officer can live with.
    expect(all - PLANTED.length).toBeLessThanOrEqual(7)
  })
})
