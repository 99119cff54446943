import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { isAnswered, LARGEST_COUNT, readCell, sameContent, type CellContent } from './cell'
import { readNumber, writeNumber } from './read-number'
import { lanternSign, stateAfter, type ReportAct, type ReportState } from './state'
import { answered, sumOfCells, tableOf } from './table'

describe('what is typed into a count', () => {
  it.each([
    ['12', 12],
    [' 7 ', 7],
    ['0', 0],
    ['007', 7],
    ['1 234', 1234],
    ['12\u202f345', 12_345],
    ['+5', 5],
    [String(LARGEST_COUNT), LARGEST_COUNT],
    ['-0', 0],
  ])('“%s” is read as %s', (text, value) => {
    expect(readCell(text, 'count', 'en')).toEqual({ ok: true, value: { kind: 'value', value } })
  })

  it.each([
    ['abc', 'cell-letters'],
    ['1e3', 'cell-letters'],
    ['12 5', 'cell-letters'],
    ['1.2.3', 'cell-letters'],
    ['Infinity', 'cell-letters'],
    ['NaN', 'cell-letters'],
    ['.', 'cell-letters'],
    ['0x10', 'cell-letters'],
    ['-3', 'cell-negative'],
    ['2.5', 'cell-decimals'],
    ['2,5', 'cell-decimals'],
    ['1000000000000', 'cell-too-large'],
    ['9'.repeat(400), 'cell-letters'],
  ])('“%s” is refused as %s', (text, code) => {
    expect(readCell(text, 'count', 'en')).toMatchObject({ ok: false, problems: [{ code }] })
  })

  it('is blank when it is empty, and blank is not zero', () => {
    expect(readCell('  ', 'count', 'en')).toEqual({ ok: true, value: { kind: 'blank' } })
    expect(sameContent({ kind: 'blank' }, { kind: 'value', value: 0 })).toBe(false)
  })

  describe('numbers right, 1: groups of three digits', () => {
    const read = (text: string, number: 'count' | 'decimal', language: string) => {
      const found = readNumber(text, number, language)
      return found.ok ? found.value : found.problems[0]!.code
    }
    it.each<[string, 'count' | 'decimal', string, number | string]>([
      ['1,000', 'count', 'en', 1000],
      ['12,000', 'count', 'en', 12_000],
      ['1,234,567', 'count', 'en', 1_234_567],
      ['1.234.567', 'count', 'fr', 1_234_567],
      ['1’000', 'count', 'en', 1000],
      ['1 000 000', 'count', 'fr', 1_000_000],
      ['1.000', 'count', 'de', 1000],
      ['1.000', 'count', 'en', 'cell-two-readings'],
      ['1,000', 'count', 'fr', 'cell-two-readings'],
      ['1.000', 'count', 'fr', 'cell-two-readings'],
      ['1,234', 'count', 'fr', 'cell-two-readings'],
      ['1.250', 'decimal', 'en', 1.25],
      ['1,250', 'decimal', 'fr', 1.25],
      ['1,250', 'decimal', 'en', 'cell-two-readings'],
      ['1.250', 'decimal', 'fr', 'cell-two-readings'],
      ['1,234.5', 'decimal', 'fr', 1234.5],
      ['1.234,5', 'decimal', 'en', 1234.5],
      ['0,125', 'decimal', 'en', 0.125],
      ['0.125', 'decimal', 'fr', 0.125],
      ['1 234,567', 'decimal', 'fr', 1234.567],
      ['12,5', 'decimal', 'en', 12.5],
      ['-1,000', 'count', 'en', -1000],
      ['1,0000', 'count', 'en', 'cell-decimals'],
      ['1,00,000', 'count', 'en', 'cell-letters'],
      ['1,234,56', 'decimal', 'en', 'cell-letters'],
      ['12.0', 'count', 'en', 12],
      ['12,00', 'count', 'fr', 12],
    ])('“%s” as a %s in %s is %s', (text, number, language, value) => {
      expect(read(text, number, language)).toBe(value)
    })

    it('never keeps 3 on the way to 3,000', () => {
      expect(['3', '3,', '3,0', '3,00', '3,000'].map(text => read(text, 'count', 'en'))).toEqual([
        3,
        'cell-decimals',
        'cell-decimals',
        'cell-decimals',
        3000,
      ])
    })

    it('says both readings where there are two', () => {
      expect(readNumber('1.250', 'count', 'en')).toMatchObject({
        problems: [{ values: { text: '1.250', one: '1.25', other: '1250' } }],
      })
    })

    it('reads back every decimal that it writes into a field', () => {
      fc.assert(
        fc.property(
          fc.nat(9_999_999),
          fc.nat(4),
          fc.constantFrom('en', 'fr', 'de', 'pt'),
          (whole, digits, language) => {
            const value = whole / 10 ** digits
            expect(read(writeNumber(value, language), 'decimal', language)).toBe(value)
          },
        ),
      )
    })
  })

  it('takes decimals where the item is no count', () => {
    expect(readCell('2,5', 'decimal', 'en')).toEqual({ ok: true, value: { kind: 'value', value: 2.5 } })
  })

  it('takes back every count that it shows', () => {
    fc.assert(
      fc.property(fc.nat(LARGEST_COUNT), value => {
        for (const language of ['en', 'fr', 'de', 'de-CH', 'pt', 'sw']) {
          for (const shown of [
            String(value),
            new Intl.NumberFormat(language, { numberingSystem: 'latn' }).format(value),
            writeNumber(value, language),
          ]) {
            expect([language, shown, readCell(shown, 'count', language)]).toEqual([
              language,
              shown,
              { ok: true, value: { kind: 'value', value } },
            ])
          }
        }
      }),
    )
  })
})

describe('the five kinds of content', () => {
  const FIVE: CellContent[] = [
    { kind: 'value', value: 4 },
    { kind: 'value', value: 0 },
    { kind: 'notKnown', reason: 'away' },
    { kind: 'notOffered' },
    { kind: 'blank' },
  ]

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
    expect(sameContent({ kind: 'notKnown', reason: 'away' }, { kind: 'notKnown', reason: 'lost' })).toBe(
      false,
    )
  })
})

describe('the states of a report', () => {
  const path = (...acts: ReportAct[]) =>
    acts.reduce<ReportState | undefined>((state, act) => state && stateAfter(state, act), 'awaited')

  it('lead from awaited to accepted', () => {
    expect(path('fill', 'send', 'accept')).toBe('accepted')
    expect(path('fill', 'send', 'sendBack', 'fill', 'send', 'accept')).toBe('accepted')
  })

  it('put a changed report before the officer again', () => {
    expect(path('fill', 'send', 'accept', 'change')).toBe('sent')
  })

  it.each<ReportAct[]>([
    ['send'],
    ['accept'],
    ['fill', 'accept'],
    ['fill', 'sendBack'],
    ['fill', 'send', 'fill'],
  ])('refuse %s', (...acts) => {
    expect(path(...acts)).toBeUndefined()
  })

  it('are overdue from the end of the due day on, unless the district has the report', () => {
    expect(lanternSign('awaited', 100, 99)).toBe('awaited')
    expect(lanternSign('draft', 100, 100)).toBe('overdue')
    expect(lanternSign('sent', 100, 200)).toBe('sent')
    expect(lanternSign('sentBack', 100, 200)).toBe('sentBack')
  })
})
