import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf, type Edition } from '../report/edition'
import type { CellContent } from '../report/cell'
import { tableOf, type CellMap } from '../report/table'
import { must } from '../result'
import { cures, shifts } from '../rollup/effect'
import { compileRules } from './compile-rules'
import type { RuleDefinition } from './definition'
import { findDoubts } from './find-doubts'
import { judge } from './judge'
import { titleOfDoubt } from './title'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const cells = cellsOf(MONTHLY_SUMMARY)
const cellByKey = new Map(cells.map(cell => [cell.key, cell]))

function withRules(...rules: Partial<RuleDefinition>[]): Edition {
  const blank = { name: { en: 'Rule' }, strength: 'mustFix' as const, blanks: 'notJudged' as const, forClerk: { en: '' }, forOfficer: { en: '' } }
  return { ...MONTHLY_SUMMARY, rules: rules.map((rule, at) => ({ ...blank, code: `rule_${at}`, expression: 'true', ...rule })) }
}

describe('judging', () => {
  const reports: CellMap[] = [
    { low_weight: value(2), newborn_deaths: value(1) },
    { low_weight: value(1), newborn_deaths: value(2) },
    { low_weight: value(1) },
  ]

  it('tells pass, fail and not judged apart, and counts them', () => {
    const [judgement] = judge(must(compileRules(withRules({ expression: 'newborn_deaths <= low_weight' }))), tableOf(reports))
    expect([...judgement!.verdicts]).toEqual([1, 2, 0])
    expect(judgement).toMatchObject({ passed: 1, failed: 1, notJudged: 1 })
  })

  it('counts blanks as zero where the rule says so', () => {
    const [judgement] = judge(must(compileRules(withRules({ expression: 'newborn_deaths >= low_weight', blanks: 'zero' }))), tableOf(reports))
    expect([...judgement!.verdicts]).toEqual([2, 1, 2])
  })

  it('goes over the bands of an axis, each judged for itself', () => {
    const rules = must(compileRules(withRules({ expression: 'fever_confirmed <= fever_tested', over: 'age2' })))
    const table = tableOf([{ 'fever_tested.u5': value(3), 'fever_confirmed.u5': value(4), 'fever_tested.a5plus': value(9), 'fever_confirmed.a5plus': value(1) }])
    expect(judge(rules, table).map(({ rule, verdicts }) => [rule.band, verdicts[0]])).toEqual([['u5', 2], ['a5plus', 1]])
  })

  it('refuses a rule over an axis that is not there, and tells which rule a mistake is in', () => {
    expect(compileRules(withRules({ code: 'bad', over: 'moon' }))).toMatchObject({ ok: false, problems: [{ code: 'rule-no-axis', values: { rule: 'bad' } }] })
    expect(compileRules(withRules({ code: 'worse', expression: 'days_open +' }))).toMatchObject({ ok: false, problems: [{ values: { rule: 'worse' } }] })
  })
})

describe('doubts', () => {
  const rules = must(compileRules(MONTHLY_SUMMARY))
  const past = Array.from({ length: 12 }, (_, back): CellMap[] => [{ 'antenatal_first.a20plus': value(30 + (back % 5)) }])

  it('have the same key each time, a strength, and the cells of this period only', () => {
    const [found] = findDoubts(rules, cells, tableOf([{ 'stock_opening.bcg': value(10) }], [[{ 'stock_closing.bcg': value(40) }]]))
    expect(found).toMatchObject([{ key: 'rule:deliveries_answered' }, { key: 'rule:stock_continues:bcg', strength: 'explain', cells: ['stock_opening.bcg'] }].sort((one, other) => MONTHLY_SUMMARY.rules.findIndex(rule => one.key.includes(rule.code)) - MONTHLY_SUMMARY.rules.findIndex(rule => other.key.includes(rule.code))))
  })

  it('are raised about a value far out of its own history', () => {
    const [found] = findDoubts(rules, cells, tableOf([{ 'antenatal_first.a20plus': value(320) }], past))
    expect(found!.find(({ source }) => source === 'range')).toMatchObject({ key: 'range:antenatal_first.a20plus', range: { value: 320, count: 12 } })
  })

  it('have names in each language', () => {
    expect(titleOfDoubt(MONTHLY_SUMMARY, { source: 'rule', code: 'stock_continues', band: 'bcg' })).toEqual({ en: 'Stock starts where it did not end: BCG', fr: 'Le stock ne reprend pas où il finissait: BCG' })
    expect(titleOfDoubt(MONTHLY_SUMMARY, { source: 'range', code: 'live_births.f', band: null }).en).toBe('Live births, female: far from usual')
  })
})

describe('the effect of a doubt', () => {
  const figures = new Map([['low_weight', 40], ['live_births', 296], ['deliveries', 300], ['antenatal_first', 800]])

  function effectOf(expression: string, report: CellMap, strength: RuleDefinition['strength'] = 'mustFix') {
    const rules = must(compileRules(withRules({ expression, strength })))
    const [doubts] = findDoubts(rules, [], tableOf([report]))
    return cures(doubts![0]!, rules[0], report, [])
  }

  it('moves each doubted cell to the nearest value that removes the doubt', () => {
    const report = { 'low_weight': value(12), 'live_births.f': value(4), 'live_births.m': value(5) }
    expect(effectOf('low_weight <= live_births', report)).toEqual([
      { cell: 'low_weight', from: 12, to: 9 }, { cell: 'live_births.f', from: 4, to: 7 }, { cell: 'live_births.m', from: 5, to: 8 },
    ])
    expect(effectOf('low_weight < live_births', report)[0]).toEqual({ cell: 'low_weight', from: 12, to: 8 })
    expect(effectOf('low_weight * 2 <= live_births', report)[0]).toEqual({ cell: 'low_weight', from: 12, to: 4 })
  })

  it('is the largest relative change of a district figure', () => {
    const found = shifts([{ cell: 'low_weight', from: 12, to: 9 }, { cell: 'live_births.f', from: 4, to: 7 }], cellByKey, figures)
    expect(found[0]).toMatchObject({ item: 'low_weight', figure: 40, cured: 37, share: 0.075 })
    expect(found[1]!.share).toBeCloseTo(3 / 296)
  })

  it('of a value out of range moves it to the nearer end; of a blank to the unit’s own mean', () => {
    const range = { low: 10, high: 30, mean: 20, count: 12, value: 300 }
    const doubt = { key: 'range:x', source: 'range' as const, code: 'antenatal_first.u20', band: null, strength: 'explain' as const, cells: ['antenatal_first.u20'], range }
    expect(cures(doubt, undefined, {}, [])).toEqual([{ cell: 'antenatal_first.u20', from: 300, to: 30 }])
    const rules = must(compileRules(withRules({ expression: 'filled(low_weight)' })))
    const [[blank]] = findDoubts(rules, [], tableOf([{}])) as [[NonNullable<ReturnType<typeof findDoubts>[number][number]>]]
    expect(cures(blank, rules[0], {}, [{ low_weight: value(4) }, { low_weight: value(7) }])).toEqual([{ cell: 'low_weight', from: null, to: 6 }])
  })

  it('is whole when a figure of zero would not stay so, and nothing for an item that is not rolled up', () => {
    expect(shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, new Map([['low_weight', 0]]))[0]!.share).toBe(1)
    expect(shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, new Map())).toEqual([])
  })
})
