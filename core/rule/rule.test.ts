import { describe, expect, it } from 'vitest'
import { monthTable } from '../../tests/support/month-table'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf } from '../report/edition'
import type { CellContent } from '../report/cell'
import { tableOf, type CellMap } from '../report/table'
import { must } from '../result'
import { compileRules } from './compile-rules'
import { findDoubts, type Doubt } from './find-doubts'
import { judge } from './judge'
import { withRules } from './rules.fixture'
import { titlesOfDoubts } from './title'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const cells = cellsOf(MONTHLY_SUMMARY)

describe('judging', () => {
  const reports: CellMap[] = [
    { low_weight: value(2), newborn_deaths: value(1) },
    { low_weight: value(1), newborn_deaths: value(2) },
    { low_weight: value(1) },
  ]

  it('tells pass, fail and not judged apart, and counts them', () => {
    const [judgement] = judge(
      must(compileRules(withRules({ expression: 'newborn_deaths <= low_weight' }))),
      tableOf(reports),
    )
    expect([...judgement!.verdicts]).toEqual([1, 2, 0])
    expect(judgement).toMatchObject({ passed: 1, failed: 1, notJudged: 1 })
  })

  it('counts blanks as zero where the rule says so', () => {
    const [judgement] = judge(
      must(compileRules(withRules({ expression: 'newborn_deaths >= low_weight', blanks: 'zero' }))),
      tableOf(reports),
    )
    expect([...judgement!.verdicts]).toEqual([2, 1, 2])
  })

  it('goes over the bands of an axis, each judged for itself', () => {
    const rules = must(
      compileRules(withRules({ expression: 'fever_confirmed <= fever_tested', over: 'age2' })),
    )
    const table = tableOf([
      {
        'fever_tested.u5': value(3),
        'fever_confirmed.u5': value(4),
        'fever_tested.a5plus': value(9),
        'fever_confirmed.a5plus': value(1),
      },
    ])
    expect(judge(rules, table).map(({ rule, verdicts }) => [rule.band, verdicts[0]])).toEqual([
      ['u5', 2],
      ['a5plus', 1],
    ])
  })

  it('what users met, 12: goes over both axes, each pair judged as soon as its own cells are there', () => {
    const rules = (over?: string | string[]) =>
      must(
        compileRules(
          withRules({ code: 'visits', expression: 'return_visits <= new_visits', ...(over && { over }) }),
        ),
      )
    const table = tableOf([
      {
        'new_visits.u1.f': value(3),
        'return_visits.u1.f': value(4),
        'new_visits.u1.m': value(9),
        'return_visits.u1.m': value(1),
      },
    ])
    const judged = (over?: string | string[]) =>
      judge(rules(over), table)
        .filter(({ notJudged }) => !notJudged)
        .map(({ rule, verdicts }) => [rule.band, verdicts[0]])
    // The other ages are blank: over the whole, or over one axis, nothing can be said of the other.
    expect([judged(), judged('sex'), judged('age4')]).toEqual([[], [], [['u1', 1]]])
    expect(judged(['age4', 'sex'])).toEqual([
      ['u1.f', 2],
      ['u1.m', 1],
    ])
    expect(compileRules(withRules({ over: ['age4', 'moon'] }))).toMatchObject({
      ok: false,
      problems: [{ code: 'rule-no-axis', values: { word: 'moon' } }],
    })
    const edition = withRules({
      code: 'visits',
      name: { en: 'Visits' },
      expression: 'return_visits <= new_visits',
      over: ['age4', 'sex'],
    })
    const [found] = findDoubts(must(compileRules(edition)), cellsOf(edition), table)
    expect(found!.map(doubt => [doubt.key, doubt.cells, titlesOfDoubts(edition)(doubt).en])).toEqual([
      ['rule:visits:u1.f', ['return_visits.u1.f', 'new_visits.u1.f'], 'Visits: under 1, female'],
    ])
  })

  it('refuses a rule over an axis that is not there, and tells which rule a mistake is in', () => {
    expect(compileRules(withRules({ code: 'bad', over: 'moon' }))).toMatchObject({
      ok: false,
      problems: [{ code: 'rule-no-axis', values: { rule: 'bad' } }],
    })
    expect(compileRules(withRules({ code: 'worse', expression: 'days_open +' }))).toMatchObject({
      ok: false,
      problems: [{ values: { rule: 'worse' } }],
    })
  })
})

describe('doubts', () => {
  const rules = must(compileRules(MONTHLY_SUMMARY))
  const past = Array.from({ length: 12 }, (_, back): CellMap[] => [
    { 'antenatal_first.a20plus': value(30 + (back % 5)) },
  ])

  it('have the same key each time, a strength, and the cells of this period only', () => {
    const [found] = findDoubts(
      rules,
      cells,
      monthTable([{ 'stock_opening.bcg': value(10) }], [[{ 'stock_closing.bcg': value(40) }]]),
    )
    expect(found).toMatchObject(
      [
        { key: 'rule:deliveries_answered' },
        { key: 'rule:stock_continues:bcg', strength: 'explain', cells: ['stock_opening.bcg'] },
      ].sort(
        (one, other) =>
          MONTHLY_SUMMARY.rules.findIndex(rule => one.key.includes(rule.code)) -
          MONTHLY_SUMMARY.rules.findIndex(rule => other.key.includes(rule.code)),
      ),
    )
  })

  it('are raised about a value far out of its own history', () => {
    const [found] = findDoubts(rules, cells, monthTable([{ 'antenatal_first.a20plus': value(320) }], past))
    expect(found!.find(({ source }) => source === 'range')).toMatchObject({
      key: 'range:antenatal_first.a20plus',
      range: { value: 320, count: 12 },
    })
  })

  it('have names in each language', () => {
    const titleOf = titlesOfDoubts(MONTHLY_SUMMARY)
    expect(titleOf({ source: 'rule', code: 'stock_continues', band: 'bcg' })).toEqual({
      en: 'Opening stock is not last month’s closing stock: BCG',
      fr: 'Le stock d’ouverture n’est pas le stock de clôture du mois passé\u00a0: BCG',
    })
    expect(titleOf({ source: 'range', code: 'live_births.f', band: null }).en).toBe(
      'Live births, female: much higher or lower than before',
    )
    const range = { low: 3, high: 9, count: 12, value: 30 } as Doubt['range']
    expect(titleOf({ source: 'range', code: 'live_births.f', band: null, range }).fr).toMatch(
      /: bien plus haut qu’avant$/,
    )
  })
})
