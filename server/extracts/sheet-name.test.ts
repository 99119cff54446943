import ExcelJS from 'exceljs'
import fc from 'fast-check'
import readSheets from 'read-excel-file/node'
import { describe, expect, it } from 'vitest'
import { sheetName } from './workbook'

const LONG = 'Everybody who lives in the house of a case'

describe('the name of a sheet', () => {
  it('is cut to 31 letters, and told apart by a number when two are alike', () => {
    const taken = new Set<string>()
    expect(LONG.length).toBeGreaterThan(40)
    expect(sheetName(LONG, taken)).toBe('Everybody who lives in the hous')
    expect(sheetName(`${LONG} again`, taken)).toBe('Everybody who lives in the ho 2')
    // Programs do not tell capitals apart here.
    expect(sheetName('EVERYBODY WHO LIVES IN THE HOUS', taken)).toBe('EVERYBODY WHO LIVES IN THE HO 3')
  })

  it('has none of the signs that a program refuses, and is never empty', () => {
    expect(sheetName("'Rows: a/b [1]?'", new Set())).toBe('Rows  a b  1')
    expect(sheetName('***', new Set())).toBe('Sheet')
  })

  it('is one that two libraries take, whatever was wanted (exceljs writes it, read-excel-file reads it)', async () => {
    const names = fc.sample(fc.string({ unit: 'grapheme', maxLength: 60 }), { numRuns: 40, seed: 7 })
    const taken = new Set<string>()
    const book = new ExcelJS.Workbook()
    const given = [...names, LONG, LONG].map(name => sheetName(name.replace(/\p{Cc}|\p{Cs}/gu, ''), taken))
    for (const name of given) book.addWorksheet(name).addRow([name])
    const bytes = Buffer.from(await book.xlsx.writeBuffer())
    const sheets = await readSheets(bytes)
    expect(sheets.map(({ sheet }) => sheet)).toEqual(given)
    expect(new Set(given.map(name => name.toLowerCase())).size).toBe(given.length)
    expect(given.filter(name => name.length > 31)).toEqual([])
  })
})
