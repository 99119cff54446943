import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { monthTable } from '../../tests/support/month-table'
import { MONTHLY_SUMMARY as edition } from '../../demo/monthly/edition'
import type { CellContent } from '../report/cell'
import { tableOf, type CellMap } from '../report/table'
import { compile as compileWith } from './compile'
import { explain } from './explain'
import { vocabularyOf } from './vocabulary'

const compile = (text: string) => compileWith(text, vocabularyOf(edition))

const value = (number: number): CellContent => ({ kind: 'value', value: number })
const report = (numbers: Record<string, number | null>): CellMap =>
  Object.fromEntries(
    Object.entries(numbers).map(([cell, number]) => [
      cell,
      number === null ? { kind: 'blank' } : value(number),
    ]),
  )

function compiled(text: string) {
  const result = compile(text)
  if (!result.ok) throw new Error(result.problems.map(({ message }) => message).join('; '))
  return result.value
}
const run = (text: string, cells: CellMap, earlier: CellMap[] = []) =>
  compiled(text).run(
    monthTable(
      [cells],
      earlier.map(row => [row]),
    ),
  )[0]!

describe('values', () => {
  it.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['10 - 4 - 3', 3],
    ['-2 * 3', -6],
    ['7 / 2', 3.5],
    ['2 - -3', 5],
    ['abs(3 - 5)', 2],
    ['min(4, 2, 9)', 2],
    ['max(4, 2, 9)', 9],
    ['1 < 2', 1],
    ['2 <= 1', 0],
    ['1 = 1 and 2 != 3', 1],
    ['not (1 > 2)', 1],
    ['1 > 2 or 3 > 2', 1],
    ['false implies false', 1],
    ['true implies false', 0],
  ])('%s is %s', (text, wanted) => {
    expect(run(text, {})).toBe(wanted)
  })

  it('is blank after a division by zero', () => {
    expect(run('1 / 0', {})).toBeNaN()
    expect(run('0 / 0', {})).toBeNaN()
  })

  it('adds a name up over its breakdown, or takes one band, or one cell of two axes', () => {
    const cells = report({
      'deliveries.u20.facility': 4,
      'deliveries.u20.home': 1,
      'deliveries.a20plus.facility': 20,
      'deliveries.a20plus.home': 2,
    })
    expect(run('deliveries', cells)).toBe(27)
    expect(run('deliveries[u20]', cells)).toBe(5)
    expect(run('deliveries[facility]', cells)).toBe(24)
    expect(run('deliveries[u20, facility]', cells)).toBe(4)
  })

  it('is blank as soon as one band is blank, but leaves out what is not offered', () => {
    expect(run('live_births', report({ 'live_births.f': 3, 'live_births.m': null }))).toBeNaN()
    expect(run('live_births', { 'live_births.f': value(3), 'live_births.m': { kind: 'notOffered' } })).toBe(3)
    expect(
      run('live_births', {
        'live_births.f': { kind: 'notOffered' },
        'live_births.m': { kind: 'notOffered' },
      }),
    ).toBeNaN()
    expect(
      run('live_births', {
        'live_births.f': value(3),
        'live_births.m': { kind: 'notKnown', reason: 'register missing' },
      }),
    ).toBeNaN()
  })

  it('knows what is filled: not known and not offered are answers, blank is none', () => {
    expect(run('filled(days_open)', { days_open: { kind: 'notKnown', reason: 'away' } })).toBe(1)
    expect(run('filled(days_open)', {})).toBe(0)
    expect(run('coalesce(days_open, 5)', {})).toBe(5)
  })

  it('looks back', () => {
    const earlier = [report({ days_open: 20 }), report({ days_open: null }), report({ days_open: 26 })]
    expect(run('previous(days_open)', report({ days_open: 1 }), earlier)).toBe(20)
    expect(run('previous(days_open, 3)', {}, earlier)).toBe(26)
    expect(run('previous(days_open, 4)', {}, earlier)).toBeNaN()
    expect(run('mean_of_last(days_open, 3)', {}, earlier)).toBe(23)
  })

  it('gives for a column what it gives for each row', () => {
    const tree = compiled('caesareans <= deliveries[facility] and days_open > 3')
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            caesareans: fc.option(fc.nat(50)),
            'deliveries.u20.facility': fc.option(fc.nat(30)),
            'deliveries.a20plus.facility': fc.option(fc.nat(30)),
            days_open: fc.option(fc.nat(31)),
          }),
          { minLength: 1, maxLength: 30 },
        ),
        rows => {
          const reports = rows.map(row => report(row))
          const column = [...tree.run(tableOf(reports))]
          expect(column).toEqual(reports.map(one => tree.run(tableOf([one]))[0]))
        },
      ),
    )
  })
})

describe('explaining', () => {
  it('puts the numbers into both sides', () => {
    const cells = report({
      'live_births.f': 30,
      'live_births.m': 34,
      'deliveries.u20.facility': 6,
      'deliveries.u20.home': 0,
      'deliveries.a20plus.facility': 40,
      'deliveries.a20plus.home': 0,
    })
    const found = explain(compiled('live_births <= deliveries'), tableOf([cells]), 0)
    expect(found).toEqual({
      left: { value: 64, parts: [{ item: 'live_births', bands: [], back: 0, value: 64 }] },
      right: { value: 46, parts: [{ item: 'deliveries', bands: [], back: 0, value: 46 }] },
      relation: '>',
      by: 18,
    })
  })

  it('keeps the signs between the names, and says which are of an earlier period', () => {
    const found = explain(
      compiled('days_open + 2 * previous(days_open) = 1'),
      monthTable([report({ days_open: 3 })], [[report({ days_open: 4 })]]),
      0,
    )
    expect(found.left).toEqual({
      value: 11,
      parts: [
        { item: 'days_open', bands: [], back: 0, value: 3 },
        ' + 2 * ',
        { item: 'days_open', bands: [], back: 1, value: 4 },
      ],
    })
  })

  it('puts the value of a mean over earlier periods in its place', () => {
    const earlier = [[report({ days_open: 4 })], [report({ days_open: 8 })]]
    expect(
      explain(
        compiled('days_open > mean_of_last(days_open, 2)'),
        monthTable([report({ days_open: 3 })], earlier),
        0,
      ).right,
    ).toEqual({ value: 6, parts: ['6'] })
  })

  it('has no relation when a side is blank', () => {
    expect(explain(compiled('days_open < 3'), tableOf([{}]), 0).relation).toBeUndefined()
  })
})
