import { describe, expect, it } from 'vitest'
import { cellsOf, itemsOf } from '#core/report/edition'
import { layOut } from '#core/report/layout'
import { compileRules } from '#core/rule/compile-rules'
import { MONTHLY_SUMMARY } from './edition'

describe('the monthly facility summary', () => {
  it('has 5 sections and about 120 cells, each with a key of its own', () => {
    const cells = cellsOf(MONTHLY_SUMMARY)
    expect(MONTHLY_SUMMARY.sections).toHaveLength(5)
    expect(itemsOf(MONTHLY_SUMMARY).length).toBeGreaterThan(44)
    expect(cells.length).toBeGreaterThan(114)
    expect(new Set(cells.map(cell => cell.key)).size).toBe(cells.length)
  })

  it('says every word in English and French', () => {
    const said = JSON.stringify(MONTHLY_SUMMARY).match(/\{"en":"[^"]*"(,"fr":"[^"]*")?\}/g) ?? []
    expect(said.length).toBeGreaterThan(150)
    expect(said.filter(words => !/"fr":"[^"]+"/.test(words))).toEqual([])
  })

  it('has rules that all compile, the ones over an axis once for each band', () => {
    const compiled = compileRules(MONTHLY_SUMMARY)
    expect(compiled.ok && compiled.value.length).toBe(MONTHLY_SUMMARY.rules.length + 4 * 5 + 1)
    expect(MONTHLY_SUMMARY.rules.length).toBe(40)
  })

  it('lays every cell out once, in paper order', () => {
    const laidOut = MONTHLY_SUMMARY.sections
      .flatMap(section => layOut(MONTHLY_SUMMARY, section))
      .flatMap(block => {
        if (block.kind === 'list') return block.cells
        return block.kind === 'matrix' ? block.rows.flatMap(row => row.cells) : block.rows.flat()
      })
    expect(laidOut.map(cell => cell.key)).toEqual(cellsOf(MONTHLY_SUMMARY).map(cell => cell.key))
  })
})
