import { describe, expect, it } from 'vitest'
import { SMALL } from '../../tests/support/installation'
import { cellsOf, cellsOfItem, nameCell, wordsIn, type Edition } from './edition'
import { layOut } from './layout'

const [tested, positive, seen] = SMALL.sections[0]!.items as [
  Edition['sections'][0]['items'][0],
  Edition['sections'][0]['items'][0],
  Edition['sections'][0]['items'][0],
]
const axes = [
  ...SMALL.axes,
  {
    code: 'age',
    name: { en: 'Age' },
    bands: [
      { code: 'young', name: { en: 'young' } },
      { code: 'old', name: { en: 'old', fr: 'âgé' } },
    ],
  },
]
const both = { ...seen, code: 'both', axes: ['age', 'sex'] }
const edition: Edition = {
  ...SMALL,
  axes,
  sections: [
    {
      code: 's',
      name: { en: 'S' },
      items: [tested, positive, seen, { ...seen, code: 'again' }, both, { ...tested, code: 'last' }],
    },
  ],
}

describe('the cells of an edition', () => {
  it('have the first axis outermost', () => {
    expect(cellsOfItem(edition, both).map(({ key }) => key)).toEqual([
      'both.young.f',
      'both.young.m',
      'both.old.f',
      'both.old.m',
    ])
  })

  it('stand in paper order', () => {
    expect(
      cellsOf(edition)
        .map(({ key }) => key)
        .slice(0, 4),
    ).toEqual(['tested', 'positive', 'seen.f', 'seen.m'])
  })

  it('have names in a language, else in English, else in any', () => {
    const cell = cellsOfItem(edition, both)[2]!
    expect([nameCell(cell, 'fr'), nameCell(cell, 'de')]).toEqual(['seen, âgé, female', 'seen, old, female'])
    expect(wordsIn({ pt: 'só' }, 'fr')).toBe('só')
  })

  it('refuse an axis that the edition does not have', () => {
    expect(() => cellsOfItem(edition, { ...both, axes: ['moon'] })).toThrow(/moon/)
  })
})

describe('the layout of a section', () => {
  const blocks = layOut(edition, edition.sections[0]!)

  it('puts neighbours of one shape together and keeps the order', () => {
    expect(blocks.map(({ kind }) => kind)).toEqual(['list', 'matrix', 'grid', 'list'])
    expect(blocks[0]).toMatchObject({ cells: [{ key: 'tested' }, { key: 'positive' }] })
    expect(blocks[1]).toMatchObject({
      axis: { code: 'sex' },
      rows: [{ item: { code: 'seen' } }, { item: { code: 'again' } }],
    })
  })

  it('makes a row for each band of the first axis, a column for each of the second', () => {
    const grid = blocks[2]!
    expect(grid.kind === 'grid' && grid.rows.map(row => row.map(({ key }) => key))).toEqual([
      ['both.young.f', 'both.young.m'],
      ['both.old.f', 'both.old.m'],
    ])
  })
})
