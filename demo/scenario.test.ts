import { createHash } from 'node:crypto'
import { beforeAll, describe, expect, it } from 'vitest'
import { parsePeriod } from '#core/calendar/period-text'
import { periodTable } from '#core/report/period-table'
import { tableOf, type CellMap } from '#core/report/table'
import { compileRules } from '#core/rule/compile-rules'
import { findDoubts } from '#core/rule/find-doubts'
import { numberOf } from '#core/report/cell'
import { cellsOf } from '#core/report/edition'
import { must } from '#core/result'
import { DATASETS } from './datasets'
import { PLANTED_IN_REGISTERS } from './cases/planted'
import { PLANTED, PLANTED_ROUNDS } from './planted'
import { scenario, type Scenario } from './scenario'

let made: Scenario
beforeAll(() => {
  made = scenario()
})

const editions = new Map(DATASETS.map(({ edition }) => [edition.dataset, edition]))

/** Only shown: they ask nobody for anything. */
const NOTES = new Set(
  DATASETS.flatMap(({ edition }) =>
    edition.rules.flatMap(({ code, strength }) => (strength === 'note' ? [`rule:${code}`] : [])),
  ),
)

const periodOf = (round: string) => must(parsePeriod(round.split('~')[1]!))

/** Doubts of every received report of a round, by unit. */
function doubtsOf(round: string): Map<string, string[]> {
  const edition = editions.get(round.split('~')[0]!)!
  const rounds = [...new Set(made.reports.map(report => report.round))]
    .filter(one => one.startsWith(edition.dataset))
    .sort()
  const by = new Map(made.reports.map(report => [`${report.round} ${report.unit}`, report.cells]))
  const here = made.reports.filter(report => report.round === round && report.receivedAt)
  const doubts = findDoubts(
    must(compileRules(edition)),
    cellsOf(edition),
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

  it('has 72 facilities in 4 districts, 18 months, 60 weeks and 6 quarters, and a clerk for each facility', () => {
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
    const rounds = [...new Set(made.reports.map(({ round }) => round.split('~')[0]!))].map(dataset => [
      dataset,
      new Set(made.reports.flatMap(({ round }) => (round.startsWith(dataset) ? [round] : []))).size,
    ])
    expect(Object.fromEntries(rounds)).toEqual({ monthly_summary: 18, weekly_diseases: 60, equipment: 6 })
    expect(facilities.filter(({ code }) => !made.people.some(({ branch }) => branch === code))).toEqual([])
  })

  it('breaks no rule where nothing was planted', () => {
    for (const round of [
      'monthly_summary~2026-07',
      'monthly_summary~2026-09',
      'weekly_diseases~2026-W20',
      'weekly_diseases~2026-W43',
      'equipment~2026-Q1',
    ]) {
      const broken = [...doubtsOf(round)].flatMap(([unit, keys]) =>
        keys.filter(key => key.startsWith('rule:') && !NOTES.has(key)).map(key => `${unit} ${key}`),
      )
      expect(broken).toEqual([])
    }
  })

  it('plants 47 doubts that are looked for, of which every one is found, with few others on the undisturbed remainder', () => {
    const lookedFor = PLANTED.filter(({ key }) => key !== null)
    expect(lookedFor).toHaveLength(47)
    expect(PLANTED.length + PLANTED_IN_REGISTERS.length).toBeGreaterThanOrEqual(60)
    for (const round of PLANTED_ROUNDS) {
      const found = doubtsOf(round)
      // What two datasets tell otherwise is found where both are: tests/api/cycle.test.ts.
      const planted = lookedFor.filter(doubt => doubt.round === round && doubt.kind !== 'twoToolsDiffer')
      expect(planted.filter(({ unit, key }) => !found.get(unit)?.includes(key!))).toEqual([])
      const spoiled = new Set(planted.map(({ unit }) => unit))
      const others = [...found].flatMap(([unit, keys]) =>
        spoiled.has(unit) ? [] : keys.filter(key => !NOTES.has(key)),
      ).length
      // One false alarm in ten reports is what an officer can live with.
      expect(others, round).toBeLessThanOrEqual(7)
    }
  })

  it('has figures that a health worker would believe', () => {
    const sum = (dataset: string, ...cells: string[]) =>
      made.reports
        .filter(({ round }) => round.startsWith(dataset) && !PLANTED_ROUNDS.has(round))
        .flatMap(report =>
          Object.entries(report.cells).filter(([key]) =>
            cells.some(cell => key === cell || key.startsWith(`${cell}.`)),
          ),
        )
        .reduce((total, [, content]) => total + (numberOf(content) ?? 0), 0)
    const monthly = (...cells: string[]) => sum('monthly_summary', ...cells)
    const weekly = (...cells: string[]) => sum('weekly_diseases', ...cells)
    // Ratios that everybody in the trade knows (common practice): births near deliveries, third doses under
    // first ones, deaths rare, girls a little under half, positives under tested.
    const births = monthly('live_births') / monthly('deliveries')
    expect(births).toBeGreaterThan(0.97)
    expect(births).toBeLessThan(1.02)
    const dropOut = 1 - monthly('combined_third') / monthly('combined_first')
    expect(dropOut).toBeGreaterThan(0.03)
    expect(dropOut).toBeLessThan(0.15)
    expect(monthly('live_births.f') / monthly('live_births')).toBeCloseTo(0.49, 1)
    expect(monthly('maternal_deaths') / monthly('deliveries')).toBeLessThan(0.003)
    expect(weekly('dengue_confirmed') / weekly('dengue_tested')).toBeLessThan(0.5)
    expect(weekly('watery_diarrhoea.u5')).toBeGreaterThan(weekly('watery_diarrhoea.a5plus'))
    // The rains: more in weeks 15 to 25 than in weeks 40 to 50.
    const inWeeks = (from: number, to: number) =>
      made.reports
        .filter(({ round }) => {
          const week = Number(/-W(\d\d)$/.exec(round)?.[1] ?? 0)
          return week >= from && week <= to && round.includes('~2026')
        })
        .reduce((total, report) => total + (numberOf(report.cells['watery_diarrhoea.u5']) ?? 0), 0)
    expect(inWeeks(15, 20)).toBeGreaterThan(1.3 * inWeeks(38, 43))
    // Hospitals are larger than posts.
    const visitsOf = (kind: string) => {
      const codes = new Set(made.places.filter(place => place.kind === kind).map(({ code }) => code))
      const own = made.reports.filter(
        ({ unit, round }) => codes.has(unit) && round === 'monthly_summary~2026-06',
      )
      return (
        own.reduce((total, { cells }) => total + (numberOf(cells['new_visits.u1.f']) ?? 0), 0) / own.length
      )
    }
    expect(visitsOf('hospital')).toBeGreaterThan(5 * visitsOf('health post'))
  })
})
