import { describe, expect, it } from 'vitest'
import type { Block } from '#core/report/layout'
import { cellAt, linesOf, numberBlocks, rowsOfCells } from './numberedBlocks'

const list = (lines: number) =>
  ({ kind: 'list', cells: Array.from({ length: lines }, (_, at) => ({ key: `l${at}` })) }) as Block
const matrix = (lines: number) =>
  ({
    kind: 'matrix',
    rows: Array.from({ length: lines }, (_, at) => ({ item: { code: `m${at}` } })),
  }) as Block
const grid = (lines: number) =>
  ({ kind: 'grid', rows: Array.from({ length: lines }, () => []) }) as unknown as Block

describe('the blocks of a section', () => {
  it('number their lines through the whole section, so that an arrow goes from one block to the next', () => {
    const blocks = [list(3), matrix(12), grid(4), list(1)]
    expect(numberBlocks(blocks).map(({ first }) => first)).toEqual([0, 3, 15, 19])
    expect(blocks.map(linesOf)).toEqual([3, 12, 4, 1])
  })

  it('have each of their lines in one stretch, in their order, with its number in the block', () => {
    for (const lines of [0, 1, 9, 10, 11, 25]) {
      const [one] = numberBlocks([list(lines)])
      if (one?.kind !== 'list') throw new Error('It was a list.')
      expect(one.stretches.flat()).toEqual(one.cells.map((line, at) => ({ line, at })))
      expect(one.stretches.map(stretch => stretch.length)).toEqual(
        Array.from({ length: Math.ceil(lines / 10) }, (_, at) => Math.min(10, lines - 10 * at)),
      )
    }
  })

  it('say which cell is at a place, also of lines that are not drawn', () => {
    const cell = (key: string) => ({ key })
    const blocks = numberBlocks([
      list(2),
      {
        kind: 'matrix',
        rows: [{ cells: [cell('m0a'), cell('m0b')] }, { cells: [cell('m1a'), cell('m1b')] }],
      },
      { kind: 'grid', rows: [[cell('g0'), cell('g1'), cell('g2')]] },
      list(40),
    ] as unknown as Block[])
    const keyAt = (row: number, column: number) => cellAt(blocks, row, column)?.key ?? null
    expect([keyAt(0, 0), keyAt(1, 0), keyAt(1, 1)]).toEqual(['l0', 'l1', null])
    expect([keyAt(2, 1), keyAt(3, 0), keyAt(3, 2)]).toEqual(['m0b', 'm1a', null])
    expect([keyAt(4, 2), keyAt(5, 0), keyAt(44, 0)]).toEqual(['g2', 'l0', 'l39'])
    expect([keyAt(45, 0), keyAt(-1, 0), keyAt(0, -1)]).toEqual([null, null, null])
    expect(Object.fromEntries(rowsOfCells(blocks.slice(0, 3)))).toEqual({
      ...{ l0: 0, l1: 1, m0a: 2, m0b: 2, m1a: 3, m1b: 3 },
      ...{ g0: 4, g1: 4, g2: 4 },
    })
  })
})
