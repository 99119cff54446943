import { describe, expect, it } from 'vitest'
import type { CellContent } from '../report/cell'
import type { CaseCount, Item } from '../report/edition'
import { tableOf } from '../report/table'
import { cures } from '../rollup/cures'
import { countDoubt, countText } from './count-doubt'

const count = (more: Partial<CaseCount> = {}): CaseCount => ({
  code: 'measles',
  name: { en: 'Measles' },
  register: 'measles_cases',
  cells: ['measles.u5', 'measles.a5plus'],
  place: 'care',
  date: 'rash_on',
  ...more,
})
const value = (of: number): CellContent => ({ kind: 'value', value: of })
const cellOf = (cell: string) => ({
  item: { code: 'measles', kind: 'wholeNumber' } as Item,
  bands: [{ code: cell.split('.')[1]!, name: {} }],
})
const doubtOf = (contents: Record<string, CellContent>, registered: number, more?: Partial<CaseCount>) =>
  countDoubt(count(more), 'explain', cell => contents[cell] ?? { kind: 'blank' }, registered, cellOf)

describe('a report that says another number than its register', () => {
  const seven = { 'measles.u5': value(3), 'measles.a5plus': value(4) }

  it('is doubted with both numbers, and what they are made of', () => {
    expect(doubtOf(seven, 9)).toMatchObject({
      key: 'cases:measles',
      source: 'cases',
      cells: ['measles.u5', 'measles.a5plus'],
      explanation: {
        left: {
          value: 7,
          parts: [{ item: 'measles', bands: ['u5'], value: 3 }, ' + ', { bands: ['a5plus'] }],
        },
        relation: '<',
        right: { value: 9, parts: [{ item: 'measles_cases', count: 'count(measles_cases)', value: 9 }] },
        by: 2,
      },
    })
    expect(doubtOf(seven, 5)!.explanation).toMatchObject({ relation: '>', by: 2 })
  })

  it('is not where both agree, or where a cell is no number', () => {
    expect(doubtOf(seven, 7)).toBeNull()
    expect(doubtOf({ ...seven, 'measles.u5': { kind: 'blank' } }, 9)).toBeNull()
    expect(doubtOf({ ...seven, 'measles.u5': { kind: 'notOffered' } }, 4)).toBeNull()
  })

  it('is cured by each cell alone, never below zero', () => {
    const curesOf = (registered: number) =>
      cures(doubtOf(seven, registered)!, undefined, new Map(), tableOf([seven])).map(({ cell, from, to }) => [
        cell,
        from,
        to,
      ])
    expect(curesOf(9)).toEqual([
      ['measles.u5', 3, 5],
      ['measles.a5plus', 4, 6],
    ])
    expect(curesOf(3)).toEqual([['measles.a5plus', 4, 0]])
  })

  it('names its count as expressions print it', () => {
    expect(countText(count({ where: 'age_years<5   and sex="f"' }))).toBe(
      'count(measles_cases where age_years < 5 and sex = "f")',
    )
  })
})
