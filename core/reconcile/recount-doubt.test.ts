import { describe, expect, it } from 'vitest'
import { BLANK, type CellContent } from '../report/cell'
import { recountDoubt, type RecountedCell } from './recount-doubt'

const value = (of: number): CellContent => ({ kind: 'value', value: of })
const counted = (cell: string, of: number, on = '2026-11-03'): RecountedCell => ({
  ...{ cell, value: of, on, by: `of ${on}` },
})
const bandsOf = (cell: string) => ({
  bands: cell
    .split('.')
    .slice(1)
    .map(code => ({ code, name: {} })),
})
const doubtOf = (cells: Record<string, CellContent>, recounts: readonly RecountedCell[]) =>
  recountDoubt('seen', recounts, cell => cells[cell] ?? BLANK, bandsOf)

describe('a recount', () => {
  it('is a doubt beyond a tenth, with both numbers and what each cell was counted', () => {
    const doubt = doubtOf({ 'seen.f': value(30), 'seen.m': value(10) }, [
      counted('seen.f', 20, '2026-11-02'),
      counted('seen.m', 10),
    ])
    expect(doubt).toMatchObject({
      key: 'recount:seen',
      strength: 'explain',
      cells: ['seen.f', 'seen.m'],
      explanation: { left: { value: 40 }, relation: '>', right: { value: 30 }, by: 10 },
      recount: { on: '2026-11-03', by: 'of 2026-11-03', cells: { 'seen.f': 20, 'seen.m': 10 } },
    })
    expect(doubt!.explanation!.left.parts).toMatchObject([{ bands: ['f'] }, ' + ', { bands: ['m'] }])
  })

  it('is none within a tenth: a factor of 0.90 to 1.10 is verified (WHO toolkit 2017, from memory)', () => {
    const ofHundred = (recount: number) => doubtOf({ seen: value(100) }, [counted('seen', recount)])
    expect([90, 100, 110].map(ofHundred)).toEqual([null, null, null])
    expect([89, 111].map(recount => ofHundred(recount)?.explanation?.relation)).toEqual(['>', '<'])
  })

  it('adds up before it compares: what is too much in one band may be missing in another', () => {
    const cells = { 'seen.f': value(10), 'seen.m': value(30) }
    expect(doubtOf(cells, [counted('seen.f', 30), counted('seen.m', 10)])).toBeNull()
  })

  it('leaves out cells that are no numbers in the report, and is none without others', () => {
    const cells = { 'seen.f': value(5), 'seen.m': { kind: 'notKnown', reason: 'lost' } as const }
    expect(doubtOf(cells, [counted('seen.m', 9)])).toBeNull()
    expect(doubtOf(cells, [counted('seen.m', 9), counted('seen.f', 9)])?.cells).toEqual(['seen.f'])
    expect(doubtOf({}, [counted('seen', 9)])).toBeNull()
    expect(doubtOf({}, [])).toBeNull()
  })

  it('of something where the report says zero is a doubt, and of nothing is none', () => {
    expect(doubtOf({ seen: value(0) }, [counted('seen', 2)])).toMatchObject({ explanation: { by: 2 } })
    expect(doubtOf({ seen: value(0) }, [counted('seen', 0)])).toBeNull()
  })
})
