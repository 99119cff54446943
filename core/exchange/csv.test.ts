import { parse } from 'csv-parse/sync'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { writeCsv } from './csv'

describe('CSV (RFC 4180)', () => {
  it('is read back by another library as it was, once the apostrophe that defuses is taken off', () => {
    const cell = fc.oneof(
      fc.string({ unit: 'grapheme' }),
      fc.stringMatching(/^'*[=+\-@\t\r]/),
      fc.stringMatching(/^'+/),
    )
    const undefused = (text: string) => (/^'+[=+\-@\t\r]/.test(text) ? text.slice(1) : text)
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell), { minLength: 1 }), rows => {
        const read = parse(writeCsv([['first', 'second'], ...rows]), {
          columns: false,
          record_delimiter: '\r\n',
          skip_empty_lines: false,
        }) as string[][]
        expect(read.slice(1).map(row => row.map(undefused))).toEqual(rows)
      }),
    )
  })

  it('ends lines with CRLF, doubles quotes, leaves blanks empty', () => {
    expect(
      writeCsv([
        ['a', 'b'],
        ['say "x", y', null],
        [3, ''],
      ]),
    ).toBe('a,b\r\n"say ""x"", y",\r\n3,\r\n')
  })

  it('defuses what a spreadsheet would run', () => {
    expect(writeCsv([['name'], ['=HYPERLINK("x")']])).toContain('"\'=HYPERLINK')
  })
})

describe('nothing lost, 18: a cell that a spreadsheet would run', () => {
  it.each([
    '=1+1',
    '+1',
    '-1+1',
    '@SUM(A1)',
    '\t=1',
    '\r=1',
    '=1\n+2',
    '-2\r\n"x",y',
    "=cmd|'/c calc'!A0\nmore",
  ])('%j is defused, also with a line break, and read back as text', text => {
    // Read by another library than the writer's.
    const [[cell]] = parse(writeCsv([[text]]), { relax_column_count: true }) as [[string]]
    expect(cell).toBe(`'${text}`)
  })

  it('is no number, and no text that only holds such a character', () => {
    expect(writeCsv([[-1, 'a=b', 'Marrow-Sound']])).toBe('-1,a=b,Marrow-Sound\r\n')
  })
})
