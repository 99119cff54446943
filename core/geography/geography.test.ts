import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { CLOSED, MOVED, OPENED, places } from '../../demo/places'
import { parseDay } from '../calendar/day'
import { parsePeriod } from '../calendar/period-text'
import { must } from '../result'
import { checkTree } from './check-tree'
import { expectedUnits, type Assignment } from './expected-units'
import type { UnitHistory, UnitSpan } from './unit'
import { growTree } from './unit-tree'

const day = (text: string) => must(parseDay(text))
const period = (text: string) => must(parsePeriod(text))
const span = (level: number, parent: string | null, more: Partial<UnitSpan> = {}): UnitSpan => ({
  from: 0,
  to: null,
  parent,
  name: '',
  level,
  kind: 'facility',
  ...more,
})
const unit = (code: string, ...spans: UnitSpan[]): UnitHistory => ({
  code,
  spans: spans.map(one => ({ ...one, name: one.name || code })),
})

/** Varrow Coast, with a facility that opens, one that closes and one that moves. */
const COAST = places().map((place): UnitHistory => {
  const base = { name: place.name, level: place.level, kind: place.kind }
  const first = { ...base, parent: place.parent, from: day(place.from), to: place.to ? day(place.to) : null }
  if (!place.moves) return { code: place.code, spans: [first] }
  const moved = day(place.moves.from)
  return {
    code: place.code,
    spans: [
      { ...first, to: moved },
      { ...base, parent: place.moves.to, from: moved, to: null },
    ],
  }
})
const tree = must(growTree(COAST))
const now = day('2026-11-09')

describe('a unit on a day', () => {
  it('has its parent, path and district of that day', () => {
    expect(tree.path(MOVED.unit, day('2026-06-30'))).toEqual([
      'varrow_coast',
      'tolben_vale_district',
      'kestrel_ridge_zone',
      MOVED.unit,
    ])
    expect(tree.path(MOVED.unit, day('2026-07-01'))[1]).toBe('sorrel_downs_district')
    expect(tree.within(MOVED.unit, 'tolben_vale_district', now)).toBe(false)
    expect(tree.within(MOVED.unit, MOVED.unit, now)).toBe(true)
  })

  it('is closed before it opens and from the day on which it closes', () => {
    expect(tree.at(OPENED.unit, day(OPENED.day) - 1)).toBeNull()
    expect(tree.at(OPENED.unit, day(OPENED.day))?.name).toBe('Old Quay Dispensary')
    expect(tree.at(CLOSED.unit, day(CLOSED.day) - 1)).not.toBeNull()
    expect(tree.at(CLOSED.unit, day(CLOSED.day))).toBeNull()
    expect(tree.path(CLOSED.unit, now)).toEqual([])
    expect(tree.lastOpenDay(CLOSED.unit, day('2026-03-01'), day('2026-03-31'))).toBe(day(CLOSED.day) - 1)
    expect(tree.lastOpenDay(CLOSED.unit, day('2026-04-01'), now)).toBeNull()
    expect(tree.at('nowhere', now)).toBeNull()
  })

  it('has its children by name and all below it, parents first', () => {
    expect(tree.children(null, now).map(({ code }) => code)).toEqual(['varrow_coast'])
    expect(tree.children('varrow_coast', now).map(({ name }) => name)).toEqual([
      'Ashmere',
      'Quillan Isles',
      'Sorrel Downs',
      'Tolben Vale',
    ])
    const below = tree.descendants('ashmere_district', now)
    expect(below.filter(({ level }) => level === 4)).toHaveLength(22)
    below.forEach(({ parent }, at) =>
      expect(parent === 'ashmere_district' || below.slice(0, at).some(({ code }) => code === parent)).toBe(
        true,
      ),
    )
  })
})

