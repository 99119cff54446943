import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { monthTable } from '../../tests/support/month-table'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { cellsOf } from '../report/edition'
import type { CellContent } from '../report/cell'
import type { CellMap } from '../report/table'
import { must } from '../result'
import { compileRules } from './compile-rules'
import { findDoubts } from './find-doubts'
import { liveDoubts } from './live-doubts'
import { withRules } from './rules.fixture'

const cells = cellsOf(MONTHLY_SUMMARY)
const rules = must(compileRules(MONTHLY_SUMMARY))
const value = (number: number): CellContent => ({ kind: 'value', value: number })
/** Twelve months that scatter a little, so that every cell has a range. */
const earlier: CellMap[] = Array.from({ length: 12 }, (_, back) =>
  Object.fromEntries(cells.map(({ key }, at) => [key, value(20 + ((at * 7 + back * 5) % 9))])),
)
const at = (report: CellMap) =>
  monthTable(
    [report],
    earlier.map(row => [row]),
  )
const content = fc.oneof(
  fc.integer({ min: 0, max: 60 }).map(value),
  fc.constantFrom<CellContent>(
    { kind: 'blank' },
    { kind: 'notKnown', reason: 'illegible' },
    { kind: 'notOffered' },
  ),
)

describe('the doubts of a report that is typed', () => {
  it('are at each key what the whole report would be doubted for', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...cells.map(({ key }) => key)), content), {
          minLength: 1,
          maxLength: 60,
        }),
        typed => {
          const report: Record<string, CellContent> = {}
          const live = liveDoubts(rules, cells, report, at)
          for (const [cell, given] of typed) {
            report[cell] = given
            live.look([cell], report)
            expect(live.all()).toEqual(findDoubts(rules, cells, at(report))[0])
          }
        },
      ),
      { numRuns: 60 },
    )
  })

  it('tells the cells about which something changed, and no others', () => {
    const report: Record<string, CellContent> = {}
    const live = liveDoubts(
      must(compileRules(withRules({ expression: 'newborn_deaths <= low_weight' }))),
      cells,
      report,
      report => monthTable([report]),
    )
    const put = (cell: string, number: number) => {
      report[cell] = value(number)
      return [...live.look([cell], report)].sort()
    }
    expect(put('low_weight', 1)).toEqual([])
    expect(put('newborn_deaths', 2)).toEqual(['low_weight', 'newborn_deaths'])
    expect(put('deliveries', 9)).toEqual([])
    expect(put('low_weight', 5)).toEqual(['low_weight', 'newborn_deaths'])
    expect(live.all()).toEqual([])
  })

  it('begin with what is there, also by rules that read no cell of this report', () => {
    const odd = must(compileRules(withRules({ expression: 'previous(low_weight) > 1000' })))
    expect(
      liveDoubts(odd, cells, {}, at)
        .all()
        .map(({ key }) => key),
    ).toEqual(['rule:rule_0'])
  })
})
