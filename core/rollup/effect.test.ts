import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf } from '../report/edition'
import type { CellContent } from '../report/cell'
import { tableOf, type CellMap } from '../report/table'
import { must } from '../result'
import { compileRules } from '../rule/compile-rules'
import type { RuleDefinition } from '../rule/definition'
import { findDoubts } from '../rule/find-doubts'
import { withRules } from '../rule/rules.fixture'
import { cures, shifts } from './effect'
import { indicatorShifts } from './effect-on-indicators'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const cellByKey = new Map(cellsOf(MONTHLY_SUMMARY).map(cell => [cell.key, cell]))
const figuresOf = (values: Record<string, number>) => new Map(Object.entries(values).map(([item, value]) => [item, { value, reportsIn: 20 }]))

describe('the effect of a doubt', () => {
  const figures = figuresOf({ low_weight: 40, live_births: 296, deliveries: 300, antenatal_first: 800 })

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
    const range = { method: 'meanSd' as const, low: 10, high: 30, mean: 20, count: 12, value: 300 }
    const doubt = { key: 'range:x', source: 'range' as const, code: 'antenatal_first.u20', band: null, strength: 'explain' as const, cells: ['antenatal_first.u20'], range }
    expect(cures(doubt, undefined, {}, [])).toEqual([{ cell: 'antenatal_first.u20', from: 300, to: 30 }])
    const rules = must(compileRules(withRules({ expression: 'filled(low_weight)' })))
    const [[blank]] = findDoubts(rules, [], tableOf([{}])) as [[NonNullable<ReturnType<typeof findDoubts>[number][number]>]]
    expect(cures(blank, rules[0], {}, [{ low_weight: value(4) }, { low_weight: value(7) }])).toEqual([{ cell: 'low_weight', from: null, to: 6 }])
  })

  it('is whole when a figure of zero would not stay so, and nothing for an item that is not rolled up', () => {
    expect(shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, figuresOf({ low_weight: 0 }))[0]!.share).toBe(1)
    expect(shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, new Map())).toEqual([])
  })

  it('on a mean is shared by all its reports', () => {
    const days = new Map([['days_open', { value: 20, reportsIn: 10 }]])
    expect(shifts([{ cell: 'days_open', from: 5, to: 25 }], cellByKey, days)[0]).toMatchObject({ figure: 20, cured: 22, share: 0.1 })
    expect(shifts([{ cell: 'days_open', from: null, to: 31 }], cellByKey, days)[0]!.cured).toBe(21)
  })

  it('on a rate may be larger than on any total', () => {
    const rolled: CellMap = { 'caesareans': value(10), 'deliveries.u20.facility': value(20), 'deliveries.a20plus.facility': value(80) }
    const found = indicatorShifts([{ cell: 'caesareans', from: 4, to: 2 }], MONTHLY_SUMMARY, rolled)
    expect(found).toEqual([{ cell: 'caesareans', from: 4, to: 2, indicator: 'caesarean_share', figure: 10, cured: 8, share: 0.2 }])
    expect(indicatorShifts([{ cell: 'days_open', from: 5, to: 25 }], MONTHLY_SUMMARY, rolled)).toEqual([])
  })
})
