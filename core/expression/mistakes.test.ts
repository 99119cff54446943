import { describe, expect, it } from 'vitest'
import { MONTHLY_SUMMARY as edition } from '../../demo/monthly/edition'
import { compile } from './compile'

/** What a person may get wrong, the code of the message, and the part of the text that it points at. */
const CORPUS: [text: string, code: string, at: string][] = [
  ['', 'expression-expected-value', ''],
  ['   ', 'expression-expected-value', ''],
  ['days_open +', 'expression-expected-value', ''],
  ['* 3', 'expression-expected-value', '*'],
  ['days_open days_open', 'expression-trailing', 'days_open'],
  ['(days_open', 'expression-expected', ''],
  ['days_open)', 'expression-trailing', ')'],
  ['deliveries[', 'expression-expected-band', ''],
  ['deliveries[u20', 'expression-expected', ''],
  ['deliveries[3]', 'expression-expected-band', '3'],
  ['days_open # 3', 'expression-sign', '#'],
  ['days_open && true', 'expression-sign', '&'],
  ['"text"', 'expression-sign', '"'],
  ['1 < days_open < 3', 'expression-chained', '<'],
  ['delivries > 3', 'expression-no-item-near', 'delivries'],
  ['moonlight > 3', 'expression-no-item', 'moonlight'],
  ['deliveries[under20] > 3', 'expression-no-band', 'under20'],
  ['deliveries[u21] > 3', 'expression-no-band-near', 'u21'],
  ['days_open[f] > 3', 'expression-no-band', 'f'],
  ['deliveries[u20, a20plus] > 3', 'expression-no-cell', 'deliveries[u20, a20plus]'],
  ['mx(1, 2) > 3', 'expression-no-function-near', 'mx'],
  ['abs() > 3', 'expression-arguments', 'abs()'],
  ['abs(1, 2) > 3', 'expression-arguments', 'abs(1, 2)'],
  ['previous(days_open, 0) > 3', 'expression-periods', '0'],
  ['previous(days_open, 1.5) > 3', 'expression-periods', '1.5'],
  ['previous(days_open, days_open) > 3', 'expression-periods', 'days_open'],
  ['days_open and true', 'expression-needs-truth', 'days_open'],
  ['not days_open', 'expression-needs-truth', 'days_open'],
  ['(days_open > 3) + 1 > 2', 'expression-needs-number', 'days_open > 3'],
  ['days_open', 'expression-needs-truth', 'days_open'],
  ['toString > 3', 'expression-no-item', 'toString'],
  ['toString(1) > 3', 'expression-no-function', 'toString'],
]

describe('mistakes', () => {
  it.each(CORPUS)('“%s” is told as %s at “%s”', (text, code, at) => {
    const result = compile(text, edition, 'truth')
    expect(result.ok).toBe(false)
    if (result.ok) return
    const problem = result.problems[0]!
    expect(problem.code).toBe(code)
    expect(problem.message.length).toBeGreaterThan(10)
    const place = problem.at as { start: number; end: number }
    const pointed = text.slice(place.start, place.end)
    // A place in the middle is the last such word of the text.
    expect(pointed).toBe(at)
  })

  it('names the nearest known word', () => {
    const result = compile('delivries > 3', edition)
    expect(!result.ok && result.problems[0]!.message).toContain('“deliveries”')
  })

  it('reports every unknown name, not only the first', () => {
    const result = compile('delivries > moonlight', edition)
    expect(!result.ok && result.problems.map(({ code }) => code)).toEqual(['expression-no-item-near', 'expression-no-item'])
  })

  it.each([['brackets', '('.repeat(10_000)], ['signs', `${'-'.repeat(1_900)}1`], ['denials', `${'not '.repeat(400)}true`]])('stops at too many %s', (_, text) => {
    const result = compile(text.slice(0, 2_000), edition)
    expect(!result.ok && result.problems[0]!.code).toBe('expression-too-deep')
    expect(compile(`${text}${' '.repeat(2_000)}`, edition)).toMatchObject({ ok: false, problems: [{ code: 'expression-too-long' }] })
  })
})
