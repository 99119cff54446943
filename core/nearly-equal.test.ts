import { describe, expect, it } from 'vitest'
import { ceilNear, distanceBetween, floorNear, nearlyEqual } from './nearly-equal'
import { EXAMPLE_VOCABULARY } from './expression/worked-examples'
import { tableOf } from './report/table'
import { must } from './result'
import { expectedRange, raisesDoubt } from './quality/expected-range'
import { compileRuleList } from './rule/compile-rules'
import { judge } from './rule/judge'
import { withRules } from './rule/rules.fixture'

const value = (number: number) => ({ kind: 'value' as const, value: number })

describe('numbers right, 2: decimals', () => {
  it('are equal however they were computed, whole numbers only when they are', () => {
    expect([
      nearlyEqual(0.3 + 0.6, 0.9),
      nearlyEqual(0.1 + 0.2 - 0.3, 0),
      nearlyEqual(9_999_999.1 + 0.2 - 9_999_999.3, 0),
    ]).toEqual([true, true, true])
    expect([
      nearlyEqual(0.9, 0.9001),
      nearlyEqual(1e12, 1e12 + 1),
      nearlyEqual(NaN, NaN),
      nearlyEqual(0.0001, 0),
    ]).toEqual([false, false, false, false])
    expect([
      floorNear(0.3 / 0.1),
      floorNear(2.5),
      floorNear(-0.5),
      ceilNear(3.0000000000004),
      ceilNear(3.1),
    ]).toEqual([3, 2, -1, 3, 4])
    expect([
      distanceBetween(0.9, 0.6),
      distanceBetween(0.3 + 0.6, 0.9),
      distanceBetween(1_234_567.1, 1_234_567),
    ]).toEqual([0.3, 0, 0.1])
  })

  it('pass in every right stock balance of one decimal, and fail in every wrong one', () => {
    const rules = must(
      compileRuleList(withRules({ expression: 'live_births + measles - not_yet = doses' }).rules, {
        ...EXAMPLE_VOCABULARY,
        names: new Map(
          ['live_births', 'measles', 'not_yet', 'doses'].map(code => [
            code,
            { ...EXAMPLE_VOCABULARY.names.get('not_yet')!, code, cells: [{ key: code, bands: [] }] },
          ]),
        ),
      }),
    )
    const tenths: [number, number, number][] = []
    for (let opening = 0; opening <= 15; opening++)
      for (let received = 0; received <= 20; received++)
        for (let used = 0; used <= 11; used++) tenths.push([opening, received, used])
    expect(tenths).toHaveLength(4032)
    const rows = (off: number) =>
      tableOf(
        tenths.map(([opening, received, used]) => ({
          live_births: value(opening / 10),
          measles: value(received / 10),
          not_yet: value(used / 10),
          doses: value((opening + received - used + off) / 10),
        })),
      )
    expect(judge(rules, rows(0))[0]).toMatchObject({ passed: 4032, failed: 0 })
    expect(judge(rules, rows(1))[0]).toMatchObject({ passed: 0, failed: 4032 })
  })

  it('do not fall out of a range that they are the end of', () => {
    const range = expectedRange(
      Array<number>(12).fill(0.3),
      { method: 'modifiedZ', limit: 3.5, raises: 'explain' },
      'decimal',
    )!
    expect(raisesDoubt(range, 0.3)).toBe(false)
    expect(raisesDoubt(range, 0.31)).toBe(true)
    expect(raisesDoubt({ ...range, low: 0.1 + 0.2, high: 0.7 }, 0.3)).toBe(false)
  })
})
