import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY } from '../../demo/monthly/edition'
import { EQUIPMENT } from '../../demo/quarterly/edition'
import { monthTable } from '../../tests/support/month-table'
import { cellsOf, itemsOf, type Edition } from '../report/edition'
import { LARGEST_COUNT, type CellContent } from '../report/cell'
import { tableOf, type CellMap } from '../report/table'
import { must } from '../result'
import { compileRules } from '../rule/compile-rules'
import type { RuleDefinition } from '../rule/definition'
import { findDoubts } from '../rule/find-doubts'
import { withRules } from '../rule/rules.fixture'
import { cures } from './cures'
import { shifts, type DistrictFigures, type KnownFigure } from './effect'
import { itemFigures, overUnits, type Figure } from './roll-up'

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const cellByKey = new Map(cellsOf(MONTHLY_SUMMARY).map(cell => [cell.key, cell]))
/** Figures of items; their cells have the same, as of items that are not split. */
const figuresOf = (values: Record<string, number>, reportsIn = 20): DistrictFigures => {
  const known = new Map(Object.entries(values).map(([item, number]) => [item, { value: number, reportsIn }]))
  return { items: known, cells: known }
}

function effectOf(
  expression: string,
  report: CellMap,
  earlier: CellMap[] = [],
  more: Partial<RuleDefinition> = {},
  edition: Edition = MONTHLY_SUMMARY,
) {
  const rules = must(compileRules({ ...edition, rules: withRules({ expression, ...more }).rules }))
  const table = monthTable(
    [report],
    earlier.map(row => [row]),
  )
  const [doubts] = findDoubts(rules, [], table)
  const [rule] = rules
  return {
    found: doubts!.length
      ? cures(doubts![0]!, rule, new Map(cellsOf(edition).map(cell => [cell.key, cell])), table)
      : null,
    rule: rule!,
    table,
  }
}

describe('the effect of a doubt', () => {
  const figures = figuresOf({ low_weight: 40, live_births: 296, deliveries: 300, antenatal_first: 800 })

  it('moves each doubted cell to the nearest value that removes the doubt', () => {
    const report = { low_weight: value(12), 'live_births.f': value(4), 'live_births.m': value(5) }
    expect(effectOf('low_weight <= live_births', report).found).toEqual([
      { cell: 'low_weight', from: 12, to: 9 },
      { cell: 'live_births.f', from: 4, to: 7 },
      { cell: 'live_births.m', from: 5, to: 8 },
    ])
    expect(effectOf('low_weight < live_births', report).found![0]).toEqual({
      cell: 'low_weight',
      from: 12,
      to: 8,
    })
    expect(effectOf('low_weight * 2 <= live_births', report).found![0]).toEqual({
      cell: 'low_weight',
      from: 12,
      to: 4,
    })
  })

  it('is the largest relative change of a district figure', () => {
    const found = shifts(
      [
        { cell: 'low_weight', from: 12, to: 9 },
        { cell: 'live_births.f', from: 4, to: 7 },
      ],
      cellByKey,
      figures,
    )
    expect(found[0]).toMatchObject({ item: 'low_weight', figure: 40, cured: 37, share: 0.075 })
    expect(found[1]!.share).toBeCloseTo(3 / 296)
  })

  it('of a value out of range moves it to the nearer end', () => {
    const range = { method: 'meanSd' as const, low: 10, high: 30, mean: 20, count: 12, value: 300 }
    const doubt = {
      key: 'range:x',
      source: 'range' as const,
      code: 'antenatal_first.u20',
      band: null,
      strength: 'explain' as const,
      cells: ['antenatal_first.u20'],
      range,
    }
    expect(cures(doubt, undefined, cellByKey, tableOf([{}]))).toEqual([
      { cell: 'antenatal_first.u20', from: 300, to: 30 },
    ])
  })

  it('is whole when a figure of zero would not stay so, and nothing for an item that is not rolled up', () => {
    expect(
      shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, figuresOf({ low_weight: 0 }))[0]!.share,
    ).toBe(1)
    expect(shifts([{ cell: 'low_weight', from: 0, to: 2 }], cellByKey, figuresOf({}))).toEqual([])
  })
})

