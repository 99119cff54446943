import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseDay } from '../calendar/day'
import { must } from '../result'
import { pathedSpans, withoutPaths } from './pathed-spans'
import { planChanges } from './plan-changes'
import type { UnitHistory } from './unit'
import { readUnitRow, readUnitRows, type UnitFields } from './unit-row'
import { growTree } from './unit-tree'

const day = (text: string) => must(parseDay(text))
const START = day('2020-01-01')
const unit = (code: string, parent: string | null, level: number): UnitHistory => ({
  code,
  spans: [{ from: START, to: null, parent, name: code, level, kind: 'place' }],
})
const UNITS = [
  unit('coast', null, 1),
  unit('north', 'coast', 2),
  unit('south', 'coast', 2),
  unit('elm', 'north', 3),
  unit('oak', 'south', 3),
]
const tree = must(growTree(UNITS))
const JULY = day('2026-07-01')

const plan = (...rows: UnitFields[]) =>
  planChanges(tree, readUnitRows(rows.map((fields, at) => ({ line: at + 2, fields }))), JULY)
const planned = (...rows: UnitFields[]) =>
  plan(...rows).lines.map(({ code, verdict, problems }) => [code, verdict, ...problems.map(one => one.code)])
const after = (planned: ReturnType<typeof plan>) =>
  must(
    growTree([...new Map([...tree.units.map(one => [one.code, one] as const), ...planned.after]).values()]),
  )

describe('what rows would do', () => {
  it('is told line by line: new, renamed, moved, closed, changed, unchanged', () => {
    expect(
      planned(
        { code: 'ash', name: 'Ash', parent: 'north' },
        { code: 'elm', name: 'Elm Tree', parent: 'north' },
        { code: 'oak', name: 'oak', parent: 'north' },
        { code: 'south', name: 'south', parent: 'coast', closed: '2026-08-01' },
        { code: 'north', name: 'north', parent: 'coast', kind: 'zone' },
        { code: 'coast', name: 'coast', parent: '' },
      ),
    ).toEqual([
      ['ash', 'new'],
      ['elm', 'renamed'],
      ['oak', 'moved'],
      ['south', 'closed'],
      ['north', 'changed'],
      ['coast', 'unchanged'],
    ])
  })

  it('begins on its day: before it all was as it was', () => {
    const changed = after(
      plan(
        { code: 'oak', name: 'Oak', parent: 'north' },
        { code: 'ash', name: 'Ash', parent: 'north', opened: '2026-07-15' },
      ),
    )
    expect(changed.path('oak', JULY - 1)).toEqual(['coast', 'south', 'oak'])
    expect(changed.path('oak', JULY)).toEqual(['coast', 'north', 'oak'])
    expect(changed.at('oak', JULY - 1)!.name).toBe('oak')
    expect(changed.at('ash', day('2026-07-14'))).toBeNull()
    expect(changed.at('ash', day('2026-07-15'))).toMatchObject({ level: 3, parent: 'north' })
  })

  it('changes nothing twice, and a closed unit opens again', () => {
    const once = after(plan({ code: 'elm', name: 'Elm', parent: 'south', closed: '2026-09-01' }))
    const rows = readUnitRows([
      { line: 2, fields: { code: 'elm', name: 'Elm', parent: 'south', closed: '2026-09-01' } },
    ])
    expect(planChanges(once, rows, JULY).after.size).toBe(0)
    const again = planChanges(
      once,
      readUnitRows([{ line: 2, fields: { code: 'elm', name: 'Elm', parent: 'north' } }]),
      day('2026-10-01'),
    )
    expect(again.lines[0]!.verdict).toBe('reopened')
    expect(again.after.get('elm')!.spans.map(({ to }) => to)).toEqual([JULY, day('2026-09-01'), null])
  })

  it('takes children in any order, and gives each the level below its parent', () => {
    expect(
      after(
        plan({ code: 'leaf', name: 'Leaf', parent: 'twig' }, { code: 'twig', name: 'Twig', parent: 'elm' }),
      ).at('leaf', JULY),
    ).toMatchObject({ level: 5 })
  })

  it('is refused where it would spoil the tree, with the reason, and the rest remains', () => {
    expect(
      planned(
        { code: 'north', name: 'north', parent: 'elm' },
        { code: 'ash', name: 'Ash', parent: 'coast', level: '2' },
      ),
    ).toEqual([
      ['north', 'refused', 'unit-cycle'],
      ['ash', 'new'],
    ])
    expect(planned({ code: 'elm', name: 'elm', parent: 'elm' })).toEqual([['elm', 'refused', 'unit-cycle']])
    expect(
      planned({ code: 'ash', name: 'Ash', parent: 'nowhere' }, { code: 'leaf', name: 'Leaf', parent: 'ash' }),
    ).toEqual([
      ['ash', 'refused', 'unit-no-parent'],
      ['leaf', 'refused', 'unit-no-parent'],
    ])
    expect(planned({ code: 'north', name: 'north', parent: 'coast', closed: '2026-08-01' })).toEqual([
      ['north', 'refused', 'unit-parent-closed'],
    ])
    expect(
      planned(
        { code: 'north', name: 'north', parent: 'coast', closed: '2026-08-01' },
        { code: 'elm', name: 'elm', parent: 'north', closed: '2026-08-01' },
      ),
    ).toEqual([
      ['north', 'closed'],
      ['elm', 'closed'],
    ])
    expect(planned({ code: 'elm', name: 'elm', parent: 'north', level: '2' })).toEqual([
      ['elm', 'refused', 'unit-level'],
    ])
    expect(
      planned({ code: 'ash', name: 'Ash', parent: 'north', opened: '2026-09-01', closed: '2026-08-01' }),
    ).toEqual([['ash', 'refused', 'unit-closes-first']])
  })

  it('never leaves a tree that cannot be, whatever the rows', () => {
    const codes = ['coast', 'north', 'south', 'elm', 'oak', 'ash', 'yew']
    const row = fc.record({
      code: fc.constantFrom(...codes),
      name: fc.constantFrom('A', 'B'),
      parent: fc.constantFrom('', ...codes, 'nowhere'),
      closed: fc.constantFrom('', '', '2026-08-01', '2019-01-01'),
      level: fc.constantFrom('', '', '2', '3'),
    })
    fc.assert(
      fc.property(fc.array(row, { maxLength: 6 }), rows => {
        const planned = plan(...rows)
        expect(
          growTree([
            ...new Map([...tree.units.map(one => [one.code, one] as const), ...planned.after]).values(),
          ]).ok,
        ).toBe(true)
        expect(planned.lines).toHaveLength(rows.length)
      }),
      { numRuns: 500 },
    )
  })
})

