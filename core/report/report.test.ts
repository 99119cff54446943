import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isAnswered, LARGEST_COUNT, readCell, sameContent, type CellContent } from './cell'
import { lanternSign, stateAfter, type ReportAct, type ReportState } from './state'
import { answered, sumOfCells, tableOf } from './table'

describe('what is typed into a count', () => {
  it.each([
    ['12', 12], [' 7 ', 7], ['0', 0], ['007', 7], ['1 234', 1234], ['12\u202f345', 12_345], ['+5', 5], [String(LARGEST_COUNT), LARGEST_COUNT], ['-0', 0],
  ])('“%s” is read as %s', (text, value) => {
    expect(readCell(text)).toEqual({ ok: true, value: { kind: 'value', value } })
  })

  it.each([
    ['abc', 'cell-letters'], ['1e3', 'cell-letters'], ['12 5', 'cell-letters'], ['1.2.3', 'cell-letters'], ['Infinity', 'cell-letters'], ['NaN', 'cell-letters'], ['.', 'cell-letters'], ['0x10', 'cell-letters'],
    ['-3', 'cell-negative'], ['2.5', 'cell-decimals'], ['2,5', 'cell-decimals'], ['1000000000000', 'cell-too-large'], ['9'.repeat(400), 'cell-letters'],
  ])('“%s” is refused as %s', (text, code) => {
    expect(readCell(text)).toMatchObject({ ok: false, problems: [{ code }] })
  })

  it('is blank when it is empty, and blank is not zero', () => {
    expect(readCell('  ')).toEqual({ ok: true, value: { kind: 'blank' } })
    expect(sameContent({ kind: 'blank' }, { kind: 'value', value: 0 })).toBe(false)
  })

  it('takes decimals where the item is no count', () => {
    expect(readCell('2,5', 'decimal')).toEqual({ ok: true, value: { kind: 'value', value: 2.5 } })
  })

  it('takes back every count that it shows', () => {
    fc.assert(fc.property(fc.nat(LARGEST_COUNT), (value) => {
      expect(readCell(String(value))).toEqual({ ok: true, value: { kind: 'value', value } })
      expect(readCell(new Intl.NumberFormat('fr').format(value))).toEqual({ ok: true, value: { kind: 'value', value } })
    }))
  })
})

describe('the five kinds of content', () => {
  const FIVE: CellContent[] = [{ kind: 'value', value: 4 }, { kind: 'value', value: 0 }, { kind: 'notKnown', reason: 'away' }, { kind: 'notOffered' }, { kind: 'blank' }]

  it('are answers, all but blank', () => {
    expect(FIVE.map(isAnswered)).toEqual([true, true, true, true, false])
  })

  it('are told apart in a table', () => {
    const table = tableOf(FIVE.map(content => ({ a: content })))
    expect([...table.numbers('a')]).toEqual([4, 0, NaN, NaN, NaN])
    expect([...answered(table, ['a'])]).toEqual([1, 1, 1, 1, 0])
    expect([...sumOfCells(table, ['a', 'b'])]).toEqual([NaN, NaN, NaN, NaN, NaN])
  })

  it('differ when their reasons differ', () => {
    expect(sameContent({ kind: 'notKnown', reason: 'away' }, { kind: 'notKnown', reason: 'lost' })).toBe(false)
  })
})

describe('the states of a report', () => {
  const path = (...acts: ReportAct[]) => acts.reduce<ReportState | undefined>((state, act) => state && stateAfter(state, act), 'awaited')

  it('lead from awaited to accepted', () => {
    expect(path('fill', 'send', 'accept')).toBe('accepted')
    expect(path('fill', 'send', 'sendBack', 'fill', 'send', 'accept')).toBe('accepted')
  })

  it('put a changed report before the officer again', () => {
    expect(path('fill', 'send', 'accept', 'change')).toBe('sent')
  })

  it.each<ReportAct[]>([['send'], ['accept'], ['fill', 'accept'], ['fill', 'sendBack'], ['fill', 'send', 'fill']])('refuse %s', (...acts) => {
    expect(path(...acts)).toBeUndefined()
  })

  it('are overdue from the end of the due day on, unless the district has the report', () => {
    expect(lanternSign('awaited', 100, 99)).toBe('awaited')
    expect(lanternSign('draft', 100, 100)).toBe('overdue')
    expect(lanternSign('sent', 100, 200)).toBe('sent')
    expect(lanternSign('sentBack', 100, 200)).toBe('sentBack')
  })
})
