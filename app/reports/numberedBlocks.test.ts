import { describe, expect, it } from 'vitest'
import type { Block } from '#core/report/layout'
import { linesOf, numberBlocks } from './numberedBlocks'

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
})