describe('numbers right, 6: every failed rule has an effect', () => {
  const months = (cell: string, number: number) =>
    Array.from({ length: 12 }, () => ({ [cell]: value(number) }))

  it.each([
    [
      'an implication',
      'low_weight > 100 implies live_births > 5000',
      { low_weight: value(4000), 'live_births.f': value(1), 'live_births.m': value(1) },
      100,
    ],
    [
      'an alternative, within its usual range',
      'mean_of_last(low_weight, 6) < 10 or low_weight between mean_of_last(low_weight, 6) / 3 and mean_of_last(low_weight, 6) * 3',
      { low_weight: value(4000) },
      120,
    ],
    [
      'not as last time',
      'low_weight != previous(low_weight) or low_weight < 5',
      { low_weight: value(40) },
      39,
    ],
    [
      'a list of numbers, far away',
      'low_weight in (7, 90000, 250000)',
      { low_weight: value(200_000) },
      250_000,
    ],
    ['an equality, far away', 'low_weight * 3 = 600000', { low_weight: value(2) }, 200_000],
    ['a negation', 'not (low_weight > 30000)', { low_weight: value(500_000) }, 30_000],
    [
      'a function that is no line',
      'max(low_weight, 10) <= 25000 and abs(low_weight - 100) < 20000',
      { low_weight: value(60_000) },
      20_099,
    ],
  ] as const)('%s', (_name, expression, report, to) => {
    expect(effectOf(expression, report, months('low_weight', 40)).found).toContainEqual(
      expect.objectContaining({ cell: 'low_weight', to }),
    )
  })

  it('so that 4,000 where 40 is usual comes first, whatever its rule looks like', () => {
    const { found } = effectOf(
      'low_weight between mean_of_last(low_weight, 6) / 3 and mean_of_last(low_weight, 6) * 3',
      { low_weight: value(4000) },
      months('low_weight', 40),
    )
    expect(shifts(found!, cellByKey, figuresOf({ low_weight: 4700 }))[0]!.share).toBeCloseTo(3880 / 4700)
  })

  it('a decimal is cured by a decimal', () => {
    const decimal: Edition = {
      ...MONTHLY_SUMMARY,
      sections: MONTHLY_SUMMARY.sections.map(section => ({
        ...section,
        items: section.items.map(item => (item.code === 'low_weight' ? { ...item, kind: 'decimal' } : item)),
      })),
    }
    expect(effectOf('low_weight <= 0.5', { low_weight: value(0.7) }, [], {}, decimal).found).toEqual([
      { cell: 'low_weight', from: 0.7, to: 0.5 },
    ])
    expect(effectOf('low_weight < 0.5', { low_weight: value(0.75) }, [], {}, decimal).found).toEqual([
      { cell: 'low_weight', from: 0.75, to: 0.49 },
    ])
    expect(effectOf('low_weight <= 0.5', { low_weight: value(99_999.25) }, [], {}, decimal).found).toEqual([
      { cell: 'low_weight', from: 99_999.25, to: 0.5 },
    ])
  })

  it('a blank is cured by the unit’s own mean only if that removes the doubt', () => {
    const earlier = [{ low_weight: value(4) }, { low_weight: value(7) }]
    expect(effectOf('filled(low_weight)', {}, earlier).found).toEqual([
      { cell: 'low_weight', from: null, to: 6 },
    ])
    expect(effectOf('filled(low_weight) and low_weight > 9', {}, earlier).found).toEqual([])
    expect(effectOf('filled(low_weight)', {}).found).toEqual([])
  })

  it('what no single cell can cure weighs as much as its distance to what is usual, or else to nothing', () => {
    const report = { low_weight: value(90), newborn_deaths: value(80) }
    const both = 'low_weight < 50 and newborn_deaths < 50'
    expect(effectOf(both, report, [{ low_weight: value(40) }]).found).toEqual([
      { cell: 'low_weight', from: 90, to: 40, instead: 'usual' },
      { cell: 'newborn_deaths', from: 80, to: 0, instead: 'nothing' },
    ])
  })

  it('of a rule that also compares answers looks for the number only', () => {
    // Without what is needed and when: those are rules of their own.
    const items = itemsOf(EQUIPMENT).map(({ required: _, shownWhen: _when, ...item }) => item)
    const edition = { ...EQUIPMENT, sections: [{ ...EQUIPMENT.sections[0]!, items }], rules: [] }
    const report: CellMap = {
      sterile_by: { kind: 'value', value: 'oven' },
      microscopes: value(1),
      microscopes_working: value(40_000),
    }
    const rule = 'sterile_by = "oven" implies 10 * microscopes >= microscopes_working'
    expect(effectOf(rule, report, [], {}, edition).found).toEqual([
      { cell: 'microscopes', from: 1, to: 4000 },
      { cell: 'microscopes_working', from: 40_000, to: 10 },
    ])
  })

  it('is what trying every value would find, for every operator, with bands, and a recomputed district', () => {
    const numbers = fc.oneof(
      fc.constantFrom(
        'low_weight',
        'live_births',
        'live_births[f]',
        'newborn_deaths',
        'previous(low_weight)',
        'mean_of_last(live_births, 3)',
      ),
      fc.nat(40).map(String),
    )
    const number = fc.oneof(
      numbers,
      fc.tuple(numbers, fc.constantFrom('+', '-'), numbers).map(parts => parts.join(' ')),
      fc.tuple(numbers, fc.constantFrom('2', '3')).map(parts => parts.join(' * ')),
      fc.tuple(numbers, numbers).map(([one, other]) => `max(${one}, ${other})`),
      numbers.map(one => `abs(${one} - 7)`),
    )
    const comparison = fc.oneof(
      fc
        .tuple(number, fc.constantFrom('=', '!=', '<', '<=', '>', '>='), number)
        .map(parts => parts.join(' ')),
      fc.tuple(number, number, number).map(([one, low, high]) => `${one} between ${low} and ${high}`),
      fc
        .tuple(number, fc.array(fc.nat(60), { minLength: 1, maxLength: 3 }))
        .map(([one, list]) => `${one} in (${list.join(', ')})`),
    )
    const rule = fc.oneof(
      comparison,
      fc
        .tuple(comparison, fc.constantFrom('and', 'or', 'implies'), comparison)
        .map(([one, word, other]) => `(${one}) ${word} (${other})`),
      comparison.map(one => `not (${one})`),
    )
    const cell = fc.integer({ min: 0, max: 60 })
    const reportOf = fc
      .record({ low_weight: cell, 'live_births.f': cell, 'live_births.m': cell, newborn_deaths: cell })
      .map((cells): CellMap =>
        Object.fromEntries(Object.entries(cells).map(([key, one]) => [key, value(one)])),
      )
    const edition = (rollUp: 'sum' | 'mean' | 'last'): Edition => ({
      ...MONTHLY_SUMMARY,
      sections: MONTHLY_SUMMARY.sections.map(section => ({
        ...section,
        items: section.items.map(item => ({ ...item, rollUp })),
      })),
    })
    const others = fc.array(
      fc
        .record(
          { low_weight: cell, 'live_births.f': cell, 'live_births.m': cell, newborn_deaths: cell },
          { requiredKeys: [] },
        )
        .map((cells): CellMap =>
          Object.fromEntries(Object.entries(cells).map(([key, one]) => [key, value(one)])),
        ),
      { maxLength: 4 },
    )
    fc.assert(
      fc.property(
        rule,
        reportOf,
        fc.array(reportOf, { maxLength: 3 }),
        others,
        fc.constantFrom('sum' as const, 'mean' as const, 'last' as const),
        fc.constantFrom('notJudged' as const, 'zero' as const),
        (text, report, earlier, district, rollUp, blanks) => {
          const of = edition(rollUp)
          const { found, rule: compiled, table } = effectOf(text, report, earlier, { blanks }, of)
          if (found === null) return
          const holds = (changed: CellMap) =>
            compiled.compiled.run(
              monthTable(
                [changed],
                earlier.map(row => [row]),
              ),
              { blanksAsZero: blanks === 'zero' },
            )[0] === 1
          const figuresFor = (now: CellMap): DistrictFigures => {
            const all = tableOf([now, ...district])
            const known = (list: Iterable<readonly [string, Figure]>) =>
              new Map([...list].filter(([, figure]) => figure.value !== null) as [string, KnownFigure][])
            return {
              items: known(itemFigures(of, all)),
              cells: known(cellsOf(of).map(({ key, item }) => [key, overUnits(all, [key], item.rollUp)])),
            }
          }
          for (const key of compiled.compiled.cells) {
            const now = table.numbers(key)[0]!
            const tried = Array.from({ length: 400 }, (_, at) => at).sort(
              (one, other) => Math.abs(one - now) - Math.abs(other - now) || one - other,
            )
            const nearest = tried.find(one => holds({ ...report, [key]: value(one) }))
            const cure = found.find(one => one.cell === key && !one.instead)
            expect([text, key, cure && Math.abs(cure.to - now)]).toEqual([
              text,
              key,
              nearest === undefined ? undefined : Math.abs(nearest - now),
            ])
            if (!cure) continue
            expect(holds({ ...report, [key]: value(cure.to) })).toBe(true)
            const item = itemsOf(of).find(one => one.code === key.split('.')[0])!
            const [before, after] = [figuresFor(report), figuresFor({ ...report, [key]: value(cure.to) })]
            expect(
              shifts([cure], new Map(cellsOf(of).map(one => [one.key, one])), before)[0]!.cured,
            ).toBeCloseTo(after.items.get(item.code)!.value)
          }
        },
      ),
      { numRuns: 600 },
    )
  }, 120_000)

  it('looks at no value that a cell cannot hold', () => {
    expect(effectOf('low_weight > 20000000', { low_weight: value(5) }).found).toEqual([
      { cell: 'low_weight', from: 5, to: 0, instead: 'nothing' },
    ])
    expect(effectOf(`low_weight >= ${LARGEST_COUNT}`, { low_weight: value(5) }).found).toEqual([
      { cell: 'low_weight', from: 5, to: LARGEST_COUNT },
    ])
  })

  it('on a mean: a report that changes, and one that had no number', () => {
    expect(
      shifts([{ cell: 'days_open', from: 5, to: 25 }], cellByKey, figuresOf({ days_open: 20 }, 10))[0],
    ).toMatchObject({ figure: 20, cured: 22, share: 0.1 })
    expect(
      shifts([{ cell: 'days_open', from: null, to: 31 }], cellByKey, figuresOf({ days_open: 20 }, 10))[0]!
        .cured,
    ).toBe(21)
  })
})