describe('a row', () => {
  const why = (fields: UnitFields) => {
    const row = readUnitRow(2, fields)
    return row.ok ? 'fine' : row.problems.map(({ code }) => code)
  }

  it('needs a name, and whatever else it has must be right', () => {
    expect(why({ name: 'Elm', parent: '' })).toBe('fine')
    expect(why({ name: ' ' })).toEqual(['unit-no-name', 'unit-code'].slice(0, 1))
    expect(why({ name: 'x'.repeat(121) })).toEqual(['unit-name-long'])
    expect(why({ code: 'F 001', name: 'Elm' })).toEqual(['unit-code'])
    expect(why({ name: 'Elm', level: '0' })).toEqual(['unit-level-number'])
    expect(why({ name: 'Elm', latitude: '91', longitude: '0' })).toEqual(['unit-position'])
    expect(why({ name: 'Elm', latitude: '41' })).toEqual(['unit-position'])
    expect(why({ name: 'Elm', latitude: '41,5', longitude: '-29,5' })).toBe('fine')
    expect(why({ name: 'Elm', opened: '2026-02-30', closed: 'soon' })).toEqual(['day-none', 'day-form'])
  })

  it('gets a code from its name, and the second with one code is refused with the line of the first', () => {
    expect(must(readUnitRow(2, { name: 'Éastfold / Hill' })).code).toBe('eastfold_hill')
    const { rows, refused } = readUnitRows([
      { line: 2, fields: { name: 'Elm' } },
      { line: 5, fields: { code: 'elm', name: 'Other' } },
    ])
    expect(rows).toHaveLength(1)
    expect(refused).toMatchObject([
      { line: 5, code: 'elm', problems: [{ code: 'unit-double-row', values: { other: 2 } }] },
    ])
  })
})

describe('spans with paths', () => {
  it('split where a unit above moves, not where it only changes its name, and go together again', () => {
    const moved = must(
      growTree([
        ...UNITS.slice(0, 3),
        {
          code: 'elm',
          spans: [
            { ...UNITS[3]!.spans[0]!, to: JULY },
            { ...UNITS[3]!.spans[0]!, from: JULY, name: 'Elm Hill' },
          ],
        },
        { code: 'bed', spans: [{ from: START, to: null, parent: 'elm', name: 'bed', level: 4, kind: 'x' }] },
      ]),
    )
    expect(pathedSpans(moved, ['bed'])).toHaveLength(1)
    const other = after(
      plan(
        { code: 'elm', name: 'elm', parent: 'south' },
        { code: 'bed', name: 'bed', parent: 'elm', opened: '2026-01-01' },
      ),
    )
    const spans = pathedSpans(other, ['elm'])
    expect(spans.map(({ from, to, path }) => [from, to, path.join('.')])).toEqual([
      [START, JULY, 'coast.north.elm'],
      [JULY, null, 'coast.south.elm'],
    ])
    expect(withoutPaths(pathedSpans(tree, ['oak']))).toEqual(UNITS[4]!.spans)
    expect(
      withoutPaths([
        { ...UNITS[4]!.spans[0]!, to: JULY },
        { ...UNITS[4]!.spans[0]!, from: JULY },
      ]),
    ).toEqual(UNITS[4]!.spans)
  })
})