describe('what is below a unit on a day', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
    await database.exec('CREATE TABLE span (unit int, parent int, from_day int, to_day int)')
  })
  afterAll(async () => {
    await database.close()
  })

  /** Random trees in which each unit has one or two parents among those before it, one after the other. */
  const randomTree = fc.array(
    fc.record({
      parents: fc.array(fc.nat(), { minLength: 1, maxLength: 2 }),
      changes: fc.integer({ min: 1, max: 9 }),
    }),
    { minLength: 1, maxLength: 15 },
  )

  it('is what a recursive query of PostgreSQL finds', async () => {
    await fc.assert(
      fc.asyncProperty(randomTree, fc.nat(10), async (drawn, on) => {
        const spans = drawn.flatMap(({ parents, changes }, at) =>
          parents.map((parent, turn) => ({
            unit: at,
            parent: at === 0 ? null : parent % at,
            from: turn === 0 ? 0 : changes,
            to: turn === 0 && parents.length > 1 ? changes : null,
          })),
        )
        const levels = new Map<number, number>()
        // A unit is below all that it ever belongs to.
        spans.forEach(({ unit: one, parent }) =>
          levels.set(one, Math.max(levels.get(one) ?? 1, parent === null ? 1 : levels.get(parent)! + 1)),
        )
        const grown = must(
          growTree(
            drawn.map((_, at) =>
              unit(
                `u${at}`,
                ...spans
                  .filter(one => one.unit === at)
                  .map(one =>
                    span(
                      levels.get(at)!,
                      one.parent === null ? null : `u${one.parent}`,
                      one.to === null ? { from: one.from } : { from: one.from, to: one.to },
                    ),
                  ),
              ),
            ),
          ),
        )
        await database.exec('TRUNCATE span')
        await database.query(
          'INSERT INTO span SELECT * FROM unnest($1::int[], $2::int[], $3::int[], $4::int[])',
          [
            spans.map(one => one.unit),
            spans.map(one => one.parent),
            spans.map(one => one.from),
            spans.map(one => one.to),
          ],
        )
        const { rows } = await database.query<{ unit: number }>(
          `WITH RECURSIVE open AS (SELECT unit, parent FROM span WHERE from_day <= $1 AND (to_day IS NULL OR to_day > $1)),
         below AS (SELECT unit FROM open WHERE parent = 0 UNION ALL SELECT open.unit FROM open JOIN below ON open.parent = below.unit)
         SELECT unit FROM below`,
          [on],
        )
        expect(
          grown
            .descendants('u0', on)
            .map(({ code }) => code)
            .sort(),
        ).toEqual(rows.map(row => `u${row.unit}`).sort())
      }),
      { numRuns: 100 },
    )
  })
})

describe('a tree that cannot be', () => {
  const top = unit('top', span(1, null))
  it.each<[string, UnitHistory[], string, string]>([
    ['a ring', [top, unit('a', span(2, 'b')), unit('b', span(3, 'a'))], 'unit-cycle', 'a → b → a'],
    ['a unit under itself', [unit('a', span(2, 'a'))], 'unit-cycle', 'a → a'],
    ['an orphan', [unit('a', span(2, 'nowhere'))], 'unit-no-parent', 'nowhere, which is not there'],
    [
      'two parents at once',
      [top, unit('b', span(1, null)), unit('a', span(2, 'top', { to: 9 }), span(2, 'b', { from: 8 }))],
      'unit-two-parents',
      'From 1970-01-09 a would be in top and in b at once',
    ],
    [
      'closing before opening',
      [unit('a', span(1, null, { from: 5, to: 5 }))],
      'unit-closes-first',
      'before it begins on 1970-01-06',
    ],
    [
      'open under a closed parent',
      [unit('top', span(1, null, { to: 9 })), unit('a', span(2, 'top'))],
      'unit-parent-closed',
      'open on 1970-01-10',
    ],
    [
      'open before its parent',
      [unit('top', span(1, null, { from: 5 })), unit('a', span(2, 'top'))],
      'unit-parent-closed',
      'open on 1970-01-01',
    ],
    [
      'not below its parent’s level',
      [top, unit('a', span(1, 'top'))],
      'unit-level',
      'not below level 1 of top',
    ],
    ['two units of one code', [top, top], 'unit-double', 'two units top'],
  ])('%s is refused with the reason', (_, units, code, says) => {
    expect(checkTree(units)).toHaveLength(1)
    expect(checkTree(units)[0]).toMatchObject({ code })
    expect(checkTree(units)[0]!.message).toContain(says)
    expect(growTree(units).ok).toBe(false)
  })

  it('is not one that is empty, nor one with a unit that closed for a while, nor one whose parent changed its name', () => {
    expect(must(growTree([])).children(null, 0)).toEqual([])
    expect(checkTree([top, unit('a', span(2, 'top', { to: 5 }), span(2, 'top', { from: 8 }))])).toEqual([])
    expect(
      checkTree([
        unit('top', span(1, null, { to: 5, name: 'Old' }), span(1, null, { from: 5, name: 'New' })),
        unit('a', span(2, 'top')),
      ]),
    ).toEqual([])
  })
})

describe('the units that a round expects', () => {
  const always = { from: day('2020-01-01'), to: null }
  const facilities: Assignment = { ...always, by: 'level', level: 4 }
  const codes = (assignments: Assignment[], text: string, groups: Parameters<typeof expectedUnits>[2] = []) =>
    expectedUnits(tree, assignments, groups, period(text)).map(({ code }) => code)

  it('are those open on any day of the period, where they were last', () => {
    expect(codes([facilities], '2026-10')).toHaveLength(71)
    expect(codes([facilities], '2026-03')).toHaveLength(71)
    const closing = expectedUnits(tree, [facilities], [], period('2026-03')).find(
      ({ code }) => code === CLOSED.unit,
    )
    expect(closing).toMatchObject({
      day: day(CLOSED.day) - 1,
      path: ['varrow_coast', 'quillan_isles_district', 'outer_isles_zone', CLOSED.unit],
    })
    expect(codes([facilities], '2026-04')).not.toContain(CLOSED.unit)
    expect(codes([facilities], '2026-04')).not.toContain(OPENED.unit)
  })

  it('follow a unit that moves: the branch that it is in at the end', () => {
    const vale: Assignment = { ...always, by: 'level', level: 4, branch: 'tolben_vale_district' }
    expect(codes([vale], '2026-06')).toContain(MOVED.unit)
    expect(codes([vale], '2026-07')).not.toContain(MOVED.unit)
    expect(codes([{ ...vale, branch: 'sorrel_downs_district' }], '2026-Q3')).toContain(MOVED.unit)
  })

  it('are assigned by branch, by group or one by one, each from and to a day, and expected once', () => {
    expect(codes([{ ...always, by: 'unit', unit: 'tern_row' }, facilities], '2026-10')).toHaveLength(71)
    expect(codes([{ by: 'unit', unit: 'tern_row', from: day('2026-10-31'), to: null }], '2026-10')).toEqual([
      'tern_row',
    ])
    expect(
      codes([{ by: 'unit', unit: 'tern_row', from: always.from, to: day('2026-10-01') }], '2026-10'),
    ).toEqual([])
    expect(codes([{ ...always, by: 'branch', branch: 'saltings_zone' }], '2026-10')).toEqual([
      'saltings_zone',
      'tern_row',
      'eel_sluice',
      'saltern',
      'marram_end',
    ])
    const group = {
      code: 'islands',
      members: [
        { unit: 'petrel', ...always },
        { unit: 'gull_rock', from: always.from, to: day('2026-01-01') },
      ],
    }
    expect(codes([{ ...always, by: 'group', group: 'islands' }], '2026-10', [group])).toEqual(['petrel'])
    expect(codes([{ ...always, by: 'group', group: 'unknown' }], '2026-10', [group])).toEqual([])
    expect(expectedUnits(must(growTree([])), [facilities], [], period('2026-10'))).toEqual([])
  })
})
